/** Whoever keeps memory within a budget; hears of what is worked out from it afterwards. */
export interface Keeper {
  /** Something kept came to take so many bytes more, or fewer. */
  grew(bytes: number): void;
}

interface Account {
  bytes: number;
  readonly keepers: Set<Keeper>;
}

const accounts = new WeakMap<ArrayBufferLike, Account>();

function accountOf(memory: ArrayBufferLike): Account {
  let account = accounts.get(memory);
  if (!account) accounts.set(memory, (account = { bytes: 0, keepers: new Set() }));
  return account;
}

/** Tells that something was worked out from what lies in this memory, and lives as long as that does. */
export function charge(memory: ArrayBufferLike, bytes: number): void {
  if (bytes === 0) return;
  const account = accountOf(memory);
  account.bytes += bytes;
  for (const keeper of account.keepers) keeper.grew(bytes);
}

/** Tells that what was worked out from what lay in this memory is no more. */
export function discharge(memory: ArrayBufferLike): void {
  const account = accounts.get(memory);
  if (account) charge(memory, -account.bytes);
}

/** Begins to keep memory. @returns bytes that were worked out from it so far */
export function keepCharged(memory: ArrayBufferLike, keeper: Keeper): number {
  const account = accountOf(memory);
  account.keepers.add(keeper);
  return account.bytes;
}

/** Keeps it no more. @returns bytes that were worked out from it */
export function dropCharged(memory: ArrayBufferLike, keeper: Keeper): number {
  const account = accountOf(memory);
  account.keepers.delete(keeper);
  return account.bytes;
}

/** Bytes of a value's own arrays, without those that lie in memory of others. */
export function ownBytes(value: unknown, others: readonly ArrayBufferLike[]): number {
  if (ArrayBuffer.isView(value)) return others.includes(value.buffer) ? 0 : value.byteLength;
  if (typeof value !== 'object' || value === null) return 0;
  let bytes = 0;
  for (const part of Object.values(value)) if (ArrayBuffer.isView(part)) bytes += ownBytes(part, others);
  return bytes;
}
