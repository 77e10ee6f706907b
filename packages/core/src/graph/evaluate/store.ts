import { areFinite, isFiniteMatrix } from '../../maths/finite.ts';
import type { Matrix } from '../../maths/matrix.ts';
import { Entry, type Cache, type Key } from './cache.ts';
import { kernelOf } from '../light/matrix-kernel.ts';
import type { Plan, PlannedUnit } from './plan.ts';

/** What was made of units: in this evaluation, or earlier with the same key. */
export class Store {
  constructor(
    private readonly plan: Plan,
    private readonly cache: Cache,
    /** Where it is noted what is made, as far as it is kept with its arrays. */
    private readonly made?: Map<Entry, Key>,
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
    else {
      this.cache.set(u, entry);
      this.made?.set(entry, { first: u.first, second: u.second });
    }
  }

  /**
   * The packed matrices at an input as an array to write into, where nobody else is to read them: a node of products or
   * inverses made them just now for this unit alone, and had to, as they change whenever its own result does. Cards
   * still tell of them; the numbers are gone.
   */
  takeOver({ outlined }: PlannedUnit, port: string, count: number): Float64Array | undefined {
    const from = outlined.inputs.get(port);
    const unit = from?.unit;
    if (!unit || unit.asked !== 0 || unit.users.length !== 1 || unit.sources !== outlined.sources) return undefined;
    const { definition, record } = unit.unit.node;
    if (!definition || !kernelOf(definition) || record.skip || unit.refused || unit.isLight) return undefined;
    const before = this.plan.unit(unit.index);
    const { entry, isNeeded } = before;
    const value = isNeeded ? entry?.values.get(from.port) : undefined;
    if (!entry || value?.form !== 'matrices' || value.count !== count || !this.cache.withdraw(before, entry)) return undefined;
    entry.giveUp(from.port, { form: 'matrices', kind: 'matrix', count: value.count });
    this.cache.set(before, entry);
    return value.data as Float64Array;
  }

  /**
   * Goes the short way to the matrices of all units that have to be run, from a number on, up to one that has no short
   * way, or whose matrix is not single, not finite, or cannot be made.
   * @param done is told of each that was run
   * @returns the number it stopped at
   */
  runKernels(from: number, done: { done: number }, checkpoint: () => void): number {
    const { light, flat, isNeeded, count } = this.plan;
    const { sheet, has } = light;
    const { makes, runs } = flat;
    const { start, items } = flat.takes;
    let unit = from;
    let ran = 0;
    for (; unit < count; unit++) {
      if (isNeeded[unit] === 0) continue;
      const to = makes[unit];
      if (to < 0) break;
      const first = start[unit];
      const end = start[unit + 1];
      let k = first;
      while (k < end && (has[items[k] >> 4] === 1 || this.bringIn(items[k]))) k++;
      if (k < end) break;
      const run = runs[unit];
      if ((run && !run(sheet, to, items, first, end - first)) || !isFiniteMatrix(sheet, to)) break;
      has[to >> 4] = 1;
      if ((++ran & 63) === 0) checkpoint();
    }
    done.done += ran;
    return unit;
  }

  /** Brings a matrix into the sheet that no kernel makes; false where there is no single one, or it is not finite. */
  private bringIn(place: number): boolean {
    const { light, flat } = this.plan;
    const from = flat.brought[place >> 4];
    const value = from && this.get(this.plan.unit(from.unit))?.values.get(from.port);
    if (value?.form !== 'single' || value.kind !== 'matrix' || !areFinite(value.data)) return false;
    light.sheet.set(value.data, place);
    light.has[place >> 4] = 1;
    return true;
  }
}

function entryOf(u: PlannedUnit, matrix: Readonly<Matrix>): Entry {
  const entry = new Entry();
  const values = u.outlined.kernel?.values(matrix) ?? {};
  for (const port in values) entry.values.set(port, values[port]);
  return entry;
}
