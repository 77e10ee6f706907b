import { inverseOf } from '../../constraints/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue, vectorValue, type Value } from '../../graph/node/values.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { turnFaces } from '../../geometry/turn.ts';
import { tellFinite } from '../../maths/finite.ts';
import { isMirroring, product, translation, type Matrix } from '../../maths/matrix.ts';
import { compose } from '../../maths/factors.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
import { ONE, scale, ZERO, type Vec3 } from '../../maths/vector.ts';
import { pivotInputs, pivotOf, PIVOT_SETTINGS, pivotWords, readsPivot } from '../pivots.ts';
import { choiceSetting, MESH_IN, MESH_OUT, ROTATION_ORDER, singleVector, vectorPort, WEIGHT_IN } from '../ports.ts';
import { byRunsOfWeight } from './weight-runs.ts';

/** The three steps, in the order in which they are applied. */
const SEQUENCE = choiceSetting(
  'sequence',
  'First',
  [
    ['srt', 'Size, turn, move'],
    ['str', 'Size, move, turn'],
    ['rst', 'Turn, size, move'],
    ['rts', 'Turn, move, size'],
    ['tsr', 'Move, size, turn'],
    ['trs', 'Move, turn, size'],
  ],
  'The order in which it sizes, turns and moves.',
);

/** One matrix for move, turn (radians) and size, in a sequence. */
function inSequence(sequence: string, t: Vec3, angles: Vec3, order: RotationOrder, size: Vec3): Matrix {
  if (sequence === 'srt') return compose(t, angles, order, size);
  const steps: Record<string, () => Matrix> = {
    s: () => compose(ZERO, ZERO, order, size),
    r: () => compose(ZERO, angles, order, ONE),
    t: () => translation(t),
  };
  return product(...[...sequence].reverse().map((step) => steps[step]()));
}

export const transform: NodeDefinition = {
  id: 'transform',
  version: 1,
  title: 'Transform',
  group: 'Deformers',
  summary: 'Sizes, turns and moves all points of a mesh about a pivot of its own, under a weight.',
  keywords: ['translate', 'rotate', 'scale', 'move', 'turn', 'size'],
  inputs: (s) => [
    MESH_IN,
    vectorPort('translate', 'move', 'm', 0, [-5, 5], 'How far to move along the pivot’s axes.'),
    vectorPort('rotate', 'turn', '°', 0, [-180, 180], 'Turns about the pivot’s axes, in the order of the setting.'),
    vectorPort('scale', 'size', undefined, 1, [0, 3], 'Size along the pivot’s axes.'),
    vectorPort('pivotTurn', 'pivot turn', '°', 0, [-180, 180], 'How the pivot’s axes are turned from those of the world.'),
    ...pivotInputs(s),
    WEIGHT_IN,
  ],
  outputs: () => [
    MESH_OUT,
    { id: 'pivot', label: 'pivot', kind: 'vector', unit: 'm', help: 'The place it turns and sizes about.' },
  ],
  settings: [
    ...PIVOT_SETTINGS,
    SEQUENCE,
    ROTATION_ORDER,
    {
      id: 'mix',
      label: 'Weight mixes',
      type: 'choice',
      options: [
        { value: 'parameters', label: 'Move, turn and size' },
        { value: 'straight', label: 'Positions, straight' },
      ],
      default: 'parameters',
      help: 'What half a weight means: half the turn, or half way along a straight line (which collapses at half a turn).',
    },
  ],
  handle: true,
  sentence: (s, c) => `about ${pivotWords(s, c)}${s.mix === 'straight' ? ', straight' : ''}`,
  reads: readsPivot,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const t = singleVector(context, 'translate');
    const angles = scale(singleVector(context, 'rotate'), RADIANS_PER_DEGREE);
    const size = singleVector(context, 'scale');
    const order = context.settings.order as RotationOrder;
    const sequence = String(context.settings.sequence);
    const pivot = pivotOf(context, mesh);
    const turned = compose(pivot, scale(singleVector(context, 'pivotTurn'), RADIANS_PER_DEGREE), 'xyz', ONE);
    const back = inverseOf(turned);
    if (!back) throw new NodeError({ code: 'pivot-not-finite' });
    /** The whole change at a weight, about the pivot. */
    const at = (w: number): Matrix => {
      const sizeAt = size.map((v) => 1 + (v - 1) * w) as unknown as Vec3;
      return product(turned, inSequence(sequence, scale(t, w), scale(angles, w), order, sizeAt), back);
    };
    const source = mesh.positions;
    const out = context.room(source.length);
    const { pointCount } = mesh.topology;
    const weight = context.view('weight', 'number', pointCount);
    const straight = context.settings.mix === 'straight';
    const whole = at(1);
    let mirrored = 0;
    const written = byRunsOfWeight(weight, pointCount, context.checkpoint, (w, from, to) => {
      const m = straight || w === 1 ? whole : at(w);
      const mix = straight ? w : 1;
      if (isMirroring(m, mix)) mirrored += to - from;
      return mix === 1 ? transformPoints(out, source, m, from, to) : mixPoints(out, source, m, mix, from, to);
    });
    tellFinite(out, written);
    const all = pointCount > 0 && mirrored === pointCount;
    return { mesh: moved(mesh, out, all), pivot: vectorValue(pivot) };
  },
};

/** Takes points through a matrix; gives the sum of what it wrote, without signs. */
function transformPoints(out: Float32Array, p: Readonly<Float32Array>, m: Readonly<Matrix>, from: number, to: number): number {
  const m0 = m[0],
    m1 = m[1],
    m2 = m[2],
    m4 = m[4],
    m5 = m[5],
    m6 = m[6],
    m8 = m[8],
    m9 = m[9],
    m10 = m[10],
    m12 = m[12],
    m13 = m[13],
    m14 = m[14];
  let size = 0;
  for (let o = from * 3; o < to * 3; o += 3) {
    const x = p[o],
      y = p[o + 1],
      z = p[o + 2];
    const a = m0 * x + m4 * y + m8 * z + m12;
    const b = m1 * x + m5 * y + m9 * z + m13;
    const c = m2 * x + m6 * y + m10 * z + m14;
    out[o] = a;
    out[o + 1] = b;
    out[o + 2] = c;
    size += Math.abs(a) + Math.abs(b) + Math.abs(c);
  }
  return size;
}

/** The same, but only part of the straight way there. */
function mixPoints(
  out: Float32Array,
  p: Readonly<Float32Array>,
  m: Readonly<Matrix>,
  mix: number,
  from: number,
  to: number,
): number {
  const m0 = m[0],
    m1 = m[1],
    m2 = m[2],
    m4 = m[4],
    m5 = m[5],
    m6 = m[6],
    m8 = m[8],
    m9 = m[9],
    m10 = m[10],
    m12 = m[12],
    m13 = m[13],
    m14 = m[14];
  let size = 0;
  for (let o = from * 3; o < to * 3; o += 3) {
    const x = p[o],
      y = p[o + 1],
      z = p[o + 2];
    const a = x + mix * (m0 * x + m4 * y + m8 * z + m12 - x);
    const b = y + mix * (m1 * x + m5 * y + m9 * z + m13 - y);
    const c = z + mix * (m2 * x + m6 * y + m10 * z + m14 - z);
    out[o] = a;
    out[o + 1] = b;
    out[o + 2] = c;
    size += Math.abs(a) + Math.abs(b) + Math.abs(c);
  }
  return size;
}

/** A mesh at other places; mirrored as a whole, its faces are turned round so that its outside stays outside. */
function moved(mesh: Mesh, positions: Float32Array, mirrored: boolean): Value {
  const there = withPositions(mesh, positions);
  return meshValue(mirrored ? turnFaces(there) : there);
}
