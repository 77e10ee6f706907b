import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
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
    const flip = yes(settings, 'flip');
    const byFactor = settings.how === 'factor';
    const [sizesU, sizesV] = [settings.across !== 'second', settings.across !== 'first'];
    const [cu, cv] = [centre[u], centre[v]];
    let written = 0;
    for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
      if ((i & 65535) === 0) context.checkpoint();
      let t = span > 0 ? (p[o + axis] - low) / span : 0;
      if (flip) t = 1 - t;
      const at = t * PARTS;
      const k = at >= PARTS ? PARTS - 1 : at > 0 ? Math.floor(at) : 0;
      const radius = (table[k] + (table[k + 1] - table[k]) * (at - k)) * size;
      const a = p[o + u] - cu;
      const b = p[o + v] - cv;
      const distance = Math.sqrt(a * a + b * b);
      const factor = byFactor ? radius : distance > 0 ? radius / distance : 0;
      const w = weight[i * step] * (factor - 1);
      const h = p[o + axis];
      const x = p[o + u] + (sizesU ? a * w : 0);
      const y = p[o + v] + (sizesV ? b * w : 0);
      out[o + axis] = h;
      out[o + u] = x;
      out[o + v] = y;
      written += Math.abs(h) + Math.abs(x) + Math.abs(y);
    }
    tellFinite(out, written);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

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
