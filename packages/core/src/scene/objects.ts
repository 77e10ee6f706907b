import { memoize } from '../memo.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';

/** Object records by id. */
export type ObjectsById = ReadonlyMap<string, ObjectRecord>;

/** Objects by id, as their records stand; kept with the list. */
export const objectsById = memoize((objects: readonly ObjectRecord[]): ObjectsById => new Map(objects.map((o) => [o.id, o])));
