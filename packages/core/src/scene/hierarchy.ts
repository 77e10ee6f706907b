import { memoize } from '../memo.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';

/** Objects directly under each, in document order, and the place of each object in the document. */
const lineageOf = memoize((objects: readonly ObjectRecord[]) => {
  const under = new Map<string, ObjectRecord[]>();
  const place = new Map<ObjectRecord, number>();
  objects.forEach((o, i) => {
    place.set(o, i);
    if (o.parent === null) return;
    const mine = under.get(o.parent);
    if (mine) mine.push(o);
    else under.set(o.parent, [o]);
  });
  return { under, place };
});

/** Everything under an object, at any depth, in document order. */
export function membersOf(objects: readonly ObjectRecord[], objectId: string): ObjectRecord[] {
  const { under, place } = lineageOf(objects);
  const found = new Set<ObjectRecord>();
  const stack = [...(under.get(objectId) ?? [])];
  while (stack.length > 0) {
    const o = stack.pop() as ObjectRecord;
    if (found.has(o)) continue;
    found.add(o);
    stack.push(...(under.get(o.id) ?? []));
  }
  return [...found].sort((a, b) => (place.get(a) as number) - (place.get(b) as number));
}

/** An object in the order of what hangs under what, and how many it hangs under. */
export interface HierarchyRow {
  readonly object: ObjectRecord;
  readonly level: number;
}

/**
 * All objects, each followed by what hangs under it, in document order. What hangs under nothing that is there, or in
 * a loop, comes at the top, so that every object is in the list once.
 */
export const hierarchyOf = memoize((objects: readonly ObjectRecord[]): readonly HierarchyRow[] => {
  const { under } = lineageOf(objects);
  const ids = new Set(objects.map((o) => o.id));
  const rows: HierarchyRow[] = [];
  const listed = new Set<ObjectRecord>();
  const list = (top: ObjectRecord) => {
    const stack: HierarchyRow[] = [{ object: top, level: 0 }];
    while (stack.length > 0) {
      const row = stack.pop() as HierarchyRow;
      if (listed.has(row.object)) continue;
      listed.add(row.object);
      rows.push(row);
      const mine = under.get(row.object.id) ?? [];
      for (let i = mine.length - 1; i >= 0; i--) stack.push({ object: mine[i], level: row.level + 1 });
    }
  };
  for (const o of objects) if (o.parent === null || !ids.has(o.parent)) list(o);
  for (const o of objects) if (!listed.has(o)) list(o);
  return rows;
});

/** Ids of the objects for which something holds, and for all that they hang under. */
function idsWhere(objects: readonly ObjectRecord[], holds: (object: ObjectRecord) => boolean): ReadonlySet<string> {
  const ids = new Set<string>();
  const failsAbove: boolean[] = [];
  for (const { object, level } of hierarchyOf(objects)) {
    const fails = !holds(object) || (level > 0 && failsAbove[level - 1]);
    failsAbove[level] = fails;
    if (!fails) ids.add(object.id);
  }
  return ids;
}

/** Ids of the objects that are shown: an object is when it and all it hangs under are. */
export const visibleIds = memoize((objects: readonly ObjectRecord[]) => idsWhere(objects, (o) => o.visible));

/** Ids of the objects that the stage picks: when they and all they hang under may be. */
export const pickableIds = memoize((objects: readonly ObjectRecord[]) => idsWhere(objects, (o) => o.pickable));

/**
 * The rows in whose names every word of a search is found, with the rows they hang under, so that one sees where they
 * are. All rows where nothing is searched for.
 */
export function rowsFound(rows: readonly HierarchyRow[], search: string): readonly HierarchyRow[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return rows;
  const found: HierarchyRow[] = [];
  const above: HierarchyRow[] = [];
  let told = 0;
  for (const row of rows) {
    above.length = row.level;
    told = Math.min(told, row.level);
    above[row.level] = row;
    if (!words.every((w) => row.object.name.toLowerCase().includes(w))) continue;
    found.push(...above.slice(told, row.level + 1));
    told = row.level + 1;
  }
  return found;
}
