import { hashArrays } from '../hash.ts';
import { pictureId } from './materials.ts';
import type { Mesh } from './mesh.ts';

/** Content id of a mesh: equal meshes have equal ids, and meshes that differ in anything have others. */
export function meshId(mesh: Mesh): string {
  const { positions, topology, attributes, materials, groups } = mesh;
  const words = JSON.stringify([
    attributes.map(({ name, on, type, role }) => [name, on, type, role]),
    materials.map(({ name, baseColour, picture }) => [name, ...baseColour, ...(picture ? [pictureId(picture)] : [])]),
    groups,
  ]);
  const signs = Int32Array.from({ length: words.length }, (_, i) => words.charCodeAt(i));
  const data = attributes.map((a) => a.data);
  return `mesh-${hashArrays(positions, topology.faceStarts, topology.cornerPoints, ...data, signs)}`;
}
