import { isToldFinite, tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { copiesValue } from '../../graph/node/values.ts';
import { choiceSetting, COPIES_IN, COPIES_OUT, WEIGHT_IN } from '../ports.ts';
import type { Copies } from '../../copies/copies.ts';

export const editCopies: NodeDefinition = {
  id: 'edit-copies',
  version: 1,
  title: 'Edit Copies',
  group: 'Copies',
  summary: 'Sizes, turns, leans and moves copies, each about its own place, by columns or a falloff; colours them.',
  keywords: ['instance', 'scale', 'rotate', 'lean', 'colour'],
  inputs: () => [
    COPIES_IN,
    {
      id: 'scale',
      label: 'size',
      kind: 'number',
      default: 1,
      range: { min: 0, max: 3 },
      help: 'Size at full weight: one value, or one per copy.',
    },
    {
      id: 'turn',
      label: 'turn',
      kind: 'number',
      unit: '°',
      default: 0,
      range: { min: -180, max: 180 },
      help: 'Turn about the copy’s own y axis.',
    },
    {
      id: 'lean',
      label: 'lean',
      kind: 'number',
      unit: '°',
      default: 0,
      range: { min: -120, max: 120 },
      help: 'How far it leans over, towards the direction below.',
    },
    {
      id: 'towards',
      label: 'towards',
      kind: 'vector',
      default: [1, 0, 0],
      range: { min: -1, max: 1 },
      help: 'Where it leans, in world space; only what is level in it counts. Shorter than 1, it leans less, so that a direction that turns round through nothing is no jump.',
    },
    {
      id: 'move',
      label: 'move',
      kind: 'vector',
      unit: 'm',
      default: [0, 0, 0],
      range: { min: -2, max: 2 },
      help: 'How far it moves.',
    },
    {
      id: 'colour',
      label: 'colour',
      kind: 'vector',
      optional: true,
      help: 'A colour for each copy, linear red, green and blue.',
    },
    {
      ...WEIGHT_IN,
      weighs: 'copies',
      help: 'How much of the change each copy gets: one value, one per copy, or a falloff weighed where it stands.',
    },
  ],
  outputs: () => [COPIES_OUT],
  settings: [
    choiceSetting(
      'space',
      'Move along',
      [
        ['world', 'World axes'],
        ['own', 'Own axes'],
      ],
      'The axes that move counts in.',
    ),
  ],
  sentence: (_, c) => (c.connected('weight') ? 'by the weight on the wire' : 'every copy alike'),
  passes: { copies: 'copies' },
  evaluate(context) {
    const copies = context.copies('copies');
    const { count } = copies;
    const { data: scale, step } = context.view('scale', 'number', count);
    const weight = context.lane('weight', 'number', count);
    // What is 0 for all is left out: most edits do one thing.
    const some = (id: string, kind: 'number' | 'vector') => {
      const value = context.input(id);
      const isNothing = value?.form === 'single' && value.data.every((v) => v === 0);
      return isNothing ? undefined : context.lane(id, kind, count);
    };
    const [turn, lean, move] = [some('turn', 'number'), some('lean', 'number'), some('move', 'vector')];
    const towards = lean && context.lane('towards', 'vector', count);
    const out = context.matrices(count);
    out.set(copies.matrices);
    const own = context.settings.space === 'own';
    for (let i = 0, o = 0; i < count && (move || turn || lean); i++, o += 16) {
      if ((i & 4095) === 0) context.checkpoint();
      const w = weight[i];
      if (w === 0) continue;
      if (move) moveBy(out, o, move[i * 3] * w, move[i * 3 + 1] * w, move[i * 3 + 2] * w, own);
      if (turn) turnOwn(out, o, (turn[i] * w * Math.PI) / 180);
      if (lean && towards) leanOver(out, o, towards[i * 3], towards[i * 3 + 2], (lean[i] * w * Math.PI) / 180);
    }
    context.checkpoint();
    const written = sizeAll(out, scale, step, weight);
    tellFinite(out, isToldFinite(copies.matrices) ? written : Infinity);
    let result: Copies = { ...copies, matrices: out };
    if (context.input('colour')) {
      const data = context.lane('colour', 'vector', count);
      const attributes = copies.attributes.filter((a) => a.name !== 'colour');
      result = {
        ...result,
        attributes: [...attributes, { name: 'colour', type: 'colour', role: 'plain', data }],
      };
    }
    return { copies: copiesValue(result) };
  },
};

/** Sizes copies about their places; gives the sum of the numbers of those that have a weight, without signs. */
function sizeAll(m: Float64Array, scale: Readonly<Float32Array>, step: number, weight: Readonly<Float32Array>): number {
  let written = 0;
  for (let i = 0, o = 0; i < weight.length; i++, o += 16) {
    const w = weight[i];
    if (w === 0) continue;
    const size = 1 + (scale[i * step] - 1) * w;
    m[o] *= size;
    m[o + 1] *= size;
    m[o + 2] *= size;
    m[o + 4] *= size;
    m[o + 5] *= size;
    m[o + 6] *= size;
    m[o + 8] *= size;
    m[o + 9] *= size;
    m[o + 10] *= size;
    written += sizeOf(m, o);
  }
  return written;
}

/** The sum of a matrix's numbers without signs, but for its last row, which stays. */
const sizeOf = (m: Readonly<Float64Array>, o: number): number =>
  Math.abs(m[o]) +
  Math.abs(m[o + 1]) +
  Math.abs(m[o + 2]) +
  Math.abs(m[o + 4]) +
  Math.abs(m[o + 5]) +
  Math.abs(m[o + 6]) +
  (Math.abs(m[o + 8]) + Math.abs(m[o + 9]) + Math.abs(m[o + 10])) +
  (Math.abs(m[o + 12]) + Math.abs(m[o + 13]) + Math.abs(m[o + 14]));

/** Moves a copy along world axes, or along its own. */
function moveBy(m: Float64Array, o: number, x: number, y: number, z: number, own: boolean): void {
  for (let row = 0; row < 3; row++)
    m[o + 12 + row] += own ? m[o + row] * x + m[o + 4 + row] * y + m[o + 8 + row] * z : row === 0 ? x : row === 1 ? y : z;
}

/** `M · Ry(angle)`: about the copy's own y. */
function turnOwn(m: Float64Array, o: number, angle: number): void {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  for (let row = 0; row < 3; row++) {
    const [x, z] = [m[o + row], m[o + 8 + row]];
    m[o + row] = x * c - z * s;
    m[o + 8 + row] = x * s + z * c;
  }
}

/** Tips the axes over towards a level direction, about the copy's place. */
function leanOver(m: Float64Array, o: number, x: number, z: number, angle: number): void {
  const l = Math.hypot(x, z);
  if (!(l > 1e-9)) return;
  // A short direction leans less. About the level axis square to it: up × direction.
  const [ux, uz] = [z / l, -x / l];
  const a0 = angle * Math.min(1, l);
  const [c, s] = [Math.cos(a0), Math.sin(a0)];
  for (let column = 0; column < 12; column += 4) {
    const [a, b, d] = [m[o + column], m[o + column + 1], m[o + column + 2]];
    const along = (ux * a + uz * d) * (1 - c);
    m[o + column] = a * c - uz * b * s + ux * along;
    m[o + column + 1] = b * c + (uz * a - ux * d) * s;
    m[o + column + 2] = d * c + ux * b * s + uz * along;
  }
}
