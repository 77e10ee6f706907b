import {
  compileResponse,
  compose,
  identity,
  invert,
  makeGrid,
  respond,
  RESPONSE_PRESETS,
  weigh,
  type Falloff,
} from '@umberfish/core';
import { compare, type Trial } from '../measure.ts';

/** Five mixed spheres over a million points, beside one loop that does the same. */
export function falloffsSuite(): Trial[] {
  const { positions } = makeGrid([4, 4], [999, 999]);
  const count = positions.length / 3;
  const out = new Float32Array(count);
  const response = RESPONSE_PRESETS['Ease up'];
  const shapes = Array.from({ length: 5 }, (_, i): Extract<Falloff, { type: 'shape' }> => {
    const world = compose([i - 2, 0.1 * i, Math.sin(i)], [0.2 * i, 0.5, 0], 'xyz', [1.5, 1 + 0.1 * i, 0.8]);
    const inverse = identity();
    invert(inverse, world);
    return {
      type: 'shape',
      shape: 'sphere',
      rounding: 0,
      world,
      inverse,
      fade: { inner: 0.2, outer: 1, response, invert: false },
    };
  });
  const ways = ['add', 'subtract', 'larger', 'screen'] as const;
  const parts = ways.map((way, i) => ({ falloff: shapes[i + 1], way, strength: 0.8 }));
  const mixed: Falloff = { type: 'mix', base: shapes[0], parts, floor: 0 };
  const compiled = compileResponse(response);
  const inverses = shapes.map((s) => Float64Array.from(s.inverse));
  const one = (m: Float64Array, x: number, y: number, z: number) => {
    const a = m[0] * x + m[4] * y + m[8] * z + m[12];
    const b = m[1] * x + m[5] * y + m[9] * z + m[13];
    const c = m[2] * x + m[6] * y + m[10] * z + m[14];
    const w = (1 - Math.sqrt(a * a + b * b + c * c)) / 0.8;
    return respond(compiled, w > 0 ? (w < 1 ? w : 1) : 0);
  };
  const byHand = () => {
    const [i0, i1, i2, i3, i4] = inverses;
    for (let i = 0, o = 0; i < count; i++, o += 3) {
      const x = positions[o],
        y = positions[o + 1],
        z = positions[o + 2];
      let w = one(i0, x, y, z);
      w += 0.8 * one(i1, x, y, z);
      w -= 0.8 * one(i2, x, y, z);
      const larger = one(i3, x, y, z);
      if (larger > w) w += 0.8 * (larger - w);
      w += 0.8 * (1 - (1 - w) * (1 - one(i4, x, y, z)) - w);
      out[i] = w > 0 ? (w < 1 ? w : 1) : 0;
    }
  };
  return [
    compare(
      'five mixed shape falloffs, 1,000,000 points ÷ one hand-written loop',
      () => void weigh(mixed, positions, out),
      byHand,
      'lower',
      1.5,
      8,
    ),
  ];
}
