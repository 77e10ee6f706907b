import { memoize } from '../memo.ts';
import { charged, ofTopology } from './derive.ts';
import { edgesOf } from './edges.ts';
import { findAttribute, type Mesh } from './mesh.ts';
import type { Topology } from './topology.ts';

/**
 * Vertices as a picture or a triangle file needs them: a point is split where shading breaks along hard edges.
 * The first vertex of every point has the point's own index, so vertex i of the first pointCount is point i.
 */
export interface ShadingVertices {
  readonly count: number;
  /** The point of each vertex. */
  readonly vertexPoints: Int32Array;
  /** The vertex of each corner. */
  readonly cornerVertices: Readonly<Int32Array>;
}

const noHardEdges = ofTopology((topology: Topology): ShadingVertices => ({
  count: topology.pointCount,
  vertexPoints: Int32Array.from({ length: topology.pointCount }, (_, i) => i),
  cornerVertices: topology.cornerPoints,
}));

const byHardEdges = memoize((hard: object): WeakMap<Topology, ShadingVertices> => (void hard, new WeakMap()));

/** Splits a mesh's points along its hard edges (`hard` on edges); worked out once per topology and attribute. */
export function shadingVertices(mesh: Mesh): ShadingVertices {
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  if (!hard || !hard.some((h) => h !== 0)) return noHardEdges(mesh.topology);
  const known = byHardEdges(hard);
  let result = known.get(mesh.topology);
  if (!result) {
    const split = splitCorners(mesh.topology, (edge) => hard[edge] !== 0);
    result = charged(mesh.topology.cornerPoints.buffer, split);
    known.set(mesh.topology, result);
  }
  return result;
}

function splitCorners(topology: Topology, isHard: (edge: number) => boolean): ShadingVertices {
  const { faceStarts, cornerPoints, faceCount, cornerCount, pointCount } = topology;
  const { cornerEdges, count: edgeCount } = edgesOf(topology);
  // 1. Corners of one point are one vertex when a soft edge joins their faces (union–find over corners).
  const parent = Int32Array.from({ length: cornerCount }, (_, i) => i);
  const find = (c: number): number => {
    let root = c;
    while (parent[root] !== root) root = parent[root];
    while (parent[c] !== root) [parent[c], c] = [root, parent[c]];
    return root;
  };
  const join = (a: number, b: number) => {
    const ra = find(a);
    const rb = find(b);
    if (ra !== rb) parent[Math.max(ra, rb)] = Math.min(ra, rb);
  };
  const lowCorner = new Int32Array(edgeCount).fill(-1);
  const highCorner = new Int32Array(edgeCount).fill(-1);
  for (let f = 0; f < faceCount; f++) {
    const s = faceStarts[f];
    const e = faceStarts[f + 1];
    for (let c = s; c < e; c++) {
      const edge = cornerEdges[c];
      if (isHard(edge)) continue;
      const next = c + 1 < e ? c + 1 : s;
      const low = cornerPoints[c] < cornerPoints[next] ? c : next;
      const high = low === c ? next : c;
      if (lowCorner[edge] >= 0) {
        join(lowCorner[edge], low);
        join(highCorner[edge], high);
      } else {
        lowCorner[edge] = low;
        highCorner[edge] = high;
      }
    }
  }
  // 2. The first group of a point keeps the point's index; further groups are appended.
  const first = new Int32Array(pointCount).fill(-1);
  const vertexOfRoot = new Int32Array(cornerCount).fill(-1);
  const cornerVertices = new Int32Array(cornerCount);
  const extra: number[] = [];
  for (let c = 0; c < cornerCount; c++) {
    const root = find(c);
    const p = cornerPoints[c];
    if (vertexOfRoot[root] < 0) {
      if (first[p] < 0) {
        first[p] = root;
        vertexOfRoot[root] = p;
      } else {
        vertexOfRoot[root] = pointCount + extra.length;
        extra.push(p);
      }
    }
    cornerVertices[c] = vertexOfRoot[root];
  }
  const vertexPoints = new Int32Array(pointCount + extra.length);
  for (let i = 0; i < pointCount; i++) vertexPoints[i] = i;
  vertexPoints.set(extra, pointCount);
  return { count: vertexPoints.length, vertexPoints, cornerVertices };
}
