/*
 * Sheets of a surface through the cells of a grid (Nielson 2004, dual marching cubes): where two sheets pass one cell,
 * each has a point of its own, so that they neither stick together nor pull at each other.
 *
 * Corner c of a cell stands at x = c & 1, y = c >> 1 & 1, z = c >> 2. Side s of a cell goes along the axis s >> 2 from
 * the corner that s & 3 says in the two axes after it.
 */

/** The first corner of each of the twelve sides, and the other. */
export const SIDES: readonly (readonly [number, number])[] = Array.from({ length: 12 }, (_, s) => {
  const axis = s >> 2;
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
  const from = ((s & 1) << u) | (((s >> 1) & 1) << v);
  return [from, from | (1 << axis)];
});

/** Corners of the six faces, in turn, and the sides between each and the next. */
const FACES = [0, 1, 2].flatMap((axis) =>
  [0, 1].map((end) => {
    const [u, v] = [1 << ((axis + 1) % 3), 1 << ((axis + 2) % 3)];
    const low = end << axis;
    const corners = [low, low | u, low | u | v, low | v];
    const sides = corners.map((c, i) =>
      SIDES.findIndex(([a, b]) => (a === c && b === corners[(i + 1) % 4]) || (b === c && a === corners[(i + 1) % 4])),
    );
    return { corners, sides };
  }),
);

/** Which sheet crosses each of the twelve sides of a cell, −1 where none does; and how many sheets there are. */
export interface Sheets {
  readonly of: Int8Array;
  readonly count: number;
}

/** The sheets of cells in which every face can only be crossed in one way, by the bits of their corners. */
const PLAIN: (Sheets | undefined)[] = Array.from({ length: 256 }, () => undefined);

/**
 * The sheets of a cell.
 * @param inside bits of the corners that are inside
 * @param faceInside whether the middle of a face, whose corners are inside and outside in turn, is inside: tells which
 * corners belong together. The same for both cells at the face.
 */
export function sheetsOf(inside: number, faceInside: (corners: readonly number[]) => boolean): Sheets {
  const known = PLAIN[inside];
  if (known) return known;
  const isIn = (c: number) => ((inside >> c) & 1) === 1;
  let isPlain = true;
  // Of each side, those that the same sheet crosses next: one in each of its two faces.
  const next: number[][] = SIDES.map(() => []);
  const link = (a: number, b: number) => void (next[a].push(b), next[b].push(a));
  for (const { corners, sides } of FACES) {
    const crossed = sides.filter((_, i) => isIn(corners[i]) !== isIn(corners[(i + 1) % 4]));
    if (crossed.length === 2) link(crossed[0], crossed[1]);
    if (crossed.length < 4) continue;
    isPlain = false;
    // The sheets go round those corners that are not as the middle is.
    const middle = faceInside(corners);
    corners.forEach((c, i) => isIn(c) !== middle && link(sides[(i + 3) % 4], sides[i]));
  }
  const of = new Int8Array(12).fill(-1);
  let count = 0;
  for (let s = 0; s < 12; s++) {
    if (next[s].length === 0 || of[s] >= 0) continue;
    for (let at: number | undefined = s; at !== undefined; at = next[at].find((n) => of[n] < 0)) of[at] = count;
    count++;
  }
  const found = { of, count };
  if (isPlain) PLAIN[inside] = found;
  return found;
}
