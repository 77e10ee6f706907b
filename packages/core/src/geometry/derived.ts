import { memoize } from '../memo.ts';
import { boundsOf, type Bounds } from './bounds.ts';
import { derivedFrom } from './derive.ts';
import type { Mesh } from './mesh.ts';
import { computeNormals, type Checkpoint, type NormalWeighting } from './normals.ts';

/**
 * Normals of a mesh's points (see `computeNormals`); see {@link derivedFrom}.
 * @param room gives memory for them, if they are not known
 * @param targets what each corner adds to: its point, or a vertex of the shading (`shadingVertices`)
 */
export function normalsOf(
  mesh: Mesh,
  weighting: NormalWeighting = 'angle',
  checkpoint?: Checkpoint,
  room: (count: number) => Float32Array = (count) => new Float32Array(count),
  targets: { readonly of: Readonly<Int32Array>; readonly count: number } = {
    of: mesh.topology.cornerPoints,
    count: mesh.topology.pointCount,
  },
): Readonly<Float32Array> {
  const { topology, positions } = mesh;
  return derivedFrom(positions, [topology, weighting, targets.of], () =>
    computeNormals(room(targets.count * 3), positions, topology, targets.of, weighting, checkpoint),
  );
}

/** Bounds of positions that nobody writes to any more; worked out once. */
export const knownBounds: (positions: Readonly<Float32Array>) => Bounds = memoize((positions) => boundsOf(positions));
