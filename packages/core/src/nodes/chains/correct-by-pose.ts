import { localsOf } from '../../chains/chain.ts';
import { turnAngle } from '../../chains/blend-poses.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { fromRest, turnOf } from '../../chains/limits.ts';
import { radialWeights } from '../../chains/radial-poses.ts';
import type { InputPort, LaneView, NodeContext, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue, numberValue } from '../../graph/node/values.ts';
import { tellFinite } from '../../maths/finite.ts';
import { identity, invert, matrixAt } from '../../maths/matrix.ts';
import { quaternionFromEuler, RADIANS_PER_DEGREE, type Quaternion } from '../../maths/rotation.ts';
import { scale } from '../../maths/vector.ts';
import { counted } from '../../words.ts';
import { numberWithin, rangeBetween } from '../within.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { choiceSetting, MESH_IN, MESH_OUT, numberPort, singleVector, text, vectorPort, WEIGHT_IN } from '../ports.ts';
import { packWeights, type PackedWeights } from '../../chains/skin-weights.ts';
import { skinPose } from '../../chains/skin.ts';
import { CHAIN_IN, jointSetting, needChain, needJoint } from './joints.ts';

const JOINT = jointSetting('joint', 'Joint', 'The joint whose turn from rest brings the correction in.');
const BY = choiceSetting(
  'by',
  'By',
  [
    ['angle', 'The angle from rest'],
    ['poses', 'Nearness to poses'],
  ],
  'The angle: one set of offsets comes in as the joint bends, to whatever side. Poses: each has offsets, all in where the joint is turned so and none in the other poses.',
);
const MOST = 6;
/** Six turns that are apart, to begin with. */
const FRESH: readonly [number, number, number][] = [
  [0, 0, 90],
  [0, 0, -90],
  [90, 0, 0],
  [-90, 0, 0],
  [0, 90, 0],
  [0, -90, 0],
];
const poseAt = (i: number): InputPort => ({
  ...vectorPort(
    `turn${i + 1}`,
    `pose ${i + 1}`,
    '°',
    0,
    [-180, 180],
    'The turn of the joint in this pose, about x, then y, then z, as the table of the chain tells it.',
  ),
  default: FRESH[i],
});
const byPoses = (s: Settings) => s.by === 'poses';
const countOf = (s: Settings) => Math.min(MOST, Math.max(1, Math.round(Number(s.poses) || 1)));
const offsetPort = (id: string, label: string, when: string): InputPort => ({
  ...{ id, label, kind: 'vector', unit: 'm' },
  help: `How far each point goes ${when}, as the mesh rests: from Hand Offsets, or any column.`,
});

export const correctByPose: NodeDefinition = {
  id: 'correct-by-pose',
  version: 1,
  title: 'Correct By Pose',
  group: 'Chains',
  summary: 'Moves points of a skinned mesh by offsets that come in as a joint bends.',
  keywords: ['corrective', 'sculpt', 'elbow', 'bulge', 'pose driven'],
  inputs: (s): InputPort[] => [
    { ...MESH_IN, help: 'The mesh after its skin.' },
    CHAIN_IN,
    ...(byPoses(s)
      ? [
          ...Array.from({ length: countOf(s) }, (_, i) => [
            poseAt(i),
            offsetPort(`offset${i + 1}`, `offset ${i + 1}`, 'in this pose'),
          ]).flat(),
          numberPort('reach', 'reach', '°', 90, [1, 180], 'How far from a pose its offsets still count.'),
        ]
      : [
          offsetPort('offset', 'offset', 'when it is all in'),
          numberPort('from', 'begins', '°', 0, [0, 180], 'The angle from rest where it begins.'),
          numberPort('to', 'all in', '°', 90, [0, 180], 'The angle where it is all in.'),
        ]),
    { ...WEIGHT_IN, id: 'weight' },
  ],
  outputs: (s) => [
    MESH_OUT,
    {
      id: 'angle',
      label: 'angle',
      kind: 'number',
      unit: '°',
      help: 'How far the joint is turned from rest, as its parent sees it.',
    },
    ...(byPoses(s)
      ? Array.from({ length: countOf(s) }, (_, i) => ({
          ...{ id: `amount${i + 1}`, label: `amount ${i + 1}`, kind: 'number' as const },
          help: 'How much of the offsets of this pose is in.',
        }))
      : [{ id: 'amount', label: 'amount', kind: 'number' as const, help: 'How much of the offsets is in.' }]),
  ],
  settings: [
    JOINT,
    BY,
    {
      ...{ id: 'poses', label: 'Poses', type: 'number', whole: true, default: 2, range: { min: 1, max: MOST, hard: true } },
      help: 'How many poses have offsets of their own.',
      shown: byPoses,
    },
    {
      id: 'response',
      label: 'Comes in',
      type: 'response',
      default: RESPONSE_PRESETS.Straight ?? { points: [], invert: false },
      help: 'How it comes in between the two angles.',
      shown: (s) => !byPoses(s),
    },
  ],
  sentence: (s) => `as ${text(s, 'joint') || 'no joint yet'} ${byPoses(s) ? `nears ${counted(countOf(s), 'pose')}` : 'bends'}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const chain = needChain(context);
    const joint = needJoint(context, chain, JOINT);
    const [now, rest] = [localsOf(chain.parents, chain.posed), localsOf(chain.parents, chain.rest)];
    const angle = turnAngle(matrixAt(rest, joint), matrixAt(now, joint)) / RADIANS_PER_DEGREE;
    const count = mesh.topology.pointCount;
    // A joint that is flat has no turn that could be told.
    const isFlat = [now, rest].some((locals) => !invert(identity(), matrixAt(locals, joint)));
    if (isFlat) context.report({ code: 'joint-flat', joint: chain.names[joint], severity: 'warning' });
    const amounts = isFlat
      ? Array.from({ length: byPoses(context.settings) ? countOf(context.settings) : 1 }, () => 0)
      : byPoses(context.settings)
        ? amountsOf(context, chain.names[joint], turnOf(matrixAt(rest, joint)), turnOf(matrixAt(now, joint)))
        : [amountAt(context, angle)];
    const offset = offsetsOf(context, amounts, count);
    const weight = context.view('weight', 'number', count);
    const packed = packWeights(mesh, chain);
    const { matrices } = skinPose(chain);
    const out = context.room(count * 3);
    tellFinite(out, moveWithSkin(out, mesh.positions, offset, weight, packed, matrices));
    const told = byPoses(context.settings)
      ? Object.fromEntries(amounts.map((a, i) => [`amount${i + 1}`, numberValue(a)]))
      : { amount: numberValue(amounts[0]) };
    return { mesh: meshValue(withPositions(mesh, out)), angle: numberValue(angle), ...told };
  },
};

/** Offsets, xyz × count, and how much of them is in. */
interface Offsets {
  readonly data: Readonly<Float32Array>;
  readonly amount: number;
}

/**
 * Offsets are made at rest and turn with the skin: by the mixed matrices of the joints that move a point.
 * @returns the sum of what it wrote, without signs
 */
function moveWithSkin(
  out: Float32Array,
  p: Readonly<Float32Array>,
  { data: offset, amount }: Offsets,
  { data: weight, step }: LaneView,
  { starts, joints, weights }: PackedWeights,
  matrices: Readonly<Float64Array>,
): number {
  let written = 0;
  for (let i = 0, count = (out.length / 3) | 0; i < count; i++) {
    const o = (i * 3) & 0x3fffffff;
    const x = Math.fround(amount * offset[o]),
      y = Math.fround(amount * offset[o + 1]),
      z = Math.fround(amount * offset[o + 2]);
    const start = starts[i];
    const end = starts[i + 1];
    let mx = 0,
      my = 0,
      mz = 0;
    for (let k = start; k < end; k++) {
      const w = weights[k];
      // Cut off at 30 bits, as above: sums of it then need not be looked at for overflow.
      const m = (joints[k] * 16) & 0x3fffffff;
      mx += w * (matrices[m] * x + matrices[m + 4] * y + matrices[m + 8] * z);
      my += w * (matrices[m + 1] * x + matrices[m + 5] * y + matrices[m + 9] * z);
      mz += w * (matrices[m + 2] * x + matrices[m + 6] * y + matrices[m + 10] * z);
    }
    const stays = start === end;
    const w = weight[i * step];
    mx = p[o] + w * (stays ? x : mx);
    my = p[o + 1] + w * (stays ? y : my);
    mz = p[o + 2] + w * (stays ? z : mz);
    out[o] = mx;
    out[o + 1] = my;
    out[o + 2] = mz;
    written += Math.abs(mx) + Math.abs(my) + Math.abs(mz);
  }
  return written;
}

/** How much is in at an angle. */
function amountAt(context: NodeContext, angle: number): number {
  const [from, to] = rangeBetween(context, 'from', 'to');
  const at = to > from ? Math.min(1, Math.max(0, (angle - from) / (to - from))) : angle >= to ? 1 : 0;
  return respond(compileResponse(context.settings.response as Response), at);
}

/** How much of each pose is in. @throws NodeError where poses are the same */
function amountsOf(context: NodeContext, joint: string, rest: Quaternion, now: Quaternion): number[] {
  const turns = Array.from({ length: countOf(context.settings) }, (_, i) => {
    const degrees = singleVector(context, `turn${i + 1}`);
    if (!degrees.every(Number.isFinite)) throw new NodeError({ code: 'input-not-finite', port: `pose ${i + 1}` });
    return fromRest(rest, quaternionFromEuler(scale(degrees, RADIANS_PER_DEGREE), 'xyz'));
  });
  const reach = numberWithin(context, 'reach', 1, 360) || 90;
  const found = radialWeights(fromRest(rest, now), turns, reach * RADIANS_PER_DEGREE);
  if (!found) throw new NodeError({ code: 'poses-one', joint });
  return found;
}

/** The offsets that are in: those of one pose as they came, of several together. */
function offsetsOf(context: NodeContext, amounts: readonly number[], count: number): Offsets {
  const lane = (i: number) => context.lane(byPoses(context.settings) ? `offset${i + 1}` : 'offset', 'vector', count);
  const isIn = amounts.flatMap((amount, i) => (amount === 0 ? [] : [i]));
  if (isIn.length === 1) return { data: lane(isIn[0]), amount: amounts[isIn[0]] };
  const sum = context.scratch(count * 3).fill(0);
  for (const i of isIn) {
    const [offset, amount] = [lane(i), amounts[i]];
    for (let k = 0; k < sum.length; k++) sum[k] += amount * offset[k];
  }
  return { data: sum, amount: 1 };
}
