/** `out = a + (b − a) · weight`, per point; xyz × count. `out` may be `a` or `b`. */
export function mixPositions(
  out: Float32Array,
  a: Readonly<Float32Array>,
  b: Readonly<Float32Array>,
  weight: Readonly<Float32Array>,
): Float32Array {
  for (let i = 0, o = 0; i < weight.length; i++) {
    const w = weight[i];
    for (let axis = 0; axis < 3; axis++, o++) out[o] = a[o] + (b[o] - a[o]) * w;
  }
  return out;
}
