import { compose, identity, multiply, translation, type Matrix } from '../maths/matrix.ts';
import { RADIANS_PER_DEGREE } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import type { Channels, ObjectRecord } from '../project/schema.ts';

/** `L = T · Tp · R · S · Tp⁻¹`: channels about the pivot `p`, which is in the object's own space (DECISIONS 1). */
export function channelsMatrix(channels: Channels, pivot: Vec3): Matrix {
  const angles = channels.rotate.map((a) => a * RADIANS_PER_DEGREE) as unknown as Vec3;
  const turned = compose([0, 0, 0], angles, channels.order, channels.scale);
  const t = channels.translate;
  const out = translation([t[0] + pivot[0], t[1] + pivot[1], t[2] + pivot[2]]);
  multiply(out, out, turned);
  return multiply(out, out, translation([-pivot[0], -pivot[1], -pivot[2]]));
}

/** Object records by id. */
export type ObjectsById = ReadonlyMap<string, ObjectRecord>;

/**
 * `world = P × C × L` of an object, from its parents down. An object whose parents form a loop, or whose parent
 * is missing, hangs under the world itself. @param at `channels` for now, `rest` for the remembered state.
 */
export function worldMatrix(
  objects: ObjectsById,
  objectId: string,
  at: 'channels' | 'rest' = 'channels',
): Matrix {
  let world = identity();
  const seen = new Set<string>();
  let object = objects.get(objectId);
  while (object && !seen.has(object.id)) {
    seen.add(object.id);
    const local = channelsMatrix(object[at], object.pivot);
    if (object.carrier) multiply(local, Float64Array.from(object.carrier), local);
    world = multiply(identity(), local, world);
    object = object.parent === null ? undefined : objects.get(object.parent);
  }
  return world;
}

/** The world matrix an object's own channels are applied in: `P × C`. */
export function parentSpace(objects: ObjectsById, object: ObjectRecord): Matrix {
  const parent = object.parent === null ? identity() : worldMatrix(objects, object.parent);
  return object.carrier ? multiply(parent, parent, Float64Array.from(object.carrier)) : parent;
}

export const objectsById = (objects: readonly ObjectRecord[]): ObjectsById =>
  new Map(objects.map((o) => [o.id, o]));
