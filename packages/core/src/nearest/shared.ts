import { charged } from '../geometry/derive.ts';
import { edgesOf } from '../geometry/edges.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { Topology } from '../geometry/topology.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { SpatialIndex, type PrimitiveSize } from './spatial-index.ts';

/** What of a mesh is near: its points, its edges or its faces. */
export type NearestOn = 'points' | 'edges' | 'faces';

const SIZES: Record<NearestOn, PrimitiveSize> = { points: 1, edges: 2, faces: 3 };
/** A tree whose boxes have grown beyond this is built anew. */
const WORN = 2.5;

const trees = new WeakMap<Topology, Map<NearestOn, SpatialIndex>>();
const fitted = new WeakMap<Readonly<Float32Array>, Map<string, SpatialIndex>>();

/**
 * The index of a mesh, made once for its positions and shared by all that ask. The tree is shared by all meshes of the
 * topology (DECISIONS 16): positions that moved only refit the boxes, unless that made them much too large.
 */
export function indexOf(mesh: Mesh, on: NearestOn): SpatialIndex {
  let mine = fitted.get(mesh.positions);
  if (!mine) fitted.set(mesh.positions, (mine = new Map()));
  const key = `${on} ${mesh.topology.id}`;
  const known = mine.get(key);
  if (known) return known;
  let shared = trees.get(mesh.topology);
  if (!shared) trees.set(mesh.topology, (shared = new Map()));
  const corners = cornersOf(mesh.topology, on);
  const first = shared.get(on);
  let index = new SpatialIndex(mesh.positions, SIZES[on], corners, first);
  if (first && index.wear > WORN) index = new SpatialIndex(mesh.positions, SIZES[on], corners);
  if (index.tree !== first?.tree) {
    shared.set(on, index);
    charged(mesh.topology.cornerPoints.buffer, index.tree);
  }
  charged(mesh.positions.buffer, [index.packed, index.records]);
  mine.set(key, index);
  return index;
}

/** Points of each primitive; undefined where each point is one. */
export function cornersOf(topology: Topology, on: NearestOn): Readonly<Int32Array> | undefined {
  if (on === 'points') return undefined;
  return on === 'edges' ? edgesOf(topology).points : trianglesOf(topology).points;
}
