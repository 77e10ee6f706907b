import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox, makeTube } from '../geometry/solids.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { counted } from '../words.ts';
import { meshId } from '../geometry/mesh-id.ts';
import { makeObject, type ObjectOf } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import type { AssetRecord, Project } from '../project/schema.ts';
import { freeName, newId } from './document.ts';

/** Plain shapes that the scene makes: their name, the mesh in metres, and how far up it stands on the ground. */
export const PRIMITIVES = {
  box: { name: 'Box', make: () => makeBox([1, 1, 1], [6, 6, 6]), lift: 0.5 },
  sphere: { name: 'Sphere', make: () => makeSphere(0.5, 24, 32), lift: 0.5 },
  tube: { name: 'Tube', make: () => makeTube(0.3, 1.5, 24, 24, true), lift: 0 },
  grid: { name: 'Grid', make: () => makeGrid([2, 2], [20, 20]), lift: 0 },
} as const satisfies Record<string, { name: string; make: () => Mesh; lift: number }>;

export type Primitive = keyof typeof PRIMITIVES;

/** A plain shape as an object that stands on the ground at the origin, and the asset it shows. */
export function primitiveObject(
  project: Project,
  shape: Primitive,
): { readonly mesh: Mesh; readonly asset: AssetRecord; readonly object: ObjectOf<'mesh'> } {
  const { name, make, lift } = PRIMITIVES[shape];
  const mesh = make();
  const id = meshId(mesh);
  const { pointCount, faceCount } = mesh.topology;
  const channels = { ...REST_CHANNELS, translate: [0, lift, 0] as const };
  const object = makeObject(newId('mesh'), freeName(project, name), 'mesh', { mesh: id, channels });
  const asset = { id, name, points: pointCount, faces: faceCount, origin: `made here: ${counted(faceCount, 'face')}` };
  return { mesh, asset, object };
}
