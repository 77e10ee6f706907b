/**
 * Whether data[from .. to − 1] are all finite: sums tell it, since one that is not stays in them, and so many finite
 * Float32 numbers as fit into memory cannot add up to more than Float64 holds.
 */
export function allFinite(data: Readonly<Float32Array>, from: number, to: number): boolean {
  let a = 0,
    b = 0,
    c = 0,
    d = 0,
    e = 0,
    f = 0,
    g = 0,
    h = 0;
  let i = from;
  for (; i + 7 < to; i += 8) {
    a += data[i];
    b += data[i + 1];
    c += data[i + 2];
    d += data[i + 3];
    e += data[i + 4];
    f += data[i + 5];
    g += data[i + 6];
    h += data[i + 7];
  }
  for (; i < to; i++) a += data[i];
  return (a + b + c + d + e + f + g + h) * 0 === 0;
}

const found = new WeakSet<Readonly<Float32Array | Float64Array>>();

/** Above this, a number might not be finite as Float32; and, kept far from it, as Float64. */
const MOST = 3e38;

/**
 * Tells that numbers are finite, for those who looked while they wrote them: reading a million once more takes longer than
 * many a node. @param size the sum of their absolute values as Float64; where it is not below what Float32 holds, nothing
 * is told
 */
export function tellFinite(data: Readonly<Float32Array | Float64Array>, size: number): void {
  if (size < MOST) found.add(data);
}

/** Whether somebody has told that all of these numbers are finite. */
export const isToldFinite = (data: Readonly<Float32Array | Float64Array>): boolean => found.has(data);

/** Whether a few Float64 numbers are all finite: a loop of its own, so that the one over columns meets one type. */
export function areFinite(data: Readonly<Float64Array>): boolean {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i] * 0;
  return sum === 0;
}

/** Whether the sixteen numbers from a place on are all finite: four sums, that do not wait for each other. */
export function isFiniteMatrix(data: Readonly<Float64Array>, from: number): boolean {
  let a = 0,
    b = 0,
    c = 0,
    d = 0;
  for (let i = from; i < from + 16; i += 4) {
    a += data[i] * 0;
    b += data[i + 1] * 0;
    c += data[i + 2] * 0;
    d += data[i + 3] * 0;
  }
  return a + b + c + d === 0;
}
