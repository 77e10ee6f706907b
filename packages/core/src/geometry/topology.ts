import { hashArrays } from '../hash.ts';

/**
 * How faces are joined to points; shared by every deformation of a mesh, so that what is derived from it
 * (edges, triangles, adjacency) is worked out once. Never written to once made.
 */
export interface Topology {
  /** Content hash: equal topologies have equal ids, in every process. */
  readonly id: string;
  readonly pointCount: number;
  readonly faceCount: number;
  readonly cornerCount: number;
  /** First corner of each face, faceCount + 1 numbers; face f has corners faceStarts[f] .. faceStarts[f + 1] − 1. */
  readonly faceStarts: Readonly<Int32Array>;
  /** The point of each corner. */
  readonly cornerPoints: Readonly<Int32Array>;
  /** Positions when the mesh was made: polygons are cut into triangles by these, once (DECISIONS 16). */
  readonly sourcePositions: Readonly<Float32Array>;
  /** The topology whose faces are turned round in this one; undefined where none were. */
  readonly turnedFrom?: Topology;
}

/**
 * Tells whose elements a column is about (DECISIONS 14): equal for topologies whose elements of that kind are numbered
 * alike. Turning faces round renumbers corners and edges, but neither points nor faces.
 */
export const elementsId = (topology: Topology, on: string): string =>
  (on === 'corner' || on === 'edge' ? topology : (topology.turnedFrom ?? topology)).id;

/** Why a set of arrays is not a mesh, with the place. */
export class MeshError extends Error {}

/**
 * Builds a topology after checking it.
 * @throws MeshError when starts do not rise from 0 to the corner count, a face has fewer than 3 corners, or a
 * corner names a point that does not exist.
 */
export function makeTopology(faceStarts: Int32Array, cornerPoints: Int32Array, sourcePositions: Float32Array): Topology {
  const pointCount = sourcePositions.length / 3;
  if (!Number.isInteger(pointCount)) throw new MeshError(`${sourcePositions.length} position numbers are not whole xyz triples.`);
  const faceCount = Math.max(0, faceStarts.length - 1);
  if (faceStarts.length === 0 || faceStarts[0] !== 0 || faceStarts[faceCount] !== cornerPoints.length) {
    throw new MeshError(`Face starts must begin at 0 and end at the number of corners, ${cornerPoints.length}.`);
  }
  for (let f = 0; f < faceCount; f++) {
    if (faceStarts[f + 1] - faceStarts[f] < 3) throw new MeshError(`Face ${f} has fewer than 3 corners.`);
  }
  for (let c = 0; c < cornerPoints.length; c++) {
    const p = cornerPoints[c];
    if (p < 0 || p >= pointCount) throw new MeshError(`Corner ${c} names point ${p}, but there are ${pointCount} points.`);
  }
  const id = `${pointCount}p${faceCount}f-${hashArrays(faceStarts, cornerPoints)}`;
  return soundTopology(id, faceStarts, cornerPoints, sourcePositions);
}

/** A topology that is known to be sound, since it was made from another by a rule that the id names. */
export const soundTopology = (
  id: string,
  faceStarts: Int32Array,
  cornerPoints: Int32Array,
  sourcePositions: Float32Array,
): Topology => ({
  id,
  pointCount: sourcePositions.length / 3,
  faceCount: Math.max(0, faceStarts.length - 1),
  cornerCount: cornerPoints.length,
  faceStarts,
  cornerPoints,
  sourcePositions,
});
