import { dropCharged, keepCharged, type Keeper } from '../../charges.ts';
import { isSameProblem, type Problem } from '../node/problems.ts';
import type { Value } from '../node/values.ts';
import { addBuffers } from './buffers.ts';

/** What a card shows of an output without looking at its values. */
export interface PortSummary {
  /** Of a chain: what its joints are called. */
  readonly names?: readonly string[];
  readonly form: Value['form'];
  readonly kind: Value['kind'];
  /** Elements of a column, points of a geometry; 1 for singles. */
  readonly count: number;
  /** Attributes of a geometry, for offering their names. */
  readonly attributes?: readonly { name: string; type: string; on: string }[];
  /** A falloff in words. */
  readonly words?: string;
  /** Numbers of a single, for showing it. */
  readonly single?: readonly number[];
}

/** Values by output port: a map for the one output that most nodes have, and for the few that others do. */
export class PortValues {
  private port: string | undefined = undefined;
  private value: Value | undefined = undefined;
  private more: Map<string, Value> | undefined = undefined;

  get(port: string): Value | undefined {
    return port === this.port ? this.value : this.more?.get(port);
  }

  has(port: string): boolean {
    return port === this.port || this.more?.has(port) === true;
  }

  set(port: string, value: Value): void {
    if (this.port === undefined || this.port === port) {
      this.port = port;
      this.value = value;
    } else (this.more ??= new Map()).set(port, value);
  }

  remove(port: string): void {
    if (port === this.port) this.port = undefined;
    else this.more?.delete(port);
  }

  *[Symbol.iterator](): Generator<[string, Value]> {
    if (this.port !== undefined) yield [this.port, this.value as Value];
    if (this.more) yield* this.more;
  }
}

const NONE: readonly Problem[] = [];

/** What came of evaluating a unit with one key. */
export class Entry {
  readonly values = new PortValues();
  /** Outputs that were computed and not kept: as part of a chain, or written over by the only one to read them. */
  passing: Map<string, PortSummary> | undefined;
  problems: readonly Problem[] = NONE;
  /** Time it took, ms; within a chain its share of the chain's. */
  costInMs = 0;
  /** How many nodes were run as one chain with it; 1 when it ran alone. */
  chained = 1;
  /** Nothing could be computed: an error, or a wait for one. */
  failed = false;
  /** Of a node that left outputs out: the bits of those it was asked for, which alone it can speak of. */
  answers = EVERY_OUTPUT;

  add(problem: Problem): void {
    if (this.problems === NONE) this.problems = [problem];
    else if (!this.problems.some((p) => isSameProblem(p, problem))) (this.problems as Problem[]).push(problem);
  }

  /** Keeps of an output only what cards say of it. */
  giveUp(port: string, summary: PortSummary): void {
    this.values.remove(port);
    (this.passing ??= new Map()).set(port, summary);
  }

  /**
   * Takes over the outputs of an earlier run with the same key that this one did not make, and what was said of them. A
   * run that failed speaks for itself only.
   */
  takeOver(earlier: Entry): void {
    if (earlier.failed || this.failed) return;
    for (const [port, value] of earlier.values) {
      if (this.values.has(port)) continue;
      this.values.set(port, value);
      for (const problem of earlier.problems) if (problem.about?.includes(port)) this.add(problem);
    }
    this.answers |= earlier.answers;
  }
}

/** All outputs of a unit, as bits. */
const EVERY_OUTPUT = -1;

/** The key of what a unit makes: two 32-bit halves. */
export interface Key {
  readonly first: number;
  readonly second: number;
}

/** 52 bits of a key as one number, which a map finds faster than a text; the other 12 are compared. */
const placeOf = (key: Key): number => (key.first >>> 0) * 0x100000 + (key.second >>> 12);

interface Kept {
  readonly second: number;
  readonly entry: Entry;
  readonly buffers: ReadonlySet<ArrayBufferLike>;
}

/** Evaluated units by key, oldest first; entries go when their arrays, and what was worked out from those, outgrow a budget. */
export class Cache implements Keeper {
  private readonly entries = new Map<number, Kept>();
  private readonly sizes = new Map<ArrayBufferLike, { bytes: number; users: number }>();
  /** Entries that were asked for since they were added or last spared. */
  private readonly used = new WeakSet<Entry>();
  private bytes = 0;

  constructor(private budgetInBytes: number) {}

  /** Another budget; what is over it goes at once. */
  setBudget(bytes: number): void {
    this.budgetInBytes = bytes;
    this.evict();
  }

  get(key: Key): Entry | undefined {
    const entry = this.peek(key);
    if (entry) this.used.add(entry);
    return entry;
  }

  /** Looks without counting as use. */
  peek(key: Key): Entry | undefined {
    const kept = this.entries.get(placeOf(key));
    return kept?.second === key.second ? kept.entry : undefined;
  }

  /** Adds or replaces; call again after values were added to an entry. Never evicts what it was just given. */
  set(key: Key, entry: Entry): void {
    const place = placeOf(key);
    this.remove(place);
    const buffers = buffersOf(entry);
    this.entries.set(place, { second: key.second, entry, buffers });
    for (const buffer of buffers) {
      const size = this.sizes.get(buffer) ?? { bytes: buffer.byteLength, users: 0 };
      if (size.users++ === 0) this.bytes += size.bytes + keepCharged(buffer, this);
      this.sizes.set(buffer, size);
    }
    this.evict(place);
  }

  /** Takes an entry out again; false, and nothing done, where somebody has asked for it since it was added. */
  withdraw(key: Key, entry: Entry): boolean {
    if (this.used.has(entry)) return false;
    if (this.peek(key) === entry) this.remove(placeOf(key));
    return true;
  }

  /**
   * Drops what was not asked for, oldest first, until the budget is kept; what was is spared once and counts as new
   * (the clock of Corbató 1968: close to least recently used, without moving an entry each time). Never `spared`.
   */
  private evict(spared?: number): void {
    if (this.bytes <= this.budgetInBytes && this.entries.size <= MOST_ENTRIES) return;
    // A tenth of the entries at once: a map from whose front single entries are taken grows slow.
    const most = this.entries.size > MOST_ENTRIES ? MOST_ENTRIES * 0.9 : MOST_ENTRIES;
    let left = this.entries.size * 2;
    for (const [oldest, kept] of this.entries) {
      if ((this.bytes <= this.budgetInBytes && this.entries.size <= most) || left-- === 0) return;
      if (oldest !== spared && !this.used.delete(kept.entry)) this.remove(oldest);
      else if (this.entries.size > 1) {
        this.entries.delete(oldest);
        this.entries.set(oldest, kept);
      } else return;
    }
  }

  /** More was worked out from what is held; what is over the budget goes with the next entry. */
  grew(bytes: number): void {
    this.bytes += bytes;
  }

  /** Bytes of all distinct arrays held, and of what was worked out from them. */
  get heldBytes(): number {
    return this.bytes;
  }

  /** Takes an entry out for good. @returns memory that nothing kept here reads any more */
  letGo(key: Key, entry: Entry): readonly ArrayBufferLike[] {
    return this.peek(key) === entry ? this.remove(placeOf(key)) : [];
  }

  /** Whether something that is kept reads this memory. */
  holds(buffer: ArrayBufferLike): boolean {
    return this.sizes.has(buffer);
  }

  /** @returns memory that had no other user */
  private remove(place: number): readonly ArrayBufferLike[] {
    const kept = this.entries.get(place);
    if (!kept) return [];
    this.entries.delete(place);
    const left: ArrayBufferLike[] = [];
    for (const buffer of kept.buffers) {
      const size = this.sizes.get(buffer);
      if (!size || --size.users > 0) continue;
      this.bytes -= size.bytes + dropCharged(buffer, this);
      this.sizes.delete(buffer);
      left.push(buffer);
    }
    return left;
  }
}

const MOST_ENTRIES = 50_000;

const NO_BUFFERS: ReadonlySet<ArrayBufferLike> = new Set();

function buffersOf(entry: Entry): ReadonlySet<ArrayBufferLike> {
  let isSmall = true;
  for (const [, v] of entry.values) if (v.form !== 'single' && v.form !== 'driven') isSmall = false;
  if (isSmall) return NO_BUFFERS;
  const buffers = new Set<ArrayBufferLike>();
  for (const [, v] of entry.values) addBuffers(buffers, v);
  return buffers;
}
