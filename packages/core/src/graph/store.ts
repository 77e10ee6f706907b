import type { Cache, Entry } from './cache.ts';
import type { Outline } from './outline.ts';
import type { PlannedUnit } from './plan.ts';

/** What was made of units: in this evaluation, or earlier with the same key. */
export class Store {
  constructor(
    private readonly outline: Outline,
    private readonly cache: Cache,
  ) {}

  get(u: PlannedUnit): Entry | undefined {
    if (u.entry) return u.entry;
    return u.outlined.isLight ? this.outline.last.get(u.outlined.index, u) : this.cache.get(u);
  }

  /** Takes what a unit made, with what was made of it before. */
  keep(u: PlannedUnit, entry: Entry): void {
    const known = this.get(u);
    if (known) entry.takeOver(known);
    u.entry = entry;
    if (u.outlined.isLight) this.outline.last.set(u.outlined.index, u, entry, this.outline.order.length);
    else this.cache.set(u, entry);
  }
}
