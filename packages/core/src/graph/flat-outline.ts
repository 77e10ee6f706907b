import { memoize } from '../memo.ts';
import type { Outline, OutlinedUnit } from './outline.ts';

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
  /** Outputs that are asked for from outside. */
  readonly asked: Int32Array;
  /** Whether it reads something itself that can change from frame to frame. */
  readonly isMoving: Uint8Array;
  readonly isLight: Uint8Array;
  readonly hasLoop: Uint8Array;
  /** The place in the sheet where its kernel puts its matrix: that of a unit, or −1 without a kernel. */
  readonly makes: Int32Array;
  /** The places in the sheet of what its kernel takes. */
  readonly takes: Lists;
  /** The outputs of other units that kernels take, with their places in the sheet, which come after all that kernels make. */
  readonly brought: readonly { readonly unit: number; readonly port: string }[];
  /** How many matrices a sheet holds; the place of the n-th is 16 n. */
  readonly matrices: number;
}

/** The flat arrays of an outline, made once. */
export const flatOutline = memoize(({ order }: Outline): FlatOutline => {
  const hashes = new Int32Array(2 * order.length);
  order.forEach((u, i) => u.hash.save(hashes, 2 * i));
  const flags = (is: (u: OutlinedUnit) => boolean) => Uint8Array.from(order, (u) => (is(u) ? 1 : 0));
  let matrices = 0;
  const makes = Int32Array.from(order, (u) => (u.kernel ? 16 * matrices++ : -1));
  const brought: { unit: number; port: string }[] = [];
  const places = new Map<string, number>();
  const placeOf = ({ unit, port }: OutlinedUnit['matricesFrom'][number]): number => {
    if (unit.kernel) return makes[unit.index];
    const name = `${unit.index} ${port}`;
    let place = places.get(name);
    if (place === undefined) {
      places.set(name, (place = 16 * matrices++));
      brought.push({ unit: unit.index, port });
    }
    return place;
  };
  const takes = lists(order.map((u) => (u.kernel ? u.matricesFrom.map(placeOf) : [])));
  return {
    count: order.length,
    hashes,
    wired: lists(order.map((u) => [...u.inputs.values()].flatMap((from) => from.unit?.index ?? []))),
    needs: lists(order.map((u) => u.needs.map((n) => n.unit.index))),
    needBits: Int32Array.from(order.flatMap((u) => u.needs.map((n) => n.bit))),
    asked: Int32Array.from(order, (u) => u.asked),
    isMoving: flags((u) => u.isMoving),
    isLight: flags((u) => u.isLight),
    hasLoop: flags((u) => u.loop !== undefined),
    makes,
    takes,
    brought,
    matrices,
  };
});

function lists(of: readonly (readonly number[])[]): Lists {
  const start = new Int32Array(of.length + 1);
  of.forEach((items, i) => (start[i + 1] = start[i] + items.length));
  return { start, items: Int32Array.from(of.flat()) };
}
