import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { LaneView, NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import {
  axisOf,
  axisSetting,
  choiceSetting,
  CURVES_IN,
  MESH_IN,
  MESH_OUT,
  numberPort,
  text,
  toggleSetting,
  WEIGHT_IN,
  yes,
} from '../ports.ts';
import { needTrack } from './frame-settings.ts';

/** Places along the axis where the curve's distance is tabled. */
const PARTS = 2048;

/** Points that are sized at a time. */
const CHUNK = 2048;

export const profileShape: NodeDefinition = {
  id: 'profile-shape',
  version: 1,
  title: 'Profile Shape',
  group: 'Curves',
  summary: 'Gives a mesh the outline of a drawn curve: its cross-sections take the curve’s distance from the axis as their size.',
  keywords: ['lathe', 'outline', 'silhouette', 'bottle', 'vase', 'taper'],
  inputs: () => [
    MESH_IN,
    { ...CURVES_IN, label: 'curve', help: 'The outline; how far it is from the axis counts.' },
    numberPort('size', 'size', undefined, 1, [0, 5], 'Factor of the outline.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    axisSetting(
      'y',
      'The axis of the mesh; it runs through the middle of its bounds, that of the curve through the world’s origin.',
    ),
    choiceSetting(
      'where',
      'Along',
      [
        ['fraction', 'Share of the curve'],
        ['place', 'The same height'],
      ],
      'Share: beginning to end of the curve over beginning to end of the mesh. The same height: where the curve has the same coordinate.',
    ),
    toggleSetting('flip', 'Flip', false, 'Take the curve from its other end.'),
    choiceSetting(
      'across',
      'Sizes',
      [
        ['both', 'Both axes across'],
        ['first', 'Only the first'],
        ['second', 'Only the second'],
      ],
      'Which of the two axes across take the size.',
    ),
    choiceSetting(
      'how',
      'The outline is',
      [
        ['radius', 'The radius'],
        ['factor', 'A factor of the size there is'],
      ],
      'Radius: points are put at the curve’s distance. Factor: distances are multiplied by it.',
    ),
  ],
  sentence: (s) => `along ${text(s, 'axis')}${yes(s, 'flip') ? ', flipped' : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const { settings } = context;
    const mesh = context.mesh('mesh');
    const p = mesh.positions;
    const axis = axisOf(settings);
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const bounds = knownBounds(p);
    const centre = boundsCentre(bounds);
    const low = bounds.low[axis];
    const span = bounds.high[axis] - low;
    const track = needTrack(context.curves('curves'), 'Profile Shape');
    const table = outline(
      track.positions,
      track.lengths,
      track.count,
      axis,
      settings.where === 'place' ? [low, span] : undefined,
    );
    const size = context.number('size');
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const out = context.room(p.length);
    const perPart = span > 0 ? PARTS / span : 0;
    const [zero, per] = yes(settings, 'flip') ? [bounds.high[axis], -perPart] : [low, perPart];
    const [su, sv] = [settings.across !== 'second' ? 1 : 0, settings.across !== 'first' ? 1 : 0];
    const shape: Shape = { axis, u, v, numbers: Float64Array.of(zero, per, centre[u], centre[v], size, su, sv), table };
    const weights: LaneView = { data: weight, step };
    const written = shapeAll(out, p, weights, shape, settings.how === 'factor', context.checkpoint);
    tellFinite(out, written);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

/** Where points are told their place on an outline, and which way they are sized. */
interface Shape {
  readonly axis: number;
  readonly u: number;
  readonly v: number;
  /**
   * Where the outline begins, how many of its parts come to a metre from there, the middle across, the size, and how much of
   * it each axis across takes: read as such, they need not be told from other values at each point.
   */
  readonly numbers: Float64Array;
  /** Distances of the outline, at equal parts of the length. */
  readonly table: Readonly<Float64Array>;
}

/** Puts all points at the outline, or sizes them by it; gives the sum of what it wrote across, without signs. */
function shapeAll(
  out: Float32Array,
  p: Readonly<Float32Array>,
  weights: LaneView,
  shape: Shape,
  byFactor: boolean,
  checkpoint: () => void,
): number {
  const count = p.length / 3;
  let written = 0;
  for (let from = 0; from < count; from += CHUNK) {
    checkpoint();
    const to = Math.min(count, from + CHUNK);
    written += byFactor ? sizePoints(out, p, weights, from, to, shape) : putPoints(out, p, weights, from, to, shape);
  }
  return written;
}

/** Sizes points by the outline, about the axis; gives the sum of what it wrote across, without signs. */
function sizePoints(
  out: Float32Array,
  p: Readonly<Float32Array>,
  { data: weight, step }: LaneView,
  from: number,
  to: number,
  { axis, u, v, numbers, table }: Shape,
): number {
  const zero = numbers[0],
    per = numbers[1],
    cu = numbers[2],
    cv = numbers[3],
    size = numbers[4],
    su = numbers[5],
    sv = numbers[6];
  let written = 0;
  for (let i = from; i < to; i++) {
    // Cut off at 30 bits: sums of it then need not be looked at for overflow.
    const o = (i * 3) & 0x3fffffff;
    const h = p[o + axis];
    const at = (h - zero) * per;
    const k = at >= PARTS ? PARTS - 1 : at > 0 ? at | 0 : 0;
    const by = weight[i * step] * ((table[k] + (table[k + 1] - table[k]) * (at - k)) * size - 1);
    const x = p[o + u] + (p[o + u] - cu) * (by * su);
    const y = p[o + v] + (p[o + v] - cv) * (by * sv);
    out[o + axis] = h;
    out[o + u] = x;
    out[o + v] = y;
    written += Math.abs(x) + Math.abs(y);
  }
  return written;
}

/** Puts points at the distance of the outline from the axis; the rest as {@link sizePoints}. */
function putPoints(
  out: Float32Array,
  p: Readonly<Float32Array>,
  { data: weight, step }: LaneView,
  from: number,
  to: number,
  { axis, u, v, numbers, table }: Shape,
): number {
  const zero = numbers[0],
    per = numbers[1],
    cu = numbers[2],
    cv = numbers[3],
    size = numbers[4],
    su = numbers[5],
    sv = numbers[6];
  let written = 0;
  for (let i = from; i < to; i++) {
    // Cut off at 30 bits: sums of it then need not be looked at for overflow.
    const o = (i * 3) & 0x3fffffff;
    const h = p[o + axis];
    const at = (h - zero) * per;
    const k = at >= PARTS ? PARTS - 1 : at > 0 ? at | 0 : 0;
    const radius = (table[k] + (table[k + 1] - table[k]) * (at - k)) * size;
    const a = p[o + u] - cu;
    const b = p[o + v] - cv;
    const distance = Math.sqrt(a * a + b * b);
    const by = weight[i * step] * ((distance > 0 ? radius / distance : 0) - 1);
    const x = p[o + u] + a * (by * su);
    const y = p[o + v] + b * (by * sv);
    out[o + axis] = h;
    out[o + u] = x;
    out[o + v] = y;
    written += Math.abs(x) + Math.abs(y);
  }
  return written;
}

/** Distances of a track from an axis through the origin, at equal parts of its length, or of a stretch of the axis. */
function outline(
  p: Float64Array,
  lengths: Float64Array,
  count: number,
  axis: number,
  stretch?: readonly [number, number],
): Float64Array {
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
  const radius = (i: number) => Math.hypot(p[i * 3 + u], p[i * 3 + v]);
  const total = lengths[count - 1];
  // Where each sample counts as being, 0..1; by place it may fall, then the curve is read from its lower end.
  const falls = stretch && p[axis] > p[(count - 1) * 3 + axis];
  const order = Array.from({ length: count }, (_, i) => (falls ? count - 1 - i : i));
  const where = order.map((i) => (stretch ? (p[i * 3 + axis] - stretch[0]) / (stretch[1] || 1) : lengths[i] / total));
  const out = new Float64Array(PARTS + 1);
  let s = 0;
  for (let k = 0; k <= PARTS; k++) {
    const t = k / PARTS;
    while (s < count - 2 && where[s + 1] <= t) s++;
    const step = where[s + 1] - where[s];
    const f = step > 0 ? Math.min(1, Math.max(0, (t - where[s]) / step)) : 0;
    out[k] = radius(order[s]) * (1 - f) + radius(order[s + 1]) * f;
  }
  return out;
}
