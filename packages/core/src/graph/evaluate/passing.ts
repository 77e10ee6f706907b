import type { Cache, Entry, Key } from './cache.ts';
import type { ArrayRoom } from './array-room.ts';
import type { Plan } from './plan.ts';
import { isDerived, letDerivedGo } from '../../geometry/derive.ts';

/**
 * What the steps of one gesture made, such as the drag of a dial: thousands of results that nobody asks for again. Each is
 * let go when a later step has been shown that has no use for it; what the last step made stays like any other result.
 */
export class PassingResults {
  private gesture: string | undefined;
  private made = new Map<Entry, Key>();
  private plan: Plan | undefined;

  constructor(
    private readonly cache: Cache,
    private readonly arrays: ArrayRoom,
  ) {}

  /** Begins an evaluation. @returns where it is noted what it makes, where it is a step of a gesture */
  begin(gesture: string | undefined): Map<Entry, Key> | undefined {
    if (gesture === undefined) return undefined;
    if (gesture !== this.gesture) {
      this.gesture = gesture;
      this.made = new Map();
      this.plan = undefined;
    }
    return this.made;
  }

  /** A step has been worked out. */
  finish(plan: Plan, made: Map<Entry, Key>): void {
    if (made === this.made) this.plan = plan;
  }

  /** The step worked out last is shown: lets go of what only earlier ones needed. */
  settle(): void {
    const { plan, cache, arrays } = this;
    if (!plan) return;
    this.plan = undefined;
    // Before what is let go now: that may still be looked at from outside.
    arrays.turn();
    const firsts = new Set<number>();
    for (let i = 0; i < plan.count; i++) if (!plan.flat.isLight[i]) firsts.add(plan.keys[2 * i]);
    for (const [entry, key] of this.made) {
      if (firsts.has(key.first)) continue;
      this.made.delete(entry);
      for (const memory of cache.letGo(key, entry)) {
        if (!isDerived(memory)) arrays.takeBack(memory);
        for (const [, value] of entry.values) {
          if (value.form !== 'geometry' || value.mesh.positions.buffer !== memory) continue;
          for (const derived of letDerivedGo(value.mesh.positions)) if (!cache.holds(derived)) arrays.takeBack(derived);
        }
      }
    }
  }
}
