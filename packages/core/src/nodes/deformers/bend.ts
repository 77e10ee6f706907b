import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { axisOf, axisSetting, choiceSetting, MESH_IN, MESH_OUT, numberPort, text, WEIGHT_IN, typedWords } from '../ports.ts';
import { rangeBetween } from '../within.ts';
import { byRunsOfWeight } from './weight-runs.ts';

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
    numberPort(
      'to',
      'to',
      undefined,
      1,
      [0, 1],
      'Fraction where it ends; beyond it goes on straight. The same as from makes a fold.',
    ),
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
    const [from, to] = rangeBetween(context, 'from', 'to');
    const begin = low + span * from;
    const length = span * (to - from);
    const whole = (context.number('angle') * Math.PI) / 180;
    const { pointCount } = mesh.topology;
    const weight = context.view('weight', 'number', pointCount);
    const out = context.room(p.length);
    const line = { axis, u, begin, length, middle };
    // By the weight the angle grows, not a straight line between two places.
    const size = byRunsOfWeight(weight, pointCount, context.checkpoint, (w, first, end) =>
      bendPoints(out, p, first, end, whole * w, line),
    );
    tellFinite(out, size);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

/** What is bent: from `begin` along an axis over a length, towards `u`, about the middle. */
interface Line {
  readonly axis: number;
  readonly u: number;
  readonly begin: number;
  readonly length: number;
  readonly middle: number;
}

/** Bends points by an angle (radians, for the whole length; of no length, a fold); gives the sum of what it wrote, without signs. */
function bendPoints(
  out: Float32Array,
  p: Readonly<Float32Array>,
  from: number,
  to: number,
  angle: number,
  { axis, u, begin, length, middle }: Line,
): number {
  const v = 3 - axis - u;
  const stays = !(length >= 0) || Math.abs(angle) < 1e-9;
  const radius = length / angle;
  let size = 0;
  for (let o = from * 3; o < to * 3; o += 3) {
    const h = p[o + axis] - begin;
    const d = p[o + u] - middle;
    const side = p[o + v];
    let x = p[o + axis];
    let y = p[o + u];
    if (!stays && !(h <= 0)) {
      const within = h < length ? h : length;
      const a = length > 0 ? (angle * within) / length : angle;
      const c = Math.cos(a);
      const s = Math.sin(a);
      const beyond = h - within;
      x = begin + (radius - d) * s + beyond * c;
      y = middle + radius - (radius - d) * c + beyond * s;
    }
    out[o + axis] = x;
    out[o + u] = y;
    out[o + v] = side;
    size += Math.abs(x) + Math.abs(y) + Math.abs(side);
  }
  return size;
}
