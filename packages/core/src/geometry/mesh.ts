import { hashArrays } from '../hash.ts';
import { isMirroring, transformPacked, type Matrix } from '../maths/matrix.ts';
import { ATTRIBUTE_WIDTH, type Attribute, type AttributePlace } from './attributes.ts';
import { edgesOf } from './edges.ts';
import { turnFaces } from './turn.ts';

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

/** A surface material: a name and a base colour (linear r, g, b in 0..1). */
export interface Material {
  readonly name: string;
  readonly baseColour: readonly [number, number, number];
}

/**
 * Polygons over points. Immutable: a change makes a new mesh that shares every array it did not change.
 * `positions`: xyz × pointCount, metres. The face attributes `material` and `group` (integers) index `materials`
 * and `groups`; the edge attribute `hard` (toggle) tells where shading breaks; the corner attribute `uv` is a pair.
 */
export interface Mesh {
  readonly kind: 'mesh';
  readonly topology: Topology;
  readonly positions: Readonly<Float32Array>;
  readonly attributes: readonly Attribute[];
  readonly materials: readonly Material[];
  readonly groups: readonly string[];
}

/** Why a set of arrays is not a mesh, with the place. */
export class MeshError extends Error {}

/**
 * Builds a topology after checking it.
 * @throws MeshError when starts do not rise from 0 to the corner count, a face has fewer than 3 corners, or a
 * corner names a point that does not exist.
 */
export function makeTopology(
  faceStarts: Int32Array,
  cornerPoints: Int32Array,
  sourcePositions: Float32Array,
): Topology {
  const pointCount = sourcePositions.length / 3;
  if (!Number.isInteger(pointCount))
    throw new MeshError(`${sourcePositions.length} position numbers are not whole xyz triples.`);
  const faceCount = Math.max(0, faceStarts.length - 1);
  if (faceStarts.length === 0 || faceStarts[0] !== 0 || faceStarts[faceCount] !== cornerPoints.length) {
    throw new MeshError(
      `Face starts must begin at 0 and end at the number of corners, ${cornerPoints.length}.`,
    );
  }
  for (let f = 0; f < faceCount; f++) {
    if (faceStarts[f + 1] - faceStarts[f] < 3) throw new MeshError(`Face ${f} has fewer than 3 corners.`);
  }
  for (let c = 0; c < cornerPoints.length; c++) {
    const p = cornerPoints[c];
    if (p < 0 || p >= pointCount)
      throw new MeshError(`Corner ${c} names point ${p}, but there are ${pointCount} points.`);
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

/** What `makeMesh` takes besides the topology; all optional. */
export interface MeshExtras {
  attributes?: readonly Attribute[];
  materials?: readonly Material[];
  groups?: readonly string[];
}

/**
 * Builds a mesh from arrays it takes over (they must not be written to afterwards).
 * @throws MeshError as `makeTopology`, and when an attribute's length or kind of numbers does not fit what it is.
 */
export function makeMesh(
  positions: Float32Array,
  faceStarts: Int32Array,
  cornerPoints: Int32Array,
  extras: MeshExtras = {},
): Mesh {
  const topology = makeTopology(faceStarts, cornerPoints, positions);
  const mesh: Mesh = {
    kind: 'mesh',
    topology,
    positions,
    attributes: extras.attributes ?? [],
    materials: extras.materials ?? [],
    groups: extras.groups ?? [],
  };
  for (const a of mesh.attributes) {
    const expected = elementCount(mesh.topology, a.on) * ATTRIBUTE_WIDTH[a.type];
    if (a.data.length !== expected) {
      throw new MeshError(
        `Attribute "${a.name}" has ${a.data.length} numbers; ${a.type} on ${a.on} needs ${expected}.`,
      );
    }
    const whole = a.type === 'integer' || a.type === 'toggle';
    if (whole !== a.data instanceof Int32Array) {
      throw new MeshError(
        `Attribute "${a.name}" is ${a.type}, which is kept as ${whole ? 'int32' : 'float32'}, but ${whole ? 'float32' : 'int32'} numbers are given.`,
      );
    }
  }
  return mesh;
}

/** A mesh with no points. */
export const emptyMesh = (): Mesh => makeMesh(new Float32Array(0), Int32Array.of(0), new Int32Array(0));

/** How many elements of a kind there are. */
export function elementCount(topology: Topology, on: AttributePlace): number {
  if (on === 'point') return topology.pointCount;
  if (on === 'corner') return topology.cornerCount;
  if (on === 'face') return topology.faceCount;
  return edgesOf(topology).count;
}

/** The same mesh with other positions (xyz × the same count); everything else is shared. */
export function withPositions(mesh: Mesh, positions: Float32Array): Mesh {
  return { ...mesh, positions };
}

/** The same mesh with an attribute added, or put in the place of one with its name and place. */
export function withAttribute(mesh: Mesh, attribute: Attribute): Mesh {
  const others = mesh.attributes.filter((a) => a.name !== attribute.name || a.on !== attribute.on);
  return { ...mesh, attributes: [...others, attribute] };
}

/** The attribute of that name and place, or undefined. */
export function findAttribute(mesh: Mesh, name: string, on: AttributePlace): Attribute | undefined {
  return mesh.attributes.find((a) => a.name === name && a.on === on);
}

/**
 * The mesh taken through a matrix: positions as points, attributes by their role (DECISIONS 7). A matrix that mirrors
 * turns the faces round, so that what was outside stays outside (DECISIONS 30).
 * @param allocate gives the arrays for the new values (count of numbers → array).
 */
export function transformMesh(
  mesh: Mesh,
  m: Readonly<Matrix>,
  allocate: (count: number) => Float32Array,
): Mesh {
  const positions = transformPacked(allocate(mesh.positions.length), mesh.positions, m, 'position');
  const attributes = mesh.attributes.map((a) => {
    if (a.role === 'plain' || a.type !== 'vector' || !(a.data instanceof Float32Array)) return a;
    return { ...a, data: transformPacked(allocate(a.data.length), a.data, m, a.role) };
  });
  const moved = { ...mesh, positions, attributes };
  return isMirroring(m) ? turnFaces(moved) : moved;
}
