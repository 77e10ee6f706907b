import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { axisOf, axisSetting, choiceSetting, MESH_IN, MESH_OUT, numberPort, text, WEIGHT_IN, typedWords } from '../ports.ts';

export const bend: NodeDefinition = {
  id: 'bend',
  version: 1,
  title: 'Bend',
  group: 'Deformers',
  summary: 'Bends a mesh along an axis into an arc, keeping the length of its middle.',
  keywords: ['curl', 'arc', 'bow'],
  inputs: () => [
    MESH_IN,
    numberPort('angle', 'angle', '°', 60, [-360, 360], 'How far the far end is turned against the near one.'),
    numberPort('from', 'from', undefined, 0, [0, 1], 'Fraction of the length where the bend begins.'),
    numberPort('to', 'to', undefined, 1, [0, 1], 'Fraction where it ends; beyond it goes on straight.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    axisSetting('y', 'The direction that is bent; it runs through the middle of the bounds.'),
    choiceSetting(
      'towards',
      'Towards',
      [
        ['first', 'The next axis'],
        ['second', 'The one after'],
      ],
      'Where it bends to: of x, y, z in a circle.',
    ),
  ],
  sentence: (s, c) => `along ${text(s, 'axis')}, ${typedWords(c, 'angle')}°`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const p = mesh.positions;
    const axis = axisOf(context.settings);
    const u = (axis + (context.settings.towards === 'second' ? 2 : 1)) % 3;
    const bounds = knownBounds(p);
    const middle = boundsCentre(bounds)[u];
    const low = bounds.low[axis];
    const span = Math.max(0, bounds.high[axis] - low);
    const begin = low + span * context.number('from');
    const length = span * (context.number('to') - context.number('from'));
    const whole = (context.number('angle') * Math.PI) / 180;
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const out = context.floats(p.length);
    const v = 3 - axis - u;
    let size = 0;
    for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
      if ((i & 65535) === 0) context.checkpoint();
      // By the weight the angle grows, not a straight line between two places.
      const angle = whole * weight[i * step];
      const h = p[o + axis] - begin;
      const d = p[o + u] - middle;
      out[o] = p[o];
      out[o + 1] = p[o + 1];
      out[o + 2] = p[o + 2];
      if (!(length > 0) || Math.abs(angle) < 1e-9 || h <= 0) {
        size += Math.abs(p[o]) + Math.abs(p[o + 1]) + Math.abs(p[o + 2]);
        continue;
      }
      const within = Math.min(h, length);
      const a = (angle * within) / length;
      const radius = length / angle;
      const c = Math.cos(a);
      const s = Math.sin(a);
      const beyond = h - within;
      const x = begin + (radius - d) * s + beyond * c;
      const y = middle + radius - (radius - d) * c + beyond * s;
      out[o + axis] = x;
      out[o + u] = y;
      size += Math.abs(x) + Math.abs(y) + Math.abs(p[o + v]);
    }
    tellFinite(out, size);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
