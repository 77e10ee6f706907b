import { trianglesOf } from '../geometry/triangles.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { LaneView } from '../maths/lane-view.ts';

/** Mean-value weights of points against the points of a closed cage: cage points × points, row by row. */
export interface CageBinding {
  readonly cagePoints: number;
  readonly weights: Float32Array;
}

const bindings = new WeakMap<Readonly<Float32Array>, WeakMap<Readonly<Float32Array>, CageBinding>>();

/** Numbers that a binding may have; beyond it a cage is too fine for its mesh. */
export const MOST_CAGE_WEIGHTS = 60_000_000;

/**
 * Mean-value coordinates of every point against a closed triangle mesh (Ju, Schaefer and Warren 2005). They add up to 1
 * and bring a point back where it was while the cage is at rest, to rounding. Worked out once for the two arrays.
 */
export function bindToCage(mesh: Mesh, cage: Mesh, checkpoint: () => void): CageBinding {
  let mine = bindings.get(mesh.positions);
  if (!mine) bindings.set(mesh.positions, (mine = new WeakMap()));
  const known = mine.get(cage.positions);
  if (known) return known;
  const cagePoints = cage.topology.pointCount;
  const count = mesh.topology.pointCount;
  const weights = new Float32Array(cagePoints * count);
  const row = new Float64Array(cagePoints);
  const { points } = trianglesOf(cage.topology);
  for (let i = 0; i < count; i++) {
    if ((i & 63) === 0) checkpoint();
    meanValues(row, mesh.positions, i * 3, cage.positions, points);
    for (let c = 0; c < cagePoints; c++) weights[i * cagePoints + c] = row[c];
  }
  const bound = { cagePoints, weights };
  mine.set(cage.positions, bound);
  return bound;
}

/** Moves points by what the cage's points have moved since it was bound. */
export function followCage(
  out: Float32Array,
  source: Readonly<Float32Array>,
  bound: CageBinding,
  rest: Readonly<Float32Array>,
  now: Readonly<Float32Array>,
  { data: weight, step }: LaneView,
): Float32Array {
  const { cagePoints, weights } = bound;
  const moves = new Float64Array(cagePoints * 3);
  for (let c = 0; c < moves.length; c++) moves[c] = now[c] - rest[c];
  const pairs = out.length - (out.length % 6);
  // Two points at a time, as each move that is read serves both.
  for (let i = 0, o = 0, w = 0; o < pairs; i += 2 * step, o += 6, w += cagePoints) {
    let x = 0,
      y = 0,
      z = 0,
      nextX = 0,
      nextY = 0,
      nextZ = 0;
    for (let c = 0; c < moves.length; c += 3, w++) {
      const mine = weights[w];
      const next = weights[w + cagePoints];
      const moveX = moves[c],
        moveY = moves[c + 1],
        moveZ = moves[c + 2];
      x += mine * moveX;
      y += mine * moveY;
      z += mine * moveZ;
      nextX += next * moveX;
      nextY += next * moveY;
      nextZ += next * moveZ;
    }
    moveBy(out, source, o, weight[i], x, y, z);
    moveBy(out, source, o + 3, weight[i + step], nextX, nextY, nextZ);
  }
  if (pairs < out.length) {
    const i = pairs / 3;
    let x = 0,
      y = 0,
      z = 0;
    for (let c = 0, w = i * cagePoints; c < moves.length; c += 3, w++) {
      x += weights[w] * moves[c];
      y += weights[w] * moves[c + 1];
      z += weights[w] * moves[c + 2];
    }
    moveBy(out, source, pairs, weight[i * step], x, y, z);
  }
  return out;
}

function moveBy(out: Float32Array, p: Readonly<Float32Array>, o: number, w: number, x: number, y: number, z: number): void {
  out[o] = p[o] + w * x;
  out[o + 1] = p[o + 1] + w * y;
  out[o + 2] = p[o + 2] + w * z;
}

const EPSILON = 1e-7;
const directions = { u: new Float64Array(0), d: new Float64Array(0) };

function meanValues(
  out: Float64Array,
  p: Readonly<Float32Array>,
  o: number,
  cage: Readonly<Float32Array>,
  points: Readonly<Int32Array>,
): void {
  const count = cage.length / 3;
  if (directions.d.length < count) {
    directions.u = new Float64Array(count * 3);
    directions.d = new Float64Array(count);
  }
  const { u, d } = directions;
  out.fill(0);
  for (let c = 0; c < count; c++) {
    const x = cage[c * 3] - p[o],
      y = cage[c * 3 + 1] - p[o + 1],
      z = cage[c * 3 + 2] - p[o + 2];
    const l = Math.sqrt(x * x + y * y + z * z);
    if (l < EPSILON) {
      out[c] = 1;
      return;
    }
    d[c] = l;
    u[c * 3] = x / l;
    u[c * 3 + 1] = y / l;
    u[c * 3 + 2] = z / l;
  }
  const theta = [0, 0, 0];
  const cosine = [0, 0, 0];
  const sine = [0, 0, 0];
  for (let t = 0; t < points.length; t += 3) {
    const at = [points[t], points[t + 1], points[t + 2]];
    let half = 0;
    for (let k = 0; k < 3; k++) {
      const a = at[(k + 1) % 3] * 3;
      const b = at[(k + 2) % 3] * 3;
      const l = Math.hypot(u[a] - u[b], u[a + 1] - u[b + 1], u[a + 2] - u[b + 2]);
      theta[k] = 2 * Math.asin(Math.min(1, l / 2));
      half += theta[k] / 2;
    }
    if (Math.PI - half < EPSILON) {
      // The point lies on the triangle: plain barycentrics of it, and nothing else counts.
      out.fill(0);
      let sum = 0;
      for (let k = 0; k < 3; k++) {
        const w = Math.sin(theta[k]) * d[at[(k + 2) % 3]] * d[at[(k + 1) % 3]];
        out[at[k]] += w;
        sum += w;
      }
      for (let k = 0; k < 3; k++) out[at[k]] /= sum || 1;
      return;
    }
    const [a, b, c] = at.map((v) => v * 3);
    const determinant =
      u[a] * (u[b + 1] * u[c + 2] - u[b + 2] * u[c + 1]) +
      u[a + 1] * (u[b + 2] * u[c] - u[b] * u[c + 2]) +
      u[a + 2] * (u[b] * u[c + 1] - u[b + 1] * u[c]);
    const sign = determinant < 0 ? -1 : 1;
    let flat = false;
    for (let k = 0; k < 3; k++) {
      const next = (k + 1) % 3;
      const last = (k + 2) % 3;
      cosine[k] = (2 * Math.sin(half) * Math.sin(half - theta[k])) / (Math.sin(theta[next]) * Math.sin(theta[last])) - 1;
      sine[k] = sign * Math.sqrt(Math.max(0, 1 - cosine[k] * cosine[k]));
      if (!(Math.abs(sine[k]) > EPSILON)) flat = true;
    }
    if (flat) continue;
    for (let k = 0; k < 3; k++) {
      const next = (k + 1) % 3;
      const last = (k + 2) % 3;
      out[at[k]] +=
        (theta[k] - cosine[next] * theta[last] - cosine[last] * theta[next]) / (d[at[k]] * Math.sin(theta[next]) * sine[last]);
    }
  }
  let sum = 0;
  for (let c = 0; c < count; c++) sum += out[c];
  if (sum !== 0) for (let c = 0; c < count; c++) out[c] /= sum;
}
