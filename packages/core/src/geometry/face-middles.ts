import type { Topology } from './topology.ts';

/** The average of the points of each face, written as xyz from point number `first` of `out` on. */
export function faceMiddles(
  out: Float32Array,
  first: number,
  { faceCount, faceStarts, cornerPoints }: Topology,
  p: Readonly<Float32Array>,
): Float32Array {
  for (let f = 0, o = first * 3; f < faceCount; f++, o += 3) {
    let x = 0,
      y = 0,
      z = 0;
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    for (let c = start; c < end; c++) {
      const i = cornerPoints[c] * 3;
      x += p[i];
      y += p[i + 1];
      z += p[i + 2];
    }
    const share = 1 / (end - start);
    out[o] = x * share;
    out[o + 1] = y * share;
    out[o + 2] = z * share;
  }
  return out;
}
