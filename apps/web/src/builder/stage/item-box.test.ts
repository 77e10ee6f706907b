import { expect, test } from 'vitest';
import type { DrawnItem } from './drawn-items.ts';
import { boxLines, itemBox } from './item-box.ts';

const item = (positions: number[], matrix: number[] | null) =>
  ({ mesh: { positions: Float32Array.from(positions) }, matrix: matrix && Float64Array.from(matrix) }) as unknown as DrawnItem;
const CORNERS = [-1, -2, -3, 1, 2, 3];
/** Turned a quarter about z, twice as large, mirrored along z, moved by 10 along x. */
const TURNED = [0, 2, 0, 0, -2, 0, 0, 0, 0, 0, -2, 0, 10, 0, 0, 1];

test('the box of an item is that of its points as it stands', () => {
  expect(itemBox(item(CORNERS, null))).toMatchObject({ min: { x: -1, y: -2, z: -3 }, max: { x: 1, y: 2, z: 3 } });
  expect(itemBox(item(CORNERS, TURNED))).toMatchObject({ min: { x: 6, y: -2, z: -6 }, max: { x: 14, y: 2, z: 6 } });
  expect(itemBox(item([NaN, 0, 0], TURNED)).isEmpty()).toBe(true);
  const nowhere = TURNED.map((v, i) => (i === 12 ? NaN : v));
  expect(itemBox(item(CORNERS, nowhere)).isEmpty()).toBe(true);
  expect(boxLines([item(CORNERS, nowhere)])).toHaveLength(0);
});

test('boxes have twelve edges each, along their own axes, every corner three times; what is nowhere has none', () => {
  const lines = boxLines([item(CORNERS, TURNED), item([NaN, 0, 0], null), item(CORNERS, null)]);
  expect(lines).toHaveLength(2 * 24 * 3);
  const ends = Array.from({ length: 48 }, (_, i) => [...lines.subarray(i * 3, i * 3 + 3)]);
  const lengths = Array.from({ length: 24 }, (_, i) => Math.hypot(...ends[i * 2].map((v, k) => v - ends[i * 2 + 1][k])));
  expect(lengths.slice(0, 12).sort((a, b) => a - b)).toEqual([4, 4, 4, 4, 8, 8, 8, 8, 12, 12, 12, 12]);
  expect(lengths.slice(12).sort((a, b) => a - b)).toEqual([2, 2, 2, 2, 4, 4, 4, 4, 6, 6, 6, 6]);
  const counts = new Map<string, number>();
  for (const e of ends.slice(0, 24)) counts.set(e.join(), (counts.get(e.join()) ?? 0) + 1);
  expect([...counts.values()]).toEqual([3, 3, 3, 3, 3, 3, 3, 3]);
  // A corner of the own box, in the world: x from −y, y from x, z mirrored.
  expect(counts.has('14,-2,6')).toBe(true);
});
