import { makeCopies } from '../../copies/copies.ts';
import { findAttribute } from '../../geometry/mesh.ts';
import { normalsOf } from '../../geometry/derived.ts';
import { tracksOf } from '../../curves/track.ts';
import type { NodeContext, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { pointsOf } from '../../graph/node/points-of.ts';
import { copiesValue, type Value } from '../../graph/node/values.ts';
import { randomAt } from '../../maths/random.ts';
import { choiceSetting, COPIES_OUT, numberPort, text } from '../ports.ts';

/** Most copies one node places. */
export const MOST_COPIES = 1_000_000;
const letters = (s: Settings) => 'abcd'.slice(0, Number(s.count)).split('');

export const placeCopies: NodeDefinition = {
  id: 'place-copies',
  version: 1,
  title: 'Place Copies',
  group: 'Copies',
  summary: 'Puts copies of meshes on points, turned and sized; they stay copies until a node needs points.',
  keywords: ['instance', 'scatter', 'duplicate', 'repeat', 'clone'],
  inputs: (s) => [
    { id: 'points', label: 'points', kind: 'geometry', help: 'Where copies stand: points of a mesh, control points of curves.' },
    ...letters(s).map((id) => ({
      id,
      label: s.count === '1' ? 'mesh' : id,
      kind: 'mesh' as const,
      help: 'What is copied; its own origin comes to stand on the point.',
    })),
    {
      id: 'scale',
      label: 'scale',
      kind: 'weight',
      default: 1,
      range: { min: 0, max: 3 },
      weighs: 'points',
      help: 'Size of each copy: one value, one per point, or a falloff.',
    },
    {
      id: 'turn',
      label: 'turn',
      kind: 'vector',
      unit: '°',
      default: [0, 0, 0],
      range: { min: -180, max: 180 },
      help: 'Turn of each copy about its own x, then y, then z.',
    },
    {
      id: 'direction',
      label: 'direction',
      kind: 'vector',
      optional: true,
      help: 'Where the y axis of each copy points, with the setting "To a direction".',
    },
    numberPort('random', 'random turn', '°', 0, [0, 360], 'Turns each copy about its own y by up to so much.'),
    numberPort('vary', 'vary size', undefined, 0, [0, 1], 'Makes each copy smaller or larger by up to this share.'),
    numberPort('seed', 'seed', undefined, 1, [0, 100], 'Another number gives other turns, sizes and choices.', {
      kind: 'integer',
    }),
  ],
  outputs: () => [COPIES_OUT],
  settings: [
    choiceSetting(
      'count',
      'Meshes',
      ['1', '2', '3', '4'].map((v) => [v, v]),
      'How many different meshes are copied.',
    ),
    choiceSetting(
      'align',
      'Align',
      [
        ['none', 'Keep upright'],
        ['normal', 'To the normal'],
        ['direction', 'To a direction'],
      ],
      'Where the y axis of copies points.',
    ),
    choiceSetting(
      'which',
      'Which one',
      [
        ['random', 'At random'],
        ['index', 'In turn'],
        ['attribute', 'By an attribute'],
      ],
      'How a mesh is chosen for each point.',
      (s) => s.count !== '1',
    ),
    {
      id: 'name',
      label: 'Attribute',
      type: 'text',
      default: 'which',
      attributeOf: 'points',
      help: 'The whole number on points that chooses.',
      shown: (s) => s.count !== '1' && s.which === 'attribute',
    },
  ],
  sentence: (s) =>
    `${s.count === '1' ? 'one mesh' : `${text(s, 'count')} meshes`}${s.align === 'none' ? ', upright' : s.align === 'normal' ? ', to the normal' : ', to the direction'}`,
  evaluate(context) {
    const { settings } = context;
    const from = context.input('points') as Value;
    const points = pointsOf(from) ?? new Float32Array(0);
    const count = points.length / 3;
    if (count > MOST_COPIES) throw new NodeError({ code: 'limit', what: 'The copies', count, most: MOST_COPIES });
    const sources = letters(settings).map((id) => context.mesh(id));
    const scale = context.lane('scale', 'number', count);
    const turn = context.lane('turn', 'vector', count);
    const ups = upsOf(context, from, count);
    const seed = context.integer('seed');
    const turned = (context.number('random') * Math.PI) / 180;
    const vary = context.number('vary');
    const matrices = new Float64Array(count * 16);
    for (let i = 0; i < count; i++) {
      if ((i & 4095) === 0) context.checkpoint();
      const size = scale[i] * (1 + vary * (2 * randomAt(i, seed + 1) - 1));
      const yaw = turned * randomAt(i, seed + 2);
      placeOne(matrices, i * 16, points, turn, i * 3, ups, yaw, size);
    }
    return {
      copies: copiesValue(makeCopies(sources, whichOf(context, from, count, sources.length, seed), matrices)),
    };
  },
};

/** Where the y axis of each copy points; undefined keeps them upright. */
function upsOf(context: NodeContext, from: Value, count: number): Readonly<Float32Array> | undefined {
  const { align } = context.settings;
  if (align === 'direction') {
    if (!context.input('direction')) throw new NodeError({ code: 'input-missing', port: 'direction', needs: 'a vector (xyz)' });
    return context.lane('direction', 'vector', count);
  }
  if (align !== 'normal') return undefined;
  if (from.form === 'geometry') return normalsOf(from.mesh);
  if (from.form !== 'curves') return undefined;
  // Of a curve: along it.
  const out = new Float32Array(count * 3);
  const { curves } = from;
  for (const track of tracksOf(curves)) {
    const { first } = track;
    const many = track.knots.length - (track.closed ? 1 : 0);
    // At a corner the middle of both sides.
    for (let i = 0; i < many; i++) {
      const k = track.knots[i];
      const before = i > 0 ? track.knots[i] - 1 : track.count - 1;
      const isCorner = track.corners?.[k] === 1 && (i > 0 || track.closed);
      for (let axis = 0; axis < 3; axis++)
        out[(first + i) * 3 + axis] = track.tangents[k * 3 + axis] + (isCorner ? track.tangents[before * 3 + axis] : 0);
    }
  }
  return out;
}

function whichOf(context: NodeContext, from: Value, count: number, sources: number, seed: number): Int32Array {
  const out = context.integers(count);
  if (sources === 1) return out;
  const { which } = context.settings;
  let chosen: ArrayLike<number> | undefined;
  if (which === 'attribute') {
    const name = text(context.settings, 'name');
    const found = from.form === 'geometry' ? findAttribute(from.mesh, name, 'point') : undefined;
    if (!found) {
      const known = from.form === 'geometry' ? from.mesh.attributes.filter((a) => a.on === 'point').map((a) => a.name) : [];
      throw new NodeError({ code: 'attribute-missing', name, known });
    }
    chosen = found.data;
  }
  for (let i = 0; i < count; i++) {
    const n = chosen ? Math.round(chosen[i]) : which === 'index' ? i : Math.floor(randomAt(i, seed) * sources);
    out[i] = ((n % sources) + sources) % sources;
  }
  return out;
}

/** `T · align · Ry(yaw) · Rz · Ry · Rx · size`, written to a column of matrices. */
function placeOne(
  out: Float64Array,
  o: number,
  points: Readonly<Float32Array>,
  turn: Readonly<Float32Array>,
  p: number,
  ups: Readonly<Float32Array> | undefined,
  yaw: number,
  size: number,
): void {
  const [x, y, z] = [turn[p], turn[p + 1], turn[p + 2]].map((a) => (a * Math.PI) / 180);
  const [cx, sx, cy, sy, cz, sz] = [Math.cos(x), Math.sin(x), Math.cos(y), Math.sin(y), Math.cos(z), Math.sin(z)];
  // Columns of Rz · Ry · Rx.
  const m = [
    cz * cy,
    sz * cy,
    -sy,
    cz * sy * sx - sz * cx,
    sz * sy * sx + cz * cx,
    cy * sx,
    cz * sy * cx + sz * sx,
    sz * sy * cx - cz * sx,
    cy * cx,
  ];
  const [ca, sa] = [Math.cos(yaw), Math.sin(yaw)];
  const frame = upright(ups, p);
  for (let c = 0; c < 3; c++) {
    const [a, b, d] = [m[c * 3] * ca + m[c * 3 + 2] * sa, m[c * 3 + 1], m[c * 3 + 2] * ca - m[c * 3] * sa];
    for (let row = 0; row < 3; row++) out[o + c * 4 + row] = (frame[row] * a + frame[3 + row] * b + frame[6 + row] * d) * size;
    out[o + 12 + c] = points[p + c];
  }
  out[o + 15] = 1;
}

const PLAIN = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;

/** The least turn that takes y to a direction, nine numbers by columns; straight down turns about x. */
function upright(ups: Readonly<Float32Array> | undefined, p: number): readonly number[] {
  if (!ups) return PLAIN;
  const l = Math.hypot(ups[p], ups[p + 1], ups[p + 2]);
  if (!(l > 1e-9)) return PLAIN;
  const [x, y, z] = [ups[p] / l, ups[p + 1] / l, ups[p + 2] / l];
  if (y < -1 + 1e-9) return [1, 0, 0, 0, -1, 0, 0, 0, -1];
  const f = 1 / (1 + y);
  return [1 - x * x * f, -x, -x * z * f, x, y, z, -x * z * f, -z, 1 - z * z * f];
}
