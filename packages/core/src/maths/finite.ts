/** Whether data[from .. to − 1] are all finite: x · 0 is 0 for finite x and NaN otherwise, so sums tell it. */
export function allFinite(data: Readonly<Float32Array>, from: number, to: number): boolean {
  let a = 0,
    b = 0,
    c = 0,
    d = 0;
  let i = from;
  for (; i + 3 < to; i += 4) {
    a += data[i] * 0;
    b += data[i + 1] * 0;
    c += data[i + 2] * 0;
    d += data[i + 3] * 0;
  }
  for (; i < to; i++) a += data[i] * 0;
  return a + b + c + d === 0;
}

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
