import { normalsOf } from '../../geometry/derived.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { InputPort, LaneView, NodeContext } from '../../graph/node/definition.ts';
import { meshValue, type Value } from '../../graph/node/values.ts';

/** Which way points are pushed: a direction, or along their normals when it is left open. */
export const DIRECTION_IN: InputPort = {
  id: 'direction',
  label: 'direction',
  kind: 'vector',
  optional: true,
  help: 'Which way, one for all or one each; its length counts, so that twice as long pushes twice as far. Left open, along the normals, which are 1 long.',
};

/** Writes the amounts of the points from one on, as many as there is room for. */
export type Amounts = (out: Float32Array, from: number) => void;

/** Points are pushed so many at a time: their amounts stay in the processor's cache. */
const CHUNK = 4096;

/** Points moved by an amount each (metres) along their normals, or along the direction, under the weight. */
export function pushOut(context: NodeContext, mesh: Mesh, amounts: Amounts): { mesh: Value } {
  const count = mesh.topology.pointCount;
  const along = context.input('direction')
    ? context.view('direction', 'vector', count)
    : { data: normalsOf(mesh, 'angle', context.checkpoint), step: 3 };
  const { data: weight, step } = context.view('weight', 'number', count);
  const out = context.floats(mesh.positions.length);
  const room = new Float32Array(Math.min(CHUNK, count));
  let size = 0;
  for (let from = 0; from < count; from += CHUNK) {
    context.checkpoint();
    const by = from + CHUNK <= count ? room : room.subarray(0, count - from);
    amounts(by, from);
    size += pushPoints(out, mesh.positions, along, by, weight, step, from);
  }
  tellFinite(out, size);
  return { mesh: meshValue(withPositions(mesh, out)) };
}

/** Pushes the points from one on; gives the sum of what it wrote, without signs. */
function pushPoints(
  out: Float32Array,
  p: Readonly<Float32Array>,
  { data: d, step }: LaneView,
  amounts: Readonly<Float32Array>,
  weight: Readonly<Float32Array>,
  weightStep: number,
  from: number,
): number {
  let sizeX = 0,
    sizeY = 0,
    sizeZ = 0;
  for (
    let i = 0, o = from * 3, k = from * step, w = from * weightStep;
    i < amounts.length;
    i++, o += 3, k += step, w += weightStep
  ) {
    const by = amounts[i] * weight[w];
    const x = p[o] + d[k] * by;
    const y = p[o + 1] + d[k + 1] * by;
    const z = p[o + 2] + d[k + 2] * by;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    sizeX += Math.abs(x);
    sizeY += Math.abs(y);
    sizeZ += Math.abs(z);
  }
  return sizeX + sizeY + sizeZ;
}
