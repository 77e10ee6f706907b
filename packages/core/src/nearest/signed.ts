import { ofMesh, ofTopology } from '../geometry/derive.ts';
import { edgesOf, type Edges } from '../geometry/edges.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { soundTopology, type Topology } from '../geometry/topology.ts';
import { placesOf } from '../geometry/places.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { memoize } from '../memo.ts';
import { closest, toTriangle } from './closest.ts';
import { indexOf } from './shared.ts';
import type { SpatialIndex } from './spatial-index.ts';

/** The triangles of a topology as a topology of their own, to know their edges. */
const cutTopology = ofTopology((topology: Topology): Topology => {
  const { points, count } = trianglesOf(topology);
  const starts = Int32Array.from({ length: count + 1 }, (_, i) => i * 3);
  return soundTopology(`${topology.id}-cut`, starts, points, topology.sourcePositions as Float32Array);
});

/** A topology whose corners name the lowest point at their place; itself where no two points share one. */
function welded(topology: Topology, positions: Readonly<Float32Array>): Topology {
  const { places } = placesOf(positions);
  if (!places) return topology;
  return { ...topology, cornerPoints: topology.cornerPoints.map((p) => places[p]) };
}

/** Whether every edge has two faces, which run along it in opposite directions. Edges without a length do not count. */
function everyEdgeIsShared(topology: Topology): boolean {
  const { faceStarts, cornerPoints, faceCount } = topology;
  const { count, points, cornerEdges } = edgesOf(topology);
  const sums = new Int32Array(count);
  const uses = new Int32Array(count);
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const e = cornerEdges[c];
      if (points[e * 2] === points[e * 2 + 1]) continue;
      sums[e] += cornerPoints[c] === points[e * 2] ? 1 : -1;
      uses[e]++;
    }
  }
  return faceCount > 0 && sums.every((s) => s === 0) && uses.every((u) => u === 2 || u === 0);
}

const closedByPoints = memoize(everyEdgeIsShared);
const closedByPlaces = memoize((mesh: Mesh) => everyEdgeIsShared(welded(mesh.topology, mesh.positions)));

/**
 * Whether a surface has an inside: every edge has two faces, which run along it in opposite directions. Where points
 * are not shared, those at one place count as one (DECISIONS 34).
 */
export const isClosed = (mesh: Mesh): boolean =>
  closedByPoints(mesh.topology) || (!!placesOf(mesh.positions).places && closedByPlaces(mesh));

/** Directions that tell inside from outside, at the triangles, edges and places of a surface; not of length 1. */
interface PseudoNormals {
  readonly cut: Topology;
  readonly edgesOfCut: Edges;
  readonly triangles: Float32Array;
  readonly edges: Float32Array;
  readonly points: Float32Array;
  /** Edges and points where that does not tell: a face without area is there, or an edge has not two faces. */
  readonly oddEdges: Uint8Array;
  readonly oddPoints: Uint8Array;
}

/** Less than this share of its sides' product is no area: what rounding leaves of none. */
const NO_AREA = 1e-14;

/** Angle-weighted pseudo-normals (Bærentzen and Aanæs 2005), by places; worked out once per mesh. */
const pseudoNormals = ofMesh((mesh: Mesh): PseudoNormals => {
  const p = mesh.positions;
  const cut = welded(cutTopology(mesh.topology), p);
  const edgesOfCut = edgesOf(cut);
  const { cornerEdges, count } = edgesOfCut;
  const triangles = new Float32Array(cut.faceCount * 3);
  const edges = new Float32Array(count * 3);
  const points = new Float32Array(p.length);
  const faces = new Uint8Array(count);
  const oddEdges = new Uint8Array(count);
  const oddPoints = new Uint8Array(p.length / 3);
  const side = new Float64Array(9);
  for (let t = 0; t < cut.faceCount; t++) {
    // 1. Sides from each corner to the next, and the normal.
    const corners = cut.cornerPoints;
    for (let k = 0; k < 3; k++)
      for (let axis = 0; axis < 3; axis++)
        side[k * 3 + axis] = p[corners[t * 3 + ((k + 1) % 3)] * 3 + axis] - p[corners[t * 3 + k] * 3 + axis];
    const nx = side[1] * side[5] - side[2] * side[4];
    const ny = side[2] * side[3] - side[0] * side[5];
    const nz = side[0] * side[4] - side[1] * side[3];
    const size = Math.hypot(nx, ny, nz);
    const [a, b, c] = [0, 3, 6].map((o) => Math.hypot(side[o], side[o + 1], side[o + 2]));
    if (!(size > NO_AREA * Math.max(a * b, b * c, c * a)) || !(size < Infinity)) {
      for (let k = 0; k < 3; k++) {
        oddEdges[cornerEdges[t * 3 + k]] = 1;
        oddPoints[corners[t * 3 + k]] = 1;
      }
      continue;
    }
    const n = [nx / size, ny / size, nz / size];
    const lengths = [a, b, c];
    // 2. It counts at its edges alike, at its corners by their angle.
    for (let k = 0; k < 3; k++) {
      const back = (k + 2) % 3;
      const dot = -(side[k * 3] * side[back * 3] + side[k * 3 + 1] * side[back * 3 + 1] + side[k * 3 + 2] * side[back * 3 + 2]);
      const angle = Math.acos(Math.min(1, Math.max(-1, dot / (lengths[k] * lengths[back]))));
      const edge = cornerEdges[t * 3 + k];
      faces[edge] = Math.min(3, faces[edge] + 1);
      for (let axis = 0; axis < 3; axis++) {
        triangles[t * 3 + axis] = n[axis];
        edges[edge * 3 + axis] += n[axis];
        points[corners[t * 3 + k] * 3 + axis] += n[axis] * angle;
      }
    }
  }
  for (let e = 0; e < count; e++) if (faces[e] !== 2) oddEdges[e] = 1;
  return { cut, edgesOfCut, triangles, edges, points, oddEdges, oddPoints };
});

/** A weight up to this is none: the place is on the edge, or at the point. */
const FLAT = 1e-9;
/** Of the size of coordinates: within this, what touches a place touches it. */
const TOUCH = 2 ** -44;

/** Tells on which side of a closed surface a place is whose nearest triangle is known: 1 outside or on it, −1 inside. */
export type Sign = (triangle: number, x: number, y: number, z: number) => 1 | -1;

/**
 * Signs distances to a closed surface: negative inside. Call right after `nearest` of its index of faces.
 * At edges and points where faces without area are, or more than two faces meet, the faces that really touch the place
 * are asked, each by the angle it has there.
 */
export function makeSign(mesh: Mesh, index: SpatialIndex): Sign {
  const normals = pseudoNormals(mesh);
  const { cut, triangles, edges, points, oddEdges, oddPoints } = normals;
  const { cornerEdges } = normals.edgesOfCut;
  const p = mesh.positions;
  const place = new Float64Array(3);
  const weights = new Float64Array(3);
  return (triangle, x, y, z) => {
    weights[0] = 1 - index.weightB - index.weightC;
    weights[1] = index.weightB;
    weights[2] = index.weightC;
    let missing = 0;
    let there = 0;
    let gone = 0;
    for (let k = 0; k < 3; k++) {
      if (weights[k] > FLAT) there = k;
      else {
        gone = k;
        missing++;
      }
    }
    let from = triangles;
    let o = triangle * 3;
    let odd = false;
    if (missing === 2) {
      const point = cut.cornerPoints[triangle * 3 + there];
      from = points;
      o = point * 3;
      odd = oddPoints[point] !== 0;
    } else if (missing === 1) {
      const edge = cornerEdges[triangle * 3 + ((gone + 1) % 3)];
      from = edges;
      o = edge * 3;
      odd = oddEdges[edge] !== 0;
    }
    for (let axis = 0; axis < 3; axis++) {
      place[axis] = 0;
      for (let k = 0; k < 3; k++)
        if (weights[k] > FLAT) place[axis] += p[cut.cornerPoints[triangle * 3 + k] * 3 + axis] * weights[k];
    }
    let side = 0;
    if (odd) {
      const n = normalAt(index, normals, p, place);
      side = (x - place[0]) * n[0] + (y - place[1]) * n[1] + (z - place[2]) * n[2];
    } else side = (x - place[0]) * from[o] + (y - place[1]) * from[o + 1] + (z - place[2]) * from[o + 2];
    return side < 0 ? -1 : 1;
  };
}

const packed = new Float32Array(9);
const normal = new Float64Array(3);

/** The angle-weighted normal of all faces that touch a place, as they are there: at a corner, on an edge or within. */
function normalAt(
  index: SpatialIndex,
  { cut, triangles }: PseudoNormals,
  p: Readonly<Float32Array>,
  place: Readonly<Float64Array>,
): Float64Array {
  normal.fill(0);
  for (const t of index.touching(place[0], place[1], place[2], TOUCH)) {
    for (let k = 0; k < 9; k++) packed[k] = p[cut.cornerPoints[t * 3 + Math.floor(k / 3)] * 3 + (k % 3)];
    toTriangle(packed, 0, place[0], place[1], place[2]);
    const weights = [1 - closest.b - closest.c, closest.b, closest.c];
    const on = weights.filter((w) => w > FLAT).length;
    const corner = weights.findIndex((w) => w > FLAT);
    const angle = on === 3 ? 2 * Math.PI : on === 2 ? Math.PI : angleAt(packed, corner);
    for (let axis = 0; axis < 3; axis++) normal[axis] += triangles[t * 3 + axis] * angle;
  }
  return normal;
}

/** The angle of a packed triangle at a corner; 0 for none. */
function angleAt(t: Readonly<Float32Array>, corner: number): number {
  const [u, v] = [1, 2].map((k) => [0, 1, 2].map((axis) => t[((corner + k) % 3) * 3 + axis] - t[corner * 3 + axis]));
  const dot = u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
  return Math.acos(Math.min(1, Math.max(-1, dot / (Math.hypot(...u) * Math.hypot(...v))))) || 0;
}

/** Signed distances of places (xyz × n) to a closed surface, for tests and small uses; Infinity when it is empty. */
export function signedDistances(mesh: Mesh, places: Readonly<Float32Array>): Float64Array {
  const index = indexOf(mesh, 'faces');
  const sign = makeSign(mesh, index);
  const out = new Float64Array(places.length / 3).fill(Infinity);
  for (let i = 0, o = 0; i < out.length; i++, o += 3) {
    const found = index.nearest(places[o], places[o + 1], places[o + 2]);
    if (found >= 0) out[i] = Math.sqrt(index.distanceSquared) * sign(found, places[o], places[o + 1], places[o + 2]);
  }
  return out;
}
