import { edgesOf } from '../geometry/edges.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { ProofError } from './trial.ts';

/** The largest distance between points of two meshes of one order, and which point it is. */
export function farthest(a: Readonly<Float32Array>, b: Readonly<Float32Array>): { most: number; at: number } {
  if (a.length !== b.length) throw new ProofError('The number of points is another.');
  let most = 0;
  let at = 0;
  for (let i = 0; i < a.length; i += 3) {
    const d = Math.hypot(a[i] - b[i], a[i + 1] - b[i + 1], a[i + 2] - b[i + 2]);
    // What is not a number is farther than anything.
    if (Number.isNaN(d)) return { most: NaN, at: i / 3 };
    if (d > most) [most, at] = [d, i / 3];
  }
  return { most, at };
}

export function stretchOf(rest: Mesh, now: Readonly<Float32Array>): { least: number; most: number; at: number } {
  const { points, count } = edgesOf(rest.topology);
  const length = (p: Readonly<Float32Array>, e: number) => {
    const [a, b] = [points[e * 2] * 3, points[e * 2 + 1] * 3];
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  let [least, most, at] = [Infinity, 0, 0];
  for (let e = 0; e < count; e++) {
    const was = length(rest.positions, e);
    if (was === 0) continue;
    const by = length(now, e) / was;
    if (Number.isNaN(by)) return { least: NaN, most: NaN, at: points[e * 2] };
    if (by < least) least = by;
    if (by > most) [most, at] = [by, points[e * 2]];
  }
  return { least, most, at };
}

/** The area of a mesh: of its triangles, together. */
export function areaOf({ topology, positions: p }: Mesh): number {
  const { points } = trianglesOf(topology);
  let sum = 0;
  for (let t = 0; t < points.length; t += 3) {
    const [a, b, c] = [points[t] * 3, points[t + 1] * 3, points[t + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    sum += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  }
  return sum / 2;
}

/** The volume that a closed mesh holds: tetrahedra from the origin to each triangle. */
export function volumeOf({ topology, positions: p }: Mesh): number {
  const { points } = trianglesOf(topology);
  let sum = 0;
  for (let t = 0; t < points.length; t += 3) {
    const [a, b, c] = [points[t] * 3, points[t + 1] * 3, points[t + 2] * 3];
    sum +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) -
      p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
}
