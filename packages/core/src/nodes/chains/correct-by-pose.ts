import { localsOf } from '../../chains/chain.ts';
import { turnAngle } from '../../chains/blend-poses.ts';
import { withPositions } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue, numberValue } from '../../graph/node/values.ts';
import { matrixAt } from '../../maths/matrix.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { MESH_IN, MESH_OUT, numberPort, text, WEIGHT_IN } from '../ports.ts';
import { packWeights } from '../../chains/skin-weights.ts';
import { skinMatrices } from '../../chains/skin.ts';
import { CHAIN_IN, jointSetting, needChain, needJoint } from './joints.ts';

const JOINT = jointSetting('joint', 'Joint', 'The joint whose turn from rest brings the correction in.');

export const correctByPose: NodeDefinition = {
  id: 'correct-by-pose',
  version: 1,
  title: 'Correct By Pose',
  group: 'Chains',
  summary: 'Moves points of a skinned mesh by offsets that come in as a joint bends.',
  keywords: ['corrective', 'sculpt', 'elbow', 'bulge', 'pose driven'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh after its skin.' },
    CHAIN_IN,
    {
      id: 'offset',
      label: 'offset',
      kind: 'vector',
      unit: 'm',
      help: 'How far each point goes when it is all in, as the mesh rests: from Hand Offsets, or any column.',
    },
    numberPort('from', 'begins', '°', 0, [0, 180], 'The angle from rest where it begins.'),
    numberPort('to', 'all in', '°', 90, [0, 180], 'The angle where it is all in.'),
    { ...WEIGHT_IN, id: 'weight' },
  ],
  outputs: () => [
    MESH_OUT,
    {
      id: 'angle',
      label: 'angle',
      kind: 'number',
      unit: '°',
      help: 'How far the joint is turned from rest, as its parent sees it.',
    },
    { id: 'amount', label: 'amount', kind: 'number', help: 'How much of the offsets is in.' },
  ],
  settings: [
    JOINT,
    {
      id: 'response',
      label: 'Comes in',
      type: 'response',
      default: RESPONSE_PRESETS.Straight ?? { points: [], invert: false },
      help: 'How it comes in between the two angles.',
    },
  ],
  sentence: (s) => `as ${text(s, 'joint') || 'no joint yet'} bends`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const chain = needChain(context);
    const joint = needJoint(context, chain, JOINT);
    const [now, rest] = [localsOf(chain.parents, chain.posed), localsOf(chain.parents, chain.rest)];
    const angle = turnAngle(matrixAt(rest, joint), matrixAt(now, joint)) / RADIANS_PER_DEGREE;
    const [from, to] = [context.number('from'), context.number('to')];
    const at = to > from ? Math.min(1, Math.max(0, (angle - from) / (to - from))) : angle >= to ? 1 : 0;
    const amount = respond(compileResponse(context.settings.response as Response), at);
    const count = mesh.topology.pointCount;
    const offset = context.lane('offset', 'vector', count);
    const weight = context.view('weight', 'number', count);
    const packed = packWeights(mesh, chain);
    const { matrices } = skinMatrices(chain);
    const out = context.floats(count * 3);
    const m = new Float64Array(9);
    for (let p = 0, o = 0; p < count; p++, o += 3) {
      const w = amount * weight.data[p * weight.step];
      // Offsets are made at rest and turn with the skin.
      m.fill(0);
      const [start, end] = [packed.starts[p], packed.starts[p + 1]];
      for (let k = start; k < end; k++)
        for (let c = 0; c < 3; c++)
          for (let r = 0; r < 3; r++) m[c * 3 + r] += packed.weights[k] * matrices[packed.joints[k] * 16 + c * 4 + r];
      if (start === end) m[0] = m[4] = m[8] = 1;
      const [x, y, z] = [offset[o], offset[o + 1], offset[o + 2]];
      for (let r = 0; r < 3; r++) out[o + r] = mesh.positions[o + r] + w * (m[r] * x + m[3 + r] * y + m[6 + r] * z);
    }
    return { mesh: meshValue(withPositions(mesh, out)), angle: numberValue(angle), amount: numberValue(amount) };
  },
};
