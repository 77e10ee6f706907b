import type { Mesh } from '../geometry/mesh.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { memoize } from '../memo.ts';
import { toTriangle } from '../nearest/closest.ts';

/** What surfaces measure by other means than the ones that are tested. */

/** Volume by the divergence theorem: positive when faces look outwards. */
export function volumeOf(mesh: Mesh): number {
  const { points } = trianglesOf(mesh.topology);
  const p = mesh.positions;
  let sum = 0;
  for (let i = 0; i < points.length; i += 3) {
    const [a, b, c] = [points[i] * 3, points[i + 1] * 3, points[i + 2] * 3];
    sum +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
}

/** Corners of all triangles, nine numbers each. */
export const packedTriangles = memoize(({ topology, positions }: Mesh): Float32Array => {
  const { points } = trianglesOf(topology);
  return Float32Array.from({ length: points.length * 3 }, (_, i) => positions[points[Math.floor(i / 3)] * 3 + (i % 3)]);
});

/**
 * Signed distances by other means: the nearest of all triangles, inside where the solid angles of all triangles add up to
 * a whole sphere (Van Oosterom and Strackee 1983).
 */
export function signedPlainly(mesh: Mesh, x: number, y: number, z: number): number {
  const packed = packedTriangles(mesh);
  const count = packed.length / 9;
  let squared = Infinity;
  let angle = 0;
  for (let t = 0; t < count; t++) {
    squared = Math.min(squared, toTriangle(packed, t * 9, x, y, z));
    const [a, b, c] = [0, 3, 6].map((k) => [packed[t * 9 + k] - x, packed[t * 9 + k + 1] - y, packed[t * 9 + k + 2] - z]);
    const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
    const [la, lb, lc] = [a, b, c].map((v) => Math.hypot(...v));
    const volume = a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
    angle += 2 * Math.atan2(volume, la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb);
  }
  return Math.sqrt(squared) * (angle > 2 * Math.PI ? -1 : 1);
}
