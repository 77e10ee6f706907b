import type { LaneView } from '../../graph/node/definition.ts';

/** `out = a + (b − a) · weight`, per point; xyz × count. `out` may be `a` or `b`. */
export function mixPositions(
  out: Float32Array,
  a: Readonly<Float32Array>,
  b: Readonly<Float32Array>,
  { data: weight, step }: LaneView,
): Float32Array {
  for (let i = 0, o = 0; o < out.length; i += step, o += 3) {
    const w = weight[i];
    out[o] = a[o] + (b[o] - a[o]) * w;
    out[o + 1] = a[o + 1] + (b[o + 1] - a[o + 1]) * w;
    out[o + 2] = a[o + 2] + (b[o + 2] - a[o + 2]) * w;
  }
  return out;
}
