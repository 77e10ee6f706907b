import { tellFinite } from '../../maths/finite.ts';
import type { LaneView } from '../../graph/node/definition.ts';

/** `out = a + (b − a) · weight`, per point; xyz × count. `out` is not to be written to afterwards. */
export function mixPositions(
  out: Float32Array,
  a: Readonly<Float32Array>,
  b: Readonly<Float32Array>,
  { data: weight, step }: LaneView,
): Float32Array {
  let size = 0;
  for (let i = 0, o = 0; o < out.length; i += step, o += 3) {
    const w = weight[i];
    const x = a[o] + (b[o] - a[o]) * w;
    const y = a[o + 1] + (b[o + 1] - a[o + 1]) * w;
    const z = a[o + 2] + (b[o + 2] - a[o + 2]) * w;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    size += Math.abs(x) + Math.abs(y) + Math.abs(z);
  }
  tellFinite(out, size);
  return out;
}
