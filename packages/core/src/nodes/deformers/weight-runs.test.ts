import fc from 'fast-check';
import { expect, test } from 'vitest';
import { byRunsOfWeight } from './weight-runs.ts';

test('every point is gone through once, in order, with its own weight, not a number too; long ways are stopped now and then', () => {
  const stretch = fc.tuple(fc.constantFrom(0, 1, 0.5, NaN, -0, Infinity), fc.constantFrom(1, 2, 7, 5000));
  fc.assert(
    fc.property(fc.array(stretch, { maxLength: 8 }), fc.boolean(), (stretches, isOne) => {
      const all = Float32Array.from(stretches.flatMap(([w, many]) => Array<number>(many).fill(w)));
      const data = isOne ? Float32Array.of(0.25) : all;
      const seen: number[] = [];
      let checks = 0;
      const sum = byRunsOfWeight(
        { data, step: isOne ? 0 : 1 },
        all.length,
        () => void checks++,
        (w, from, to) => {
          expect(from).toBe(seen.length);
          for (let i = from; i < to; i++) seen.push(w);
          return to - from;
        },
      );
      expect(sum).toBe(all.length);
      expect(seen.every((w, i) => (isOne ? w === 0.25 : w === all[i] || (w !== w && all[i] !== all[i])))).toBe(true);
      expect(checks).toBeGreaterThanOrEqual(Math.floor(all.length / 8192));
    }),
    { numRuns: 60 },
  );
});
