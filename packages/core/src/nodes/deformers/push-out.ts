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

/** Writes the amounts of so many points, from one on, into `by` from 0. */
export type Amounts = (by: Float64Array, from: number, count: number) => void;

/** Distances of points from a centre, as an {@link Amounts} writes them. */
export function distances(
  by: Float64Array,
  p: Readonly<Float32Array>,
  [cx, cy, cz]: readonly number[],
  from: number,
  count: number,
): void {
  for (let i = 0, o = from * 3; i < count; i++, o += 3) {
    const x = p[o] - cx,
      y = p[o + 1] - cy,
      z = p[o + 2] - cz;
    by[i] = Math.sqrt(x * x + y * y + z * z);
  }
}

/** The least of so many distances, and of one known before. */
export function leastOf(by: Readonly<Float64Array>, count: number, least: number): number {
  for (let i = 0; i < count; i++) if (by[i] < least) least = by[i];
  return least;
}

/** Says that nothing is within a radius (metres) of a centre, and how far away the mesh begins. */
export function reportReach(context: NodeContext, radius: number, nearest: number): void {
  if (radius > 0 && nearest >= radius && Number.isFinite(nearest))
    context.report({ code: 'none-reached', radius, nearest, severity: 'warning' });
}

/** Points are pushed so many at a time: their amounts stay in the processor's cache. */
const CHUNK = 2048;

/**
 * Points moved by an amount each (metres) along their normals, or along the direction, under the weight.
 * @param amounts writes them, or is the one of all
 */
export function pushOut(context: NodeContext, mesh: Mesh, amounts: Amounts | number): { mesh: Value } {
  const all = mesh.topology.pointCount;
  const p = mesh.positions;
  const along = context.input('direction')
    ? context.view('direction', 'vector', all)
    : { data: normalsOf(mesh, 'angle', context.checkpoint, context.room), step: 3 };
  const weight = context.view('weight', 'number', all);
  const out = context.room(p.length);
  const by = new Float64Array(Math.min(CHUNK, all));
  const isSame = typeof amounts === 'number' && weight.step === 0;
  if (isSame) by.fill(amounts * weight.data[0]);
  let size = 0;
  for (let from = 0; from < all; from += CHUNK) {
    context.checkpoint();
    const count = Math.min(CHUNK, all - from);
    if (!isSame) {
      if (typeof amounts === 'number') by.fill(amounts);
      else amounts(by, from, count);
      weighAmounts(by, weight, from, count);
    }
    size += along.step === 0 ? pushAlong(out, p, along.data, by, from, count) : pushEach(out, p, along.data, by, from, count);
  }
  tellFinite(out, size);
  return { mesh: meshValue(withPositions(mesh, out)) };
}

function weighAmounts(by: Float64Array, { data: weight, step }: LaneView, from: number, count: number): void {
  if (step === 0 && weight[0] === 1) return;
  for (let i = 0, w = from * step; i < count; i++, w += step) by[i] *= weight[w];
}

/** Pushes the points from one on, each its own way; gives the sum of what it wrote, without signs. */
function pushEach(
  out: Float32Array,
  p: Readonly<Float32Array>,
  ways: Readonly<Float32Array>,
  amounts: Readonly<Float64Array>,
  from: number,
  count: number,
): number {
  let size = 0;
  for (let i = 0, o = from * 3; i < count; i++, o += 3) {
    const by = amounts[i];
    const x = p[o] + ways[o] * by;
    const y = p[o + 1] + ways[o + 1] * by;
    const z = p[o + 2] + ways[o + 2] * by;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    size += Math.abs(x) + Math.abs(y) + Math.abs(z);
  }
  return size;
}

/** The same, all one way. */
function pushAlong(
  out: Float32Array,
  p: Readonly<Float32Array>,
  way: Readonly<Float32Array>,
  amounts: Readonly<Float64Array>,
  from: number,
  count: number,
): number {
  const [wayX, wayY, wayZ] = way;
  let size = 0;
  for (let i = 0, o = from * 3; i < count; i++, o += 3) {
    const by = amounts[i];
    const x = p[o] + wayX * by;
    const y = p[o + 1] + wayY * by;
    const z = p[o + 2] + wayZ * by;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    size += Math.abs(x) + Math.abs(y) + Math.abs(z);
  }
  return size;
}
