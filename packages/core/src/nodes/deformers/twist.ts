import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN, text } from '../ports.ts';
import { rangeBetween } from '../within.ts';

const AXES = { x: 0, y: 1, z: 2 } as const;

export const twist: NodeDefinition = {
  id: 'twist',
  version: 1,
  title: 'Twist',
  group: 'Deformers',
  summary: 'Turns points about an axis through the middle of the mesh, more and more along its length.',
  keywords: ['wring', 'screw', 'turn', 'roll'],
  inputs: () => [
    MESH_IN,
    {
      id: 'angle',
      label: 'angle',
      kind: 'number',
      unit: '°',
      default: 90,
      range: { min: -360, max: 360 },
      uniform: true,
      help: 'How far the far end is turned against the near end.',
    },
    {
      id: 'from',
      label: 'from',
      kind: 'number',
      default: 0,
      range: { min: 0, max: 1 },
      uniform: true,
      help: 'Fraction of the length where the turn begins; before it nothing turns.',
    },
    {
      id: 'to',
      label: 'to',
      kind: 'number',
      default: 1,
      range: { min: 0, max: 1 },
      uniform: true,
      help: 'Fraction of the length where the turn is whole; beyond it all turns alike. The same as from makes a step.',
    },
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'axis',
      label: 'Axis',
      type: 'choice',
      options: ['x', 'y', 'z'].map((value) => ({ value, label: `World ${value}` })),
      default: 'y',
      help: 'The direction of the axis; it runs through the middle of the bounds that come in.',
    },
  ],
  sentence: (s, c) =>
    `about ${text(s, 'axis')}${typeof c.typed('angle') === 'number' && !c.connected('angle') ? `, ${String(c.typed('angle'))}°` : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const p = mesh.positions;
    const axis = AXES[text(context.settings, 'axis') as keyof typeof AXES] ?? 1;
    const u = (axis + 1) % 3;
    const v = (axis + 2) % 3;
    const bounds = knownBounds(p);
    const centre = boundsCentre(bounds);
    const low = bounds.low[axis];
    const length = bounds.high[axis] - low;
    const whole = (context.number('angle') * Math.PI) / 180;
    const [from, to] = rangeBetween(context, 'from', 'to');
    const span = to - from;
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const out = context.room(p.length);
    const [cu, cv] = [centre[u], centre[v]];
    let size = 0;
    for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
      if ((i & 65535) === 0) context.checkpoint();
      const t = length > 0 ? (p[o + axis] - low) / length : 0;
      const way = span !== 0 ? (t - from) / span : t >= from ? 1 : 0;
      const part = way > 0 ? (way < 1 ? way : 1) : way <= 0 ? 0 : way;
      const angle = whole * part * weight[i * step];
      const c = Math.cos(angle);
      const s = Math.sin(angle);
      const a = p[o + u] - cu;
      const b = p[o + v] - cv;
      const h = p[o + axis];
      const x = cu + a * c - b * s;
      const y = cv + a * s + b * c;
      out[o + axis] = h;
      out[o + u] = x;
      out[o + v] = y;
      size += Math.abs(h) + Math.abs(x) + Math.abs(y);
    }
    tellFinite(out, size);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
