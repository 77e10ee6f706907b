import type { Problem } from './problems.ts';
import type { Value } from './values.ts';

/** What a card shows of an output without looking at its values. */
export interface PortSummary {
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

/** What came of evaluating a unit with one key. */
export interface Entry {
  readonly values: Map<string, Value>;
  readonly summaries: Map<string, PortSummary>;
  readonly problems: Problem[];
  /** Time it took, ms; within a chain its share of the chain's. */
  costInMs: number;
  /** How many nodes were run as one chain with it; 1 when it ran alone. */
  chained: number;
  /** Nothing could be computed: an error, or a wait for one. */
  failed: boolean;
}

/** Evaluated units by key, oldest first; entries go when their arrays outgrow a budget. */
export class Cache {
  private readonly entries = new Map<string, Entry>();
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

  get(key: string): Entry | undefined {
    const entry = this.entries.get(key);
    if (entry) this.used.add(entry);
    return entry;
  }

  /** Looks without counting as use. */
  peek(key: string): Entry | undefined {
    return this.entries.get(key);
  }

  /** Adds or replaces; call again after values were added to an entry. Never evicts what it was just given. */
  set(key: string, entry: Entry): void {
    this.remove(key);
    this.entries.set(key, entry);
    for (const buffer of buffersOf(entry)) {
      const size = this.sizes.get(buffer) ?? { bytes: buffer.byteLength, users: 0 };
      if (size.users++ === 0) this.bytes += size.bytes;
      this.sizes.set(buffer, size);
    }
    this.evict(key);
  }

  /**
   * Drops what was not asked for, oldest first, until the budget is kept; what was is spared once and counts as new
   * (the clock of Corbató 1968: close to least recently used, without moving an entry each time). Never `spared`.
   */
  private evict(spared?: string): void {
    if (this.bytes <= this.budgetInBytes && this.entries.size <= MOST_ENTRIES) return;
    // A tenth of the entries at once: a map from whose front single entries are taken grows slow.
    const most = this.entries.size > MOST_ENTRIES ? MOST_ENTRIES * 0.9 : MOST_ENTRIES;
    let left = this.entries.size * 2;
    for (const [oldest, entry] of this.entries) {
      if ((this.bytes <= this.budgetInBytes && this.entries.size <= most) || left-- === 0) return;
      if (oldest !== spared && !this.used.delete(entry)) this.remove(oldest);
      else if (this.entries.size > 1) {
        this.entries.delete(oldest);
        this.entries.set(oldest, entry);
      } else return;
    }
  }

  /** Bytes of all distinct arrays held. */
  get heldBytes(): number {
    return this.bytes;
  }

  private remove(key: string): void {
    const entry = this.entries.get(key);
    if (!entry) return;
    this.entries.delete(key);
    for (const buffer of buffersOf(entry)) {
      const size = this.sizes.get(buffer);
      if (!size || --size.users > 0) continue;
      this.bytes -= size.bytes;
      this.sizes.delete(buffer);
    }
  }
}

const MOST_ENTRIES = 50_000;

const NONE: ReadonlySet<ArrayBufferLike> = new Set();

function buffersOf(entry: Entry): ReadonlySet<ArrayBufferLike> {
  let isSmall = true;
  for (const v of entry.values.values()) if (v.form !== 'single' && v.form !== 'driven') isSmall = false;
  if (isSmall) return NONE;
  const buffers = new Set<ArrayBufferLike>();
  for (const v of entry.values.values()) {
    if (v.form === 'column' || v.form === 'matrices') buffers.add(v.data.buffer);
    else if (v.form === 'geometry') {
      buffers.add(v.mesh.positions.buffer);
      buffers.add(v.mesh.topology.cornerPoints.buffer);
      for (const a of v.mesh.attributes) buffers.add(a.data.buffer);
    } else if (v.form === 'curves') buffers.add(v.curves.positions.buffer).add(v.curves.handles.buffer);
    else if (v.form === 'copies') {
      buffers.add(v.copies.matrices.buffer).add(v.copies.which.buffer);
      for (const a of v.copies.attributes) buffers.add(a.data.buffer);
    }
  }
  return buffers;
}
