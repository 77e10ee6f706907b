import type { Hash } from '../../hash.ts';
import { memoize } from '../../memo.ts';
import type { MatrixKernel } from './matrix-kernel.ts';

/** What is taken of a unit. */
export interface LightUnit {
  /** Its place in the order. */
  readonly index: number;
  readonly hash: Hash;
  readonly inputs: ReadonlyMap<string, { readonly unit: { readonly index: number } | undefined }>;
  readonly needs: readonly { readonly unit: { readonly index: number }; readonly bit: number }[];
  readonly asked: number;
  readonly isMoving: boolean;
  readonly isLight: boolean;
  readonly refused: object | undefined;
  readonly kernel: MatrixKernel | undefined;
  /** Where the matrices that its kernel takes come from. */
  readonly matricesFrom: readonly { readonly unit: LightUnit; readonly port: string }[];
}

/** Lists of numbers, one for each unit, in one array: those of unit `i` are `items[start[i]]` to `items[start[i + 1] − 1]`. */
export interface Lists {
  readonly start: Int32Array;
  readonly items: Int32Array;
}

/**
 * What has to be known of every unit at every frame, by its number in the order: in rigs of thousands of nodes, walking
 * from one object in memory to the next takes longer than the matrices.
 */
export interface FlatOutline {
  readonly count: number;
  /** The state of each unit's hash, two words each. */
  readonly hashes: Int32Array;
  /** The units behind its wires. */
  readonly wired: Lists;
  /** The units it takes anything from, and the bits of the outputs that it takes. */
  readonly needs: Lists;
  readonly needBits: Int32Array;
  /** Outputs that are asked for from outside, and those that are or that another unit takes, as bits. */
  readonly asked: Int32Array;
  readonly read: Int32Array;
  /** Whether it reads something itself that can change from frame to frame. */
  readonly isMoving: Uint8Array;
  readonly isLight: Uint8Array;
  readonly isRefused: Uint8Array;
  /** The place in the sheet of the matrix that its kernel makes: the n-th is at 16 n; −1 for a unit without a kernel. */
  readonly makes: Int32Array;
  /** What its kernel does, where it does anything, and the places in the sheet of what it takes. */
  readonly runs: readonly (MatrixKernel['run'] | undefined)[];
  readonly takes: Lists;
  /** For each matrix in the sheet: the output that it comes from, where no kernel makes it. */
  readonly brought: readonly (Brought | undefined)[];
}

export interface Brought {
  readonly unit: number;
  readonly port: string;
}

/** The flat arrays of an outline, made once. */
export const flatOutline = memoize(({ order }: { readonly order: readonly LightUnit[] }): FlatOutline => {
  const hashes = new Int32Array(2 * order.length);
  order.forEach((u, i) => u.hash.save(hashes, 2 * i));
  const flags = (is: (u: LightUnit) => boolean) => Uint8Array.from(order, (u) => (is(u) ? 1 : 0));
  const brought: (Brought | undefined)[] = [];
  const makes = new Int32Array(order.length).fill(-1);
  const takes: number[][] = [];
  const places = new Map<string, number>();
  const newPlace = (from?: Brought): number => 16 * (brought.push(from) - 1);
  const placeOf = ({ unit, port }: LightUnit['matricesFrom'][number]): number => {
    if (unit.kernel) return makes[unit.index];
    const name = `${unit.index} ${port}`;
    const place = places.get(name) ?? newPlace({ unit: unit.index, port });
    places.set(name, place);
    return place;
  };
  // What a kernel takes comes before it in the order.
  for (const { kernel, matricesFrom, index } of order) {
    takes[index] = kernel ? matricesFrom.map(placeOf) : [];
    if (kernel) makes[index] = kernel.run ? newPlace() : takes[index][0];
  }
  return {
    count: order.length,
    hashes,
    wired: lists(order.map((u) => [...u.inputs.values()].flatMap((from) => from.unit?.index ?? []))),
    needs: lists(order.map((u) => u.needs.map((n) => n.unit.index))),
    needBits: Int32Array.from(order.flatMap((u) => u.needs.map((n) => n.bit))),
    asked: Int32Array.from(order, (u) => u.asked),
    read: readOutputs(order),
    isMoving: flags((u) => u.isMoving),
    isLight: flags((u) => u.isLight),
    isRefused: flags((u) => u.refused !== undefined),
    makes,
    runs: order.map((u) => u.kernel?.run),
    takes: lists(takes),
    brought,
  };
});

function readOutputs(order: readonly LightUnit[]): Int32Array {
  const read = Int32Array.from(order, (u) => u.asked);
  for (const { needs } of order) for (const { unit, bit } of needs) read[unit.index] |= bit;
  return read;
}

function lists(of: readonly (readonly number[])[]): Lists {
  const start = new Int32Array(of.length + 1);
  of.forEach((items, i) => (start[i + 1] = start[i] + items.length));
  return { start, items: Int32Array.from(of.flat()) };
}
