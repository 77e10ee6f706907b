import { memoize } from '../memo.ts';
import type { ObjectRecord } from '../project/schema.ts';

/** Object records by id. */
export type ObjectsById = ReadonlyMap<string, ObjectRecord>;

/** Objects by id, as their records stand; kept with the list. */
export const objectsById = memoize((objects: readonly ObjectRecord[]): ObjectsById => new Map(objects.map((o) => [o.id, o])));

/** Kinds of objects a setting takes; `locator` is anything that has a place of its own. */
export type ObjectTakes = 'mesh' | 'any' | 'locator' | 'curve' | 'group';

/** Whether an object can stand in a setting that takes a kind of object. */
export function fitsSetting(object: ObjectRecord, takes: ObjectTakes): boolean {
  if (takes === 'any') return true;
  if (takes === 'locator') return object.type !== 'group';
  return object.type === takes;
}
