import { ATTRIBUTE_WIDTH, type AttributePlace } from '../../geometry/attributes.ts';
import { elementCount, findAttribute, type Mesh } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import { normalsOf } from '../../geometry/derived.ts';
import { moveValues } from '../../geometry/spread.ts';
import type { Column } from './values.ts';

/** Names every mesh gives, besides its attributes, and how many numbers each has per element. */
export const MESH_NAMES: Readonly<Record<string, 1 | 3>> = { position: 3, normal: 3 };

/** All names a mesh gives: one number per element, or three. */
export function meshNames(mesh: Mesh): ReadonlyMap<string, 1 | 3> {
  const own = mesh.attributes.map((a): [string, 1 | 3] => [a.name, ATTRIBUTE_WIDTH[a.type] === 1 ? 1 : 3]);
  return new Map([...own, ...Object.entries(MESH_NAMES)]);
}

/**
 * Values of a mesh by name, on the elements asked for: `position` and `normal` of the points, or an attribute. What
 * sits on something else is averaged or copied over; normals keep length 1. Pairs get 0 for z.
 * @returns undefined when the mesh has no such name.
 */
export function meshColumn(mesh: Mesh, name: string, on: AttributePlace): Column | undefined {
  const make = (data: Column['data'], width: number, role: Column['role']): Column => ({
    form: 'column',
    kind: width === 3 ? 'vector' : data instanceof Int32Array ? 'integer' : 'number',
    count: elementCount(mesh.topology, on),
    data,
    on,
    owner: elementsId(mesh.topology, on),
    role,
  });
  if (name === 'position' || name === 'normal') {
    const role = name === 'position' ? 'position' : 'normal';
    const data = name === 'position' ? mesh.positions : normalsOf(mesh);
    if (on === 'point') return make(data, 3, role);
    const moved = moveValues(mesh.topology, data, 3, 'point', on);
    return make(role === 'normal' ? unitLength(moved) : moved, 3, role);
  }
  const found = findAttribute(mesh, name, on) ?? mesh.attributes.find((a) => a.name === name);
  if (!found) return undefined;
  const width = ATTRIBUTE_WIDTH[found.type];
  const data = found.on === on ? found.data : moveValues(mesh.topology, found.data, width, found.on, on);
  return make(width === 2 ? threeWide(data) : data, width === 1 ? 1 : 3, found.role);
}

function threeWide(pairs: Readonly<Float32Array | Int32Array>): Float32Array {
  const out = new Float32Array((pairs.length / 2) * 3);
  for (let i = 0, o = 0; i < pairs.length; i += 2, o += 3) {
    out[o] = pairs[i];
    out[o + 1] = pairs[i + 1];
  }
  return out;
}

/** Divides vectors by their lengths, in place; 0 stays 0. */
function unitLength(vectors: Float32Array): Float32Array {
  for (let i = 0; i < vectors.length; i += 3) {
    const size = Math.hypot(vectors[i], vectors[i + 1], vectors[i + 2]) || 1;
    for (let axis = 0; axis < 3; axis++) vectors[i + axis] /= size;
  }
  return vectors;
}
