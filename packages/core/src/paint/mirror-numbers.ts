import type { PaintChange } from './painted.ts';
import type { Across, PaintedNumbers } from './stroke.ts';

/**
 * The numbers of one side on the other: every partner gets what its own point has, under the name that is across. Points
 * without a partner, and those in the plane, stay as they are. @param side 1 or −1: which side is the model
 */
export function mirrorNumbers(
  { name, columns, together }: PaintedNumbers,
  { partners, nameAcross }: Across,
  sides: Readonly<Int8Array>,
  side: 1 | -1,
): PaintChange {
  const change = new Map<string, { points: number[]; values: number[] }>();
  for (const n of together ? columns.keys() : [name]) {
    const from = columns.get(n);
    if (!from) continue;
    const points: number[] = [];
    const values: number[] = [];
    sides.forEach((s, p) => {
      if (s !== side || partners[p] < 0) return;
      points.push(partners[p]);
      values.push(Number((from[p] - from[p] === 0 ? from[p] : 0).toFixed(5)));
    });
    change.set(nameAcross(n), { points, values });
  }
  return change;
}
