import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  clampHandles,
  compileResponse,
  respond,
  respondAll,
  RESPONSE_PRESETS,
  type Response,
  type ResponsePoint,
} from './response.ts';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const handle = fc.double({ min: -0.9, max: 0.9, noNaN: true });
const point = fc.record({
  at: unit,
  value: unit,
  in: fc.tuple(handle, handle),
  out: fc.tuple(handle, handle),
  shape: fc.constantFrom('curve' as const, 'straight' as const, 'step' as const),
});

/** The curve by halving the parameter, with nothing tabled. */
function plainRespond(points: readonly ResponsePoint[], at: number): number {
  const sorted = [...points].sort((a, b) => a.at - b.at);
  if (at >= sorted[sorted.length - 1].at) return sorted[sorted.length - 1].value;
  if (at <= sorted[0].at) return sorted[0].value;
  let i = 0;
  while (i < sorted.length - 2 && at >= sorted[i + 1].at) i++;
  const [a, b] = [sorted[i], sorted[i + 1]];
  if (a.shape === 'step') return a.value;
  if (a.shape === 'straight') return a.value + ((b.value - a.value) * (at - a.at)) / (b.at - a.at);
  const [out, into] = clampHandles(a, b);
  const bezier = (t: number, p: number, q: number, r: number, s: number) =>
    p * (1 - t) ** 3 + 3 * q * t * (1 - t) ** 2 + 3 * r * t * t * (1 - t) + s * t ** 3;
  let low = 0,
    high = 1;
  for (let n = 0; n < 80; n++) {
    const t = (low + high) / 2;
    if (bezier(t, a.at, a.at + out[0], b.at + into[0], b.at) < at) low = t;
    else high = t;
  }
  return bezier(low, a.value, a.value + out[1], b.value + into[1], b.value);
}

describe('responses', () => {
  test('agree with a plain Bézier solved by halving', () => {
    fc.assert(
      fc.property(
        fc.array(point, { minLength: 2, maxLength: 6 }),
        fc.array(unit, { minLength: 5, maxLength: 20 }),
        (spread, places) => {
          // Apart from one another, in any order.
          const points = spread.map((p, i) => ({ ...p, at: (i + p.at * 0.8) / spread.length })).reverse();
          const compiled = compileResponse({ points, invert: false });
          for (const at of places) {
            const vertical = Math.abs(respond(compiled, at + 1e-9) - respond(compiled, at - 1e-9)) > 1e-4;
            if (!vertical) expect(respond(compiled, at)).toBeCloseTo(plainRespond(points, at), 4);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  test('keep their ends outside, go through their points, and turn over when inverted', () => {
    for (const preset of Object.values(RESPONSE_PRESETS)) {
      const compiled = compileResponse(preset);
      const inverted = compileResponse({ ...preset, invert: true });
      for (const p of preset.points) expect(respond(compiled, p.at)).toBeCloseTo(p.value, 9);
      expect(respond(compiled, -3)).toBe(preset.points[0].value);
      expect(respond(compiled, 9)).toBe(preset.points[preset.points.length - 1].value);
      for (let at = 0; at <= 1; at += 0.013) expect(respond(inverted, at)).toBeCloseTo(1 - respond(compiled, at), 9);
    }
  });

  test('never run backwards, however far the handles reach', () => {
    const wild: Response = {
      points: [
        { at: 0, value: 0, in: [-1, 0], out: [5, 0], shape: 'curve' },
        { at: 1, value: 1, in: [-5, 0], out: [1, 0], shape: 'curve' },
      ],
      invert: false,
    };
    const compiled = compileResponse(wild);
    let last = 0;
    for (let at = 0; at <= 1; at += 0.001) {
      const v = respond(compiled, at);
      expect(v).toBeGreaterThanOrEqual(last - 1e-9);
      last = v;
    }
    expect(respond(compiled, 0.5)).toBeCloseTo(0.5, 4);
  });

  test('one point is a constant, none the straight line; NaN stays NaN', () => {
    const one = compileResponse({
      points: [{ at: 0.4, value: 0.7, in: [0, 0], out: [0, 0], shape: 'curve' }],
      invert: false,
    });
    expect([-1, 0.4, 2].map((at) => respond(one, at))).toEqual([0.7, 0.7, 0.7]);
    const none = compileResponse({ points: [], invert: false });
    expect(respond(none, 0.3)).toBeCloseTo(0.3, 12);
    expect(respond(compileResponse(RESPONSE_PRESETS['Ease down']), NaN)).toBeNaN();
  });

  test('many places at once come to what each comes to by itself, also at and beyond the ends, and no others are touched', () => {
    const places = [-1, 0, 1e-9, 0.25, 0.5, 0.75, 1 - 1e-9, 1, 2, NaN, Infinity, -Infinity];
    fc.assert(
      fc.property(fc.array(point, { maxLength: 5 }), fc.boolean(), fc.array(unit, { maxLength: 9 }), (points, invert, more) => {
        const compiled = compileResponse({ points, invert });
        const at = [...places, ...points.map((p) => p.at), ...more];
        const all = Float64Array.from([...at, 0.5]);
        respondAll(compiled, all, at.length);
        at.forEach((place, i) => expect(all[i]).toBe(respond(compiled, place)));
        expect(all[at.length]).toBe(0.5);
      }),
    );
  });
});
