import { largest } from '../maths/extremes.ts';
import { memoize } from '../memo.ts';
import { leafCount, leafStart, type Tree } from './tree.ts';

/** Words of a record: boxes of the left and of the right child (low xyz, high xyz), their links, and two unused. */
export const RECORD = 16;
/** Where in a record its two links stand; they lead to records by their first word. */
export const LINKS = 12;

/** Slots: a place among the two children of a record, as the record's first word and, in its lowest bit, left or right. */
export interface Slots {
  /** The slot of each record, −1 for the first. */
  readonly nodes: Int32Array;
  /** The slot of the leaf that each primitive is in, −1 where it is in none. */
  readonly primitives: Int32Array;
}

/** Where everything hangs in a tree, for going up; made for trees that are asked with hints. */
export const slotsOf = memoize(({ links, order }: Tree): Slots => {
  const nodes = new Int32Array(links.length / 2).fill(-1);
  const primitives = new Int32Array(largest(order, -1) + 1).fill(-1);
  links.forEach((link, i) => {
    const slot = (i >> 1) * RECORD + (i & 1);
    if (link >= 0) nodes[link] = slot;
    else for (let k = leafStart(link), n = leafCount(link); n > 0; n--, k++) primitives[order[k]] = slot;
  });
  return { nodes, primitives };
});
