import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { compileResponse, respondAll, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { axisOf, axisSetting, MESH_IN, MESH_OUT, numberPort, text, WEIGHT_IN, typedWords } from '../ports.ts';

/** Points that are sized at a time: their sizes stay in the processor's cache. */
const CHUNK = 2048;

export const taper: NodeDefinition = {
  id: 'taper',
  version: 1,
  title: 'Taper',
  group: 'Deformers',
  summary: 'Sizes the cross-sections of a mesh along an axis, from one end to the other.',
  keywords: ['narrow', 'cone', 'pinch', 'scale along'],
  inputs: () => [
    MESH_IN,
    numberPort('start', 'size start', undefined, 1, [0, 3], 'Size at the low end.'),
    numberPort('end', 'size end', undefined, 0.5, [0, 3], 'Size at the high end.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    axisSetting('y', 'The axis; it runs through the middle of the bounds.'),
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS.Straight,
      help: 'The way from start to end.',
    },
  ],
  sentence: (s, c) => `along ${text(s, 'axis')}, ${typedWords(c, 'start')} to ${typedWords(c, 'end')}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const p = mesh.positions;
    const axis = axisOf(context.settings);
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const bounds = knownBounds(p);
    const centre = boundsCentre(bounds);
    const low = bounds.low[axis];
    const span = bounds.high[axis] - low;
    const [from, to] = [context.number('start'), context.number('end')];
    const response = compileResponse(context.settings.response as Response);
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const out = context.room(p.length);
    const sizes = new Float64Array(Math.min(CHUNK, pointCount));
    let written = 0;
    for (let first = 0; first < pointCount; first += CHUNK) {
      context.checkpoint();
      const count = Math.min(CHUNK, pointCount - first);
      for (let i = 0, o = first * 3 + axis; i < count; i++, o += 3) sizes[i] = span > 0 ? (p[o] - low) / span : 0;
      respondAll(response, sizes, count);
      for (let i = 0, w = first * step; i < count; i++, w += step) sizes[i] = 1 + (from + (to - from) * sizes[i] - 1) * weight[w];
      written += sizeSections(out, p, sizes, first, count, [axis, u, v], centre);
    }
    tellFinite(out, written);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

/** Sizes points about the middle of their cross-section; gives the sum of what it wrote, without signs. */
function sizeSections(
  out: Float32Array,
  p: Readonly<Float32Array>,
  sizes: Readonly<Float64Array>,
  first: number,
  count: number,
  [axis, u, v]: readonly [number, number, number],
  centre: readonly number[],
): number {
  const [cu, cv] = [centre[u], centre[v]];
  let written = 0;
  for (let i = 0, o = first * 3; i < count; i++, o += 3) {
    const size = sizes[i];
    const h = p[o + axis];
    const x = cu + (p[o + u] - cu) * size;
    const y = cv + (p[o + v] - cv) * size;
    out[o + axis] = h;
    out[o + u] = x;
    out[o + v] = y;
    written += Math.abs(h) + Math.abs(x) + Math.abs(y);
  }
  return written;
}
