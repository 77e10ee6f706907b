import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeKey } from '../scene/keys.ts';
import { neededKeys } from '../scene/tracks-for.ts';
import { samplesNeeded } from './straight-runs.ts';

/** The value between the samples that stayed. */
function between(times: readonly number[], values: readonly number[], kept: readonly number[], i: number): number {
  const next = kept.findIndex((k) => k >= i);
  const [a, b] = [kept[Math.max(0, next - 1)], kept[next]];
  return a === b ? values[a] : values[a] + ((values[b] - values[a]) * (times[i] - times[a])) / (times[b] - times[a]);
}

test('what is left out lies on the way between what stays, and nothing that is needed goes', () => {
  const steps = fc.array(fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: -2, max: 2 })), { maxLength: 60 });
  fc.assert(
    fc.property(steps, fc.constantFrom(0, 1e-9, 0.3, 1), (all, tolerance) => {
      const times: number[] = [];
      const values: number[] = [];
      let [t, v] = [0, 0];
      for (const [dt, slope] of all) {
        times.push((t += dt));
        values.push((v += slope));
      }
      const kept = samplesNeeded(times, (a, b) => [values[b] - values[a]], tolerance);
      for (let i = 0; i < times.length; i++)
        expect(Math.abs(between(times, values, kept, i) - values[i])).toBeLessThanOrEqual(tolerance + 1e-9);
      // Greedy: from each that stays, one step further than the next that stays would miss something.
      for (let k = 0; k + 2 < kept.length; k++) {
        const [from, to] = [kept[k], kept[k + 1] + 1];
        const misses = times.some(
          (_, i) => i > from && i < to && Math.abs(between(times, values, [from, to], i) - values[i]) > tolerance - 1e-9,
        );
        expect(misses).toBe(true);
      }
    }),
    { numRuns: 500 },
  );
  expect(samplesNeeded([], () => [], 1)).toEqual([]);
  expect(samplesNeeded([3], () => [], 1)).toEqual([0]);
  expect(samplesNeeded([1, 2, 3, 4], () => undefined, 1)).toEqual([0, 1, 2, 3]);
});

test('a curve too gentle for any one key to matter is kept all the same; a drift of steps too', () => {
  const count = 50_000;
  const gentle = Array.from({ length: count }, (_, i) => makeKey(i, (i / count) ** 2, { shape: 'straight' }));
  const kept = neededKeys(gentle, 'straight');
  expect(kept.length).toBeLessThan(count);
  const at = (i: number) => {
    const next = kept.findIndex((k) => k.frame >= i);
    const [a, b] = [kept[Math.max(0, next - 1)], kept[next]];
    return a === b ? a.value : a.value + ((b.value - a.value) * (i - a.frame)) / (b.frame - a.frame);
  };
  for (let i = 0; i < count; i += 997) expect(Math.abs(at(i) - (i / count) ** 2)).toBeLessThan(2e-9);
  const drift = Array.from({ length: 1000 }, (_, i) => makeKey(i, 1 + i * 5e-10, { shape: 'step' }));
  const held = neededKeys(drift, 'step');
  for (const { frame, value } of drift)
    expect(Math.abs((held.findLast((k) => k.frame <= frame)?.value ?? 0) - value)).toBeLessThan(3e-9);
});
