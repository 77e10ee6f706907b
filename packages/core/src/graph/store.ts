import type { Matrix } from '../maths/matrix.ts';
import { Entry, type Cache } from './cache.ts';
import type { Made, Outline } from './outline.ts';
import type { PlannedUnit } from './plan.ts';

/** What was made of units: in this evaluation, or earlier with the same key. */
export class Store {
  constructor(
    private readonly outline: Outline,
    private readonly cache: Cache,
  ) {}

  get(u: PlannedUnit): Entry | undefined {
    if (u.entry) return u.entry;
    if (!u.outlined.isLight) return this.cache.get(u);
    const made = u.matrix ?? this.outline.last.get(u.outlined.index, u);
    if (made === undefined || made instanceof Entry) return made;
    return (u.entry = entryOf(u, made));
  }

  /** The single matrix at an output, without an entry being made for it. */
  matrix(u: PlannedUnit, port: string): Readonly<Matrix> | undefined {
    if (u.matrix) return u.matrix;
    const value = this.get(u)?.values.get(port);
    return value?.form === 'single' && value.kind === 'matrix' ? value.data : undefined;
  }

  /** Takes what a unit made, with what was made of it before. */
  keep(u: PlannedUnit, entry: Entry): void {
    const known = this.get(u);
    if (known) entry.takeOver(known);
    u.entry = entry;
    if (u.outlined.isLight) this.remember(u, entry);
    else this.cache.set(u, entry);
  }

  /** Takes the one matrix that a kernel made. */
  keepMatrix(u: PlannedUnit, matrix: Readonly<Matrix>): void {
    u.matrix = matrix;
    this.remember(u, matrix);
  }

  private remember(u: PlannedUnit, made: Made): void {
    this.outline.last.set(u.outlined.index, u, made, this.outline.order.length);
  }
}

function entryOf(u: PlannedUnit, matrix: Readonly<Matrix>): Entry {
  const entry = new Entry();
  const values = u.outlined.kernel?.values(matrix) ?? {};
  for (const port in values) entry.values.set(port, values[port]);
  return entry;
}
