import type { Matrix } from '../maths/matrix.ts';
import { Entry, type Cache } from './cache.ts';
import type { Plan, PlannedUnit } from './plan.ts';

/** What was made of units: in this evaluation, or earlier with the same key. */
export class Store {
  constructor(
    private readonly plan: Plan,
    private readonly cache: Cache,
  ) {}

  get(u: PlannedUnit): Entry | undefined {
    if (u.entry) return u.entry;
    if (!u.outlined.isLight) return this.cache.get(u);
    const { light } = this.plan;
    const entry = light.entry(u.index);
    if (entry) return entry;
    return light.hasMade(u.index) ? (u.entry = entryOf(u, light.made(u.index))) : undefined;
  }

  /** Takes what a unit made, with what was made of it before. */
  keep(u: PlannedUnit, entry: Entry): void {
    const known = this.get(u);
    if (known) entry.takeOver(known);
    u.entry = entry;
    if (u.outlined.isLight) this.plan.light.keep(u.index, entry);
    else this.cache.set(u, entry);
  }

  /** Goes the short way to the one matrix of a unit; false where there is none, or it is not finite. */
  runKernel(unit: number): boolean {
    const { light, outline, flat } = this.plan;
    const { makes, takes } = flat;
    const to = makes[unit];
    if (to < 0) return false;
    const first = takes.start[unit];
    for (let k = first; k < takes.start[unit + 1]; k++) if (!this.bringIn(takes.items[k])) return false;
    const { sheet } = light;
    if (!outline.order[unit].kernel?.run(sheet, to, takes.items, first)) return false;
    let sum = 0;
    for (let i = to; i < to + 16; i++) sum += sheet[i] * 0;
    if (sum !== 0) return false;
    light.keepAt(to);
    return true;
  }

  /** Sees that a matrix is in the sheet; false where no single one was made. */
  private bringIn(place: number): boolean {
    const { light, flat } = this.plan;
    if (light.hasAt(place)) return true;
    const { brought, matrices } = flat;
    const from = brought[(place >> 4) - (matrices - brought.length)] as (typeof brought)[number] | undefined;
    const value = from && this.get(this.plan.unit(from.unit))?.values.get(from.port);
    if (value?.form !== 'single' || value.kind !== 'matrix') return false;
    light.sheet.set(value.data, place);
    light.keepAt(place);
    return true;
  }
}

function entryOf(u: PlannedUnit, matrix: Readonly<Matrix>): Entry {
  const entry = new Entry();
  const values = u.outlined.kernel?.values(matrix) ?? {};
  for (const port in values) entry.values.set(port, values[port]);
  return entry;
}
