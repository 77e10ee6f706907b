import { identity, multiply, translation, type Matrix } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { RADIANS_PER_DEGREE } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import type { Channels } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import { withChannels } from './channels.ts';
import type { ObjectsById } from './objects.ts';

/** `L = T · Tp · R · S · Tp⁻¹`: channels about the pivot `p`, which is in the object's own space (DECISIONS 1). */
export function channelsMatrix(channels: Channels, pivot: Vec3): Matrix {
  const angles = channels.rotate.map((a) => a * RADIANS_PER_DEGREE) as unknown as Vec3;
  const turned = compose([0, 0, 0], angles, channels.order, channels.scale);
  const t = channels.translate;
  const out = translation([t[0] + pivot[0], t[1] + pivot[1], t[2] + pivot[2]]);
  multiply(out, out, turned);
  return multiply(out, out, translation([-pivot[0], -pivot[1], -pivot[2]]));
}

/** What graphs put into an object: a carrier, which comes before that of the record, and numbers of its channels. */
export interface Driven {
  readonly carrier?: Readonly<Matrix>;
  readonly channels?: Readonly<Record<string, number>>;
}
export type DrivenBy = (objectId: string) => Driven | undefined;

/**
 * `world = P × C × L` of an object, from its parents down. An object whose parents form a loop, or whose parent
 * is missing, hangs under the world itself. @param at `channels` for now, `rest` for the remembered state.
 * @param driven what graphs put into objects; it does not matter at rest.
 */
export function worldMatrix(
  objects: ObjectsById,
  objectId: string,
  at: 'channels' | 'rest' = 'channels',
  driven?: DrivenBy,
): Matrix {
  let world = identity();
  const seen = new Set<string>();
  let object = objects.get(objectId);
  while (object && !seen.has(object.id)) {
    seen.add(object.id);
    const local = localMatrix(object, at, driven);
    const carrier = carrierOf(object, at, driven);
    if (carrier) multiply(local, carrier, local);
    world = multiply(identity(), local, world);
    object = object.parent === null ? undefined : objects.get(object.parent);
  }
  return world;
}

/** World matrices for whoever asks for many: each is worked out once, from the one it hangs under. Not to be written to. */
export function worldLookup(
  objects: ObjectsById,
  at: 'channels' | 'rest' = 'channels',
  driven?: DrivenBy,
): (objectId: string) => Matrix {
  const known = new Map<string, Matrix>();
  return (objectId) => {
    const open: ObjectRecord[] = [];
    const seen = new Set<string>();
    let object = objects.get(objectId);
    while (object && !known.has(object.id)) {
      // A loop has no top to begin at.
      if (seen.has(object.id)) return worldMatrix(objects, objectId, at, driven);
      seen.add(object.id);
      open.push(object);
      object = object.parent === null ? undefined : objects.get(object.parent);
    }
    let world = (object && known.get(object.id)) ?? identity();
    for (const o of open.reverse()) {
      const carrier = carrierOf(o, at, driven);
      const local = localMatrix(o, at, driven);
      if (carrier) multiply(local, carrier, local);
      world = multiply(local, world, local);
      known.set(o.id, world);
    }
    return world;
  };
}

/** An object's own channels as a matrix, about its pivot, with the numbers that graphs put into them. */
export function localMatrix(object: ObjectRecord, at: 'channels' | 'rest' = 'channels', driven?: DrivenBy): Matrix {
  const numbers = at === 'channels' ? driven?.(object.id)?.channels : undefined;
  const { channels } = numbers ? withChannels(object, numbers) : object;
  return channelsMatrix(at === 'rest' ? object.rest : channels, object.pivot);
}

/** The carrier that is under an object: a graph's, else the one in its record. */
export function carrierOf(
  object: ObjectRecord,
  at: 'channels' | 'rest' = 'channels',
  driven?: DrivenBy,
): Readonly<Matrix> | undefined {
  const made = at === 'channels' ? driven?.(object.id)?.carrier : undefined;
  return made ?? (object.carrier ? Float64Array.from(object.carrier) : undefined);
}

/** The world matrix of what an object hangs under: the identity without a parent. */
export function parentMatrix(
  objects: ObjectsById,
  object: ObjectRecord,
  at: 'channels' | 'rest' = 'channels',
  driven?: DrivenBy,
): Matrix {
  return object.parent === null ? identity() : worldMatrix(objects, object.parent, at, driven);
}

/** The space an object's own channels are applied in: `P × C`. */
export function parentSpace(
  objects: ObjectsById,
  object: ObjectRecord,
  at: 'channels' | 'rest' = 'channels',
  driven?: DrivenBy,
): Matrix {
  const parent = parentMatrix(objects, object, at, driven);
  const carrier = carrierOf(object, at, driven);
  return carrier ? multiply(parent, parent, carrier) : parent;
}
