import { trianglesOf } from '../geometry/triangles.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { LaneView } from '../maths/lane-view.ts';
import { isTurned } from '../geometry/turn.ts';
import { indexOf } from '../nearest/shared.ts';

/** Which triangles of a driver carry each point, and how much; `perPoint` of each per point. */
export interface SurfaceBinding {
  readonly perPoint: number;
  readonly triangles: Int32Array;
  readonly weights: Float32Array;
}

const bindings = new WeakMap<Readonly<Float32Array>, WeakMap<Readonly<Float32Array>, Map<number, SurfaceBinding>>>();

/**
 * Binds points to the nearest triangles of a surface at rest, weighted by 1 / distance², the farthest of them fading to
 * nothing so that a point changes its triangles without a jump. Worked out once for the two position arrays.
 */
export function bindToSurface(mesh: Mesh, rest: Mesh, perPoint: number, checkpoint: () => void): SurfaceBinding {
  let mine = bindings.get(mesh.positions);
  if (!mine) bindings.set(mesh.positions, (mine = new WeakMap()));
  let byCount = mine.get(rest.positions);
  if (!byCount) mine.set(rest.positions, (byCount = new Map()));
  const known = byCount.get(perPoint);
  if (known) return known;
  const index = indexOf(rest, 'faces');
  const count = mesh.topology.pointCount;
  const triangles = new Int32Array(count * perPoint).fill(-1);
  const weights = new Float32Array(count * perPoint);
  // One more than asked for: its distance is where the others' weights end.
  const found = new Int32Array(perPoint + 1);
  const squared = new Float64Array(perPoint + 1);
  const p = mesh.positions;
  for (let i = 0; i < count; i++) {
    if ((i & 255) === 0) checkpoint();
    const many = index.nearestSeveral(found, squared, p[i * 3], p[i * 3 + 1], p[i * 3 + 2]);
    const used = Math.min(many, perPoint);
    const end = many > perPoint ? Math.sqrt(squared[perPoint]) : Infinity;
    let sum = 0;
    const w = new Float64Array(used);
    for (let k = 0; k < used; k++) {
      const d = Math.sqrt(squared[k]) + 1e-9;
      const fade = end < Infinity ? Math.max(0, 1 - d / (end + 2e-9)) : 1;
      w[k] = (fade * fade) / (d * d);
      sum += w[k];
    }
    for (let k = 0; k < used; k++) {
      triangles[i * perPoint + k] = found[k];
      weights[i * perPoint + k] = sum > 0 ? w[k] / sum : 1 / used;
    }
  }
  const bound = { perPoint, triangles, weights };
  byCount.set(perPoint, bound);
  return bound;
}

/**
 * Points carried by their triangles: each triangle moves a point as its own frame (first edge, normal, and the square
 * to both), so that points ride at the same height; the results are mixed by the weights.
 * @param out xyz × points; written. @param source the points as they were bound. @param now the driver, whose
 * faces may have been turned round since.
 */
export function followSurface(
  out: Float32Array,
  source: Readonly<Float32Array>,
  bound: SurfaceBinding,
  rest: Mesh,
  now: Mesh,
  { data: weight, step }: LaneView,
): Float32Array {
  const { points, count } = trianglesOf(rest.topology);
  const changes = new Float64Array(count * 12);
  const side = isTurned(now.topology, rest.topology) ? -1 : 1;
  for (let t = 0; t < count; t++) changeOf(changes, t * 12, rest.positions, now.positions, side, points, t * 3);
  const { perPoint, triangles, weights } = bound;
  for (let i = 0, o = 0; o < out.length; i++, o += 3) {
    const x = source[o],
      y = source[o + 1],
      z = source[o + 2];
    let mx = 0,
      my = 0,
      mz = 0,
      sum = 0;
    for (let k = i * perPoint, end = k + perPoint; k < end; k++) {
      if (triangles[k] < 0) continue;
      const w = weights[k];
      const c = triangles[k] * 12;
      mx += w * (changes[c] * x + changes[c + 3] * y + changes[c + 6] * z + changes[c + 9]);
      my += w * (changes[c + 1] * x + changes[c + 4] * y + changes[c + 7] * z + changes[c + 10]);
      mz += w * (changes[c + 2] * x + changes[c + 5] * y + changes[c + 8] * z + changes[c + 11]);
      sum += w;
    }
    const w = sum > 0 ? weight[i * step] : 0;
    out[o] = x + w * (mx - x);
    out[o + 1] = y + w * (my - y);
    out[o + 2] = z + w * (mz - z);
  }
  return out;
}

const before = new Float64Array(9);
const after = new Float64Array(9);
const inverse = new Float64Array(9);

/** What takes a triangle's frame at rest to its frame now: nine numbers column by column, then the move. */
function changeOf(
  out: Float64Array,
  o: number,
  rest: Readonly<Float32Array>,
  now: Readonly<Float32Array>,
  side: 1 | -1,
  points: Readonly<Int32Array>,
  t: number,
): void {
  frameOf(before, rest, points, t, 1);
  frameOf(after, now, points, t, side);
  // R = A · B⁻¹ for B = [edge, edge, unit normal]: exact on the triangle's own plane, rigid off it.
  const p = points[t] * 3;
  // A triangle without an area at rest turns nothing: its points move by what its first corner does.
  if (!invert3(inverse, before)) {
    for (let k = 0; k < 9; k++) out[o + k] = k % 4 === 0 ? 1 : 0;
    for (let row = 0; row < 3; row++) out[o + 9 + row] = now[p + row] - rest[p + row];
    return;
  }
  for (let c = 0; c < 9; c += 3) {
    const x = inverse[c],
      y = inverse[c + 1],
      z = inverse[c + 2];
    out[o + c] = after[0] * x + after[3] * y + after[6] * z;
    out[o + c + 1] = after[1] * x + after[4] * y + after[7] * z;
    out[o + c + 2] = after[2] * x + after[5] * y + after[8] * z;
  }
  const x = rest[p],
    y = rest[p + 1],
    z = rest[p + 2];
  out[o + 9] = now[p] - out[o] * x - out[o + 3] * y - out[o + 6] * z;
  out[o + 10] = now[p + 1] - out[o + 1] * x - out[o + 4] * y - out[o + 7] * z;
  out[o + 11] = now[p + 2] - out[o + 2] * x - out[o + 5] * y - out[o + 8] * z;
}

function frameOf(out: Float64Array, p: Readonly<Float32Array>, points: Readonly<Int32Array>, t: number, side: 1 | -1): void {
  const a = points[t] * 3;
  const b = points[t + 1] * 3;
  const c = points[t + 2] * 3;
  for (let axis = 0; axis < 3; axis++) {
    out[axis] = p[b + axis] - p[a + axis];
    out[3 + axis] = p[c + axis] - p[a + axis];
  }
  const nx = out[1] * out[5] - out[2] * out[4];
  const ny = out[2] * out[3] - out[0] * out[5];
  const nz = out[0] * out[4] - out[1] * out[3];
  const l = side * (Math.hypot(nx, ny, nz) || 1);
  out[6] = nx / l;
  out[7] = ny / l;
  out[8] = nz / l;
}

/** The inverse of a 3×3 matrix, column by column; false when it has none. */
function invert3(out: Float64Array, m: Readonly<Float64Array>): boolean {
  const c0 = m[4] * m[8] - m[5] * m[7],
    c1 = m[5] * m[6] - m[3] * m[8],
    c2 = m[3] * m[7] - m[4] * m[6];
  const determinant = m[0] * c0 + m[1] * c1 + m[2] * c2;
  // The third column is of length 1, the others are edges: the smallest area against theirs.
  const edges = Math.hypot(m[0], m[1], m[2]) * Math.hypot(m[3], m[4], m[5]);
  if (!(Math.abs(determinant) > 1e-7 * edges)) return false;
  const d = 1 / determinant;
  out[0] = c0 * d;
  out[1] = (m[2] * m[7] - m[1] * m[8]) * d;
  out[2] = (m[1] * m[5] - m[2] * m[4]) * d;
  out[3] = c1 * d;
  out[4] = (m[0] * m[8] - m[2] * m[6]) * d;
  out[5] = (m[2] * m[3] - m[0] * m[5]) * d;
  out[6] = c2 * d;
  out[7] = (m[1] * m[6] - m[0] * m[7]) * d;
  out[8] = (m[0] * m[4] - m[1] * m[3]) * d;
  return true;
}
