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

/** Ids of the objects that are shown: an object is when it and all it hangs under are. */
export const visibleIds = memoize((objects: readonly ObjectRecord[]): ReadonlySet<string> => {
  const shown = new Set<string>();
  const hiddenAbove: boolean[] = [];
  for (const { object, level } of hierarchyOf(objects)) {
    const isHidden = !object.visible || (level > 0 && hiddenAbove[level - 1]);
    hiddenAbove[level] = isHidden;
    if (!isHidden) shown.add(object.id);
  }
  return shown;
});
