import { inverseOf } from '../../constraints/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue, vectorValue, type Value } from '../../graph/node/values.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { turnFaces } from '../../geometry/turn.ts';
import { isMirroring, product, transformPacked, translation, type Matrix } from '../../maths/matrix.ts';
import { compose } from '../../maths/factors.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
import { ONE, scale, ZERO, type Vec3 } from '../../maths/vector.ts';
import { pivotInputs, pivotOf, PIVOT_SETTINGS, pivotWords, readsPivot } from '../pivots.ts';
import { choiceSetting, MESH_IN, MESH_OUT, ROTATION_ORDER, singleVector, vectorPort, WEIGHT_IN } from '../ports.ts';

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
    const weightInput = context.input('weight');
    if (weightInput?.form === 'single' && weightInput.data[0] === 1) {
      const m = at(1);
      transformPacked(out, source, m, 'position');
      return { mesh: moved(mesh, out, isMirroring(m)), pivot: vectorValue(pivot) };
    }
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const straight = context.settings.mix === 'straight';
    let m = at(1);
    let weighed = 1;
    let mirrored = 0;
    for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
      if (i % 4096 === 0) context.checkpoint();
      const w = weight[i * step];
      // Most points have the weight of their neighbour: all or nothing.
      if (!straight && w !== weighed) m = at((weighed = w));
      const mix = straight ? w : 1;
      if (isMirroring(m, mix)) mirrored++;
      const x = source[o],
        y = source[o + 1],
        z = source[o + 2];
      out[o] = x + mix * (m[0] * x + m[4] * y + m[8] * z + m[12] - x);
      out[o + 1] = y + mix * (m[1] * x + m[5] * y + m[9] * z + m[13] - y);
      out[o + 2] = z + mix * (m[2] * x + m[6] * y + m[10] * z + m[14] - z);
    }
    const all = pointCount > 0 && mirrored === pointCount;
    return { mesh: moved(mesh, out, all), pivot: vectorValue(pivot) };
  },
};

/** A mesh at other places; mirrored as a whole, its faces are turned round so that its outside stays outside. */
function moved(mesh: Mesh, positions: Float32Array, mirrored: boolean): Value {
  const there = withPositions(mesh, positions);
  return meshValue(mirrored ? turnFaces(there) : there);
}
