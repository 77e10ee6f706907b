import { expect, test } from 'vitest';
import { compose, decompose } from '../maths/factors.ts';
import { dampingRatio, dampingWeights, dampMatrices, stillToCome } from './damping.ts';

/** The spring, stepped many times a frame over a target that goes straight from frame to frame. */
function simulated(values: readonly number[], lag: number, overshoot: number): number {
  const [omega, zeta] = [2 / lag, dampingRatio(overshoot)];
  const steps = 4000;
  let y = values[0];
  let v = 0;
  for (let f = 0; f + 1 < values.length; f++)
    for (let s = 0; s < steps; s++) {
      const x = values[f] + ((values[f + 1] - values[f]) * (s + 0.5)) / steps;
      const a = omega * omega * (x - y) - 2 * zeta * omega * v;
      v += a / steps;
      y += v / steps;
    }
  return y;
}

test('weights are those of a spring that is followed step by step', () => {
  const kept = 40;
  const values = Array.from({ length: kept + 1 }, (_, i) => Math.sin(i / 3) + (i > 20 ? 2 : 0));
  for (const [lag, overshoot] of [
    [4, 0],
    [6, 0.3],
    [2, 0.7],
  ] as const) {
    const w = dampingWeights(lag, overshoot, kept);
    expect(w.reduce((a, b) => a + b)).toBeCloseTo(1, 12);
    const made = values.reduce((sum, v, i) => sum + w[kept - i] * v, 0);
    expect(made).toBeCloseTo(simulated(values, lag, overshoot), 3);
  }
});

test('evenly moving things are followed so many frames late; a step goes too far by the share asked for', () => {
  const w = dampingWeights(5, 0, 200);
  expect(w.reduce((sum, v, k) => sum - k * v, 0)).toBeCloseTo(-5, 6);
  let most = 0;
  for (let n = 1; n < 200; n++) {
    const v = dampingWeights(8, 0.4, 200)
      .slice(0, n)
      .reduce((a, b) => a + b, 0);
    most = Math.max(most, v);
  }
  expect(most).toBeCloseTo(1.4, 1);
  expect(dampingWeights(0, 0.5, 10)).toEqual(Float64Array.of(1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0));
  expect(stillToCome(4, 0, 4)).toBeGreaterThan(0.1);
  expect(stillToCome(4, 0, 48)).toBeLessThan(1e-6);
});

test('turns go along with their angle, also by more than half a turn, and come out as they are without lag', () => {
  const at = (f: number) => compose([f, 0, 0], [0, 0.4 * f, 0], 'xyz', [1, 1, 1]);
  const kept = 60;
  const past = Array.from({ length: kept + 1 }, (_, k) => at(20 - Math.min(k, 20)));
  const w = dampingWeights(3, 0, kept);
  const m = dampMatrices(past, w);
  const frame = m[12];
  const angle = decompose(m, 'xyz').anglesInRadians;
  // About one axis the angle follows as the place does.
  expect(Math.cos(0.4 * frame)).toBeCloseTo(m[0], 6);
  expect(Number.isFinite(angle[1])).toBe(true);
  const none = dampMatrices(past, dampingWeights(0, 0, kept));
  none.forEach((v, i) => expect(v).toBeCloseTo(past[0][i], 12));
});
