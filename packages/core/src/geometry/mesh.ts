import { ATTRIBUTE_WIDTH, type Attribute, type AttributePlace } from './attributes.ts';
import { edgesOf } from './edges.ts';
import type { Material } from './materials.ts';
import { makeTopology, MeshError, type Topology } from './topology.ts';

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
      throw new MeshError(`Attribute "${a.name}" has ${a.data.length} numbers; ${a.type} on ${a.on} needs ${expected}.`);
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
