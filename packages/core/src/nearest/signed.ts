import { edgesOf } from '../geometry/edges.ts';
import { makeTopology, type Mesh } from '../geometry/mesh.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { memoize } from '../memo.ts';
import { indexOf } from './shared.ts';
import type { SpatialIndex } from './spatial-index.ts';

/** The triangles of a topology as a topology of their own, to know their edges. */
const cutTopology = memoize((topology: Mesh['topology']) => {
  const { points, count } = trianglesOf(topology);
  const starts = Int32Array.from({ length: count + 1 }, (_, i) => i * 3);
  return makeTopology(starts, Int32Array.from(points), topology.sourcePositions as Float32Array);
});

/** Whether a surface has an inside: every edge has two faces, which run along it in opposite directions. */
export const isClosed = memoize((topology: Mesh['topology']): boolean => {
  const { faceStarts, cornerPoints, faceCount } = topology;
  const { count, points, cornerEdges } = edgesOf(topology);
  const sums = new Int32Array(count);
  const uses = new Int32Array(count);
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const e = cornerEdges[c];
      sums[e] += cornerPoints[c] === points[e * 2] ? 1 : -1;
      uses[e]++;
    }
  }
  return faceCount > 0 && sums.every((s) => s === 0) && uses.every((u) => u === 2);
});

/** Directions that tell inside from outside, at the triangles, edges and points of a surface; not of length 1. */
interface PseudoNormals {
  readonly triangles: Float32Array;
  readonly edges: Float32Array;
  readonly points: Float32Array;
}

/** Angle-weighted pseudo-normals (Bærentzen and Aanæs 2005); worked out once per mesh. */
const pseudoNormals = memoize((mesh: Mesh): PseudoNormals => {
  const cut = cutTopology(mesh.topology);
  const { cornerEdges, count } = edgesOf(cut);
  const p = mesh.positions;
  const triangles = new Float32Array(cut.faceCount * 3);
  const edges = new Float32Array(count * 3);
  const points = new Float32Array(p.length);
  for (let t = 0; t < cut.faceCount; t++) {
    const corner = (k: number) => cut.cornerPoints[t * 3 + (k % 3)] * 3;
    const side = (k: number, axis: number) => p[corner(k + 1) + axis] - p[corner(k) + axis];
    const [ux, uy, uz] = [side(0, 0), side(0, 1), side(0, 2)];
    const [vx, vy, vz] = [-side(2, 0), -side(2, 1), -side(2, 2)];
    let n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const size = Math.hypot(...n);
    if (!(size > 0)) continue;
    n = n.map((v) => v / size);
    for (let k = 0; k < 3; k++) {
      const a = [side(k, 0), side(k, 1), side(k, 2)];
      const b = [-side(k + 2, 0), -side(k + 2, 1), -side(k + 2, 2)];
      const cosine = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b));
      const angle = Math.acos(Math.min(1, Math.max(-1, cosine))) || 0;
      for (let axis = 0; axis < 3; axis++) {
        triangles[t * 3 + axis] = n[axis];
        edges[cornerEdges[t * 3 + k] * 3 + axis] += n[axis];
        points[corner(k) + axis] += n[axis] * angle;
      }
    }
  }
  return { triangles, edges, points };
});

const FLAT = 1e-9;

/**
 * Signs distances to a closed surface: negative inside. Call right after `nearest` of its index of faces.
 * @returns 1 outside or on it, −1 inside.
 */
export function makeSign(
  mesh: Mesh,
  index: SpatialIndex,
): (triangle: number, x: number, y: number, z: number) => 1 | -1 {
  const { triangles, edges, points } = pseudoNormals(mesh);
  const cut = cutTopology(mesh.topology);
  const { cornerEdges } = edgesOf(cut);
  const p = mesh.positions;
  return (triangle, x, y, z) => {
    const weights = [1 - index.weightB - index.weightC, index.weightB, index.weightC];
    const gone = weights.map((w) => w <= FLAT);
    const missing = Number(gone[0]) + Number(gone[1]) + Number(gone[2]);
    let normals = triangles;
    let o = triangle * 3;
    if (missing === 2) {
      normals = points;
      o = cut.cornerPoints[triangle * 3 + gone.indexOf(false)] * 3;
    } else if (missing === 1) {
      normals = edges;
      o = cornerEdges[triangle * 3 + ((gone.indexOf(true) + 1) % 3)] * 3;
    }
    let side = 0;
    for (let axis = 0; axis < 3; axis++) {
      let at = 0;
      for (let k = 0; k < 3; k++) at += p[cut.cornerPoints[triangle * 3 + k] * 3 + axis] * weights[k];
      side += ((axis === 0 ? x : axis === 1 ? y : z) - at) * normals[o + axis];
    }
    return side < 0 ? -1 : 1;
  };
}

/** Signed distances of places (xyz × n) to a closed surface, for tests and small uses; Infinity when it is empty. */
export function signedDistances(mesh: Mesh, places: Readonly<Float32Array>): Float64Array {
  const index = indexOf(mesh, 'faces');
  const sign = makeSign(mesh, index);
  const out = new Float64Array(places.length / 3).fill(Infinity);
  for (let i = 0, o = 0; i < out.length; i++, o += 3) {
    const found = index.nearest(places[o], places[o + 1], places[o + 2]);
    if (found >= 0)
      out[i] = Math.sqrt(index.distanceSquared) * sign(found, places[o], places[o + 1], places[o + 2]);
  }
  return out;
}
