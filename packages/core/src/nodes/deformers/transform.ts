import type { InputPort, NodeDefinition } from '../../graph/definition.ts';
import { NodeError } from '../../graph/problems.ts';
import { meshValue, type Single } from '../../graph/values.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { compose, identity, transformPacked } from '../../maths/matrix.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
import { scale, type Vec3 } from '../../maths/vector.ts';
import { MESH_IN, MESH_OUT, ROTATION_ORDER, WEIGHT_IN } from '../ports.ts';

const port = (id: string, label: string, unit: string | undefined, value: number, range: [number, number], help: string): InputPort => ({
  id, label, kind: 'vector', unit, default: [value, value, value], range: { min: range[0], max: range[1] }, uniform: true, help,
}); // prettier-ignore

export const transform: NodeDefinition = {
  id: 'transform',
  version: 1,
  title: 'Transform',
  group: 'Deformers',
  summary: 'Sizes, turns and then moves all points about the world origin, under a weight.',
  keywords: ['translate', 'rotate', 'scale', 'move', 'turn', 'size'],
  inputs: () => [
    MESH_IN,
    port('translate', 'move', 'm', 0, [-5, 5], 'How far to move along world x, y and z; applied last.'),
    port('rotate', 'turn', '°', 0, [-180, 180], 'Turns about world x, y and z, in the order of the setting.'),
    port('scale', 'size', undefined, 1, [0, 3], 'Size along world x, y and z; applied first.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
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
  sentence: (s) => `about the world origin${s.mix === 'straight' ? ', straight' : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const vector = (id: string): Vec3 => {
      const v = context.input(id) as Single;
      if (v.form !== 'single') throw new NodeError({ code: 'needs-single', port: id, count: 0 });
      return v.data.length === 3 ? [v.data[0], v.data[1], v.data[2]] : [v.data[0], v.data[0], v.data[0]];
    };
    const t = vector('translate');
    const angles = scale(vector('rotate'), RADIANS_PER_DEGREE);
    const size = vector('scale');
    const order = context.settings.order as RotationOrder;
    const source = mesh.positions;
    const out = context.floats(source.length);
    const weightInput = context.input('weight');
    if (weightInput?.form === 'single' && weightInput.data[0] === 1) {
      transformPacked(out, source, compose(t, angles, order, size), 'position');
      return { mesh: meshValue(withPositions(mesh, out)) };
    }
    const weight = context.lane('weight', 'number', mesh.topology.pointCount);
    const straight = context.settings.mix === 'straight';
    let m = straight ? compose(t, angles, order, size) : identity();
    for (let i = 0, o = 0; i < weight.length; i++, o += 3) {
      if (i % 4096 === 0) context.checkpoint();
      const w = weight[i];
      if (!straight) {
        m = compose(scale(t, w), scale(angles, w), order, [
          1 + (size[0] - 1) * w,
          1 + (size[1] - 1) * w,
          1 + (size[2] - 1) * w,
        ]);
      }
      const mix = straight ? w : 1;
      const x = source[o], y = source[o + 1], z = source[o + 2]; // prettier-ignore
      out[o] = x + mix * (m[0] * x + m[4] * y + m[8] * z + m[12] - x);
      out[o + 1] = y + mix * (m[1] * x + m[5] * y + m[9] * z + m[13] - y);
      out[o + 2] = z + mix * (m[2] * x + m[6] * y + m[10] * z + m[14] - z);
    }
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
