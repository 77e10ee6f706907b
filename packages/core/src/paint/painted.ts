import { PAINT_BLOCK, type Painted } from '../project/fields.ts';

/** Nothing painted yet. */
export const NO_PAINT: Painted = { points: 0, columns: {} };

/** New numbers of some points, by attribute: points in any order, each once. */
export type PaintChange = ReadonlyMap<string, { readonly points: readonly number[]; readonly values: readonly number[] }>;

type Block = Painted['columns'][string][string];

/** Calls back for every painted point of an attribute, in order of blocks. */
export function eachPainted(painted: Painted, name: string, take: (point: number, value: number) => void): void {
  const blocks = Object.hasOwn(painted.columns, name) ? painted.columns[name] : {};
  for (const [block, { index, values }] of Object.entries(blocks)) {
    const first = Number(block) * PAINT_BLOCK;
    for (let i = 0; i < index.length; i++) take(first + index[i], values[i]);
  }
}

/** How many points of an attribute are painted. */
export const paintedPoints = (painted: Painted, name: string): number =>
  Object.hasOwn(painted.columns, name) ? Object.values(painted.columns[name]).reduce((n, b) => n + b.index.length, 0) : 0;

/** What is painted with some numbers more; blocks that none of them lies in stay the same objects. */
export function withPaint(painted: Painted, pointCount: number, change: PaintChange): Painted {
  const columns = { ...painted.columns };
  for (const [name, { points, values }] of change) {
    if (points.length === 0) continue;
    const mine = new Map<number, Map<number, number>>();
    points.forEach((p, i) => {
      const block = Math.floor(p / PAINT_BLOCK);
      let into = mine.get(block);
      if (!into) mine.set(block, (into = new Map()));
      into.set(p % PAINT_BLOCK, values[i]);
    });
    const before = Object.hasOwn(columns, name) ? columns[name] : {};
    const blocks: Record<string, Block> = { ...before };
    for (const [block, into] of mine) {
      const has = blocks[block];
      has?.index.forEach((k, i) => {
        if (!into.has(k)) into.set(k, has.values[i]);
      });
      const sorted = [...into].sort((a, b) => a[0] - b[0]);
      blocks[block] = { index: sorted.map(([k]) => k), values: sorted.map(([, v]) => v) };
    }
    columns[name] = blocks;
  }
  return { points: pointCount, columns };
}

/** Without what is painted of one attribute. */
export function withoutPaint(painted: Painted, name: string): Painted {
  const columns = Object.fromEntries(Object.entries(painted.columns).filter(([n]) => n !== name));
  return { ...painted, columns };
}
