import { boundsOf, boundsSize } from '../geometry/bounds.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import type { Matrix } from '../maths/matrix.ts';
import type { Vec3 } from '../maths/vector.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { freeName, newId } from './document.ts';
import { startOn } from './locator-for.ts';

/** The mesh of an object in a scene: the matrix from its own space to the one that a graph works in, and its mesh in its own space. */
export interface PlacedMesh {
  readonly world: Readonly<Matrix>;
  readonly mesh: Mesh | undefined;
}

/**
 * Lets the places that a new node asks for begin where the object it works on stands, instead of at the world's origin:
 * inputs that say where they start are typed, and a setting that says so gets a locator of its own, about as large as the
 * object.
 * An object that is nowhere (a matrix that is not finite) has no such place: the node stays as it is.
 * @param node as it is made; what it was given already stays
 * @returns the node, and the locators that were made for it, to be added to the scene
 */
export function beginOn(
  project: Project,
  definition: NodeDefinition,
  node: NodeRecord,
  body: PlacedMesh,
): { readonly node: NodeRecord; readonly locators: readonly ObjectRecord[] } {
  if (!body.world.every(Number.isFinite)) return { node, locators: [] };
  const locators: ObjectRecord[] = [];
  const inputs = { ...node.inputs };
  for (const { id, kind, starts } of definition.inputs(settingsOf(definition, node)))
    if (starts && kind === 'vector' && inputs[id] === undefined) inputs[id] = rounded(startOn(body.world, body.mesh, starts));
  const settings = { ...node.settings };
  for (const setting of definition.settings) {
    if (setting.type !== 'object' || !setting.starts || settings[setting.id] !== undefined) continue;
    const translate = rounded(startOn(body.world, body.mesh, setting.starts));
    const size = halfSize(body);
    const channels = { ...REST_CHANNELS, translate, scale: [size, size, size] as const };
    const locator = makeObject(newId('locator'), freeName(project, `${definition.title} ${setting.label}`), 'locator', {
      channels,
    });
    locators.push(locator);
    settings[setting.id] = locator.id;
  }
  return { node: { ...node, inputs, settings }, locators };
}

/** Typed numbers are short: to a tenth of a millimetre, without a minus before 0. */
const short = (v: number): number => Number(v.toFixed(4)) + 0;
const rounded = (at: Vec3): Vec3 => at.map(short) as unknown as Vec3;

/** Half of the longest side of an object's box as it stands, metres; 1 where it has none. */
function halfSize({ world, mesh }: PlacedMesh): number {
  if (!mesh) return 1;
  const sides = boundsSize(boundsOf(mesh.positions));
  const lengths = sides.map((side, axis) => side * Math.hypot(...world.subarray(axis * 4, axis * 4 + 3)));
  const half = short(Math.max(...lengths) / 2);
  return half > 0 && Number.isFinite(half) ? half : 1;
}
