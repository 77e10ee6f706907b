import { describe, expect, test } from 'vitest';
import { fractalNoise3, fractalNoise4, makeNoise } from './noise.ts';
import { randomFrom } from './random.ts';

const places = (count: number, size = 30) => {
  const random = randomFrom(7);
  return Array.from({ length: count }, () => [0, 0, 0, 0].map(() => (random() - 0.5) * size));
};

describe('simplex noise', () => {
  test('is exactly 0 at every corner of its lattice', () => {
    const field = makeNoise(3);
    // The skewed lattice: (i, j, k) − (i + j + k) / 6 in three dimensions.
    for (const [i, j, k] of [
      [0, 0, 0],
      [1, 0, 0],
      [2, -3, 5],
      [-7, 4, 1],
      [12, 9, -20],
    ]) {
      const g = (i + j + k) / 6;
      expect(Math.abs(fractalNoise3(field, i - g, j - g, k - g, 1, 2, 0.5))).toBeLessThan(1e-12);
    }
  });

  test('stays in −1..1, uses most of it, and averages about 0', () => {
    for (const noise of [
      (f: ReturnType<typeof makeNoise>, p: number[]) => fractalNoise3(f, p[0], p[1], p[2], 1, 2, 0.5),
      (f: ReturnType<typeof makeNoise>, p: number[]) => fractalNoise4(f, p[0], p[1], p[2], p[3], 1, 2, 0.5),
    ]) {
      let low = 0,
        high = 0,
        sum = 0;
      const all = places(120_000);
      const field = makeNoise(1);
      for (const p of all) {
        const v = noise(field, p);
        low = Math.min(low, v);
        high = Math.max(high, v);
        sum += v;
      }
      expect(low).toBeGreaterThanOrEqual(-1);
      expect(high).toBeLessThanOrEqual(1);
      expect(high - low).toBeGreaterThan(1.5);
      expect(Math.abs(sum / all.length)).toBeLessThan(0.01);
    }
  });

  test('is continuous with a bounded slope, everywhere, in both dimensions', () => {
    const field = makeNoise(5);
    const step = 1e-5;
    for (const p of places(20_000)) {
      const a = fractalNoise3(field, p[0], p[1], p[2], 1, 2, 0.5);
      expect(Math.abs(fractalNoise3(field, p[0] + step, p[1], p[2], 1, 2, 0.5) - a)).toBeLessThan(9 * step);
      const b = fractalNoise4(field, p[0], p[1], p[2], p[3], 1, 2, 0.5);
      expect(Math.abs(fractalNoise4(field, p[0], p[1], p[2], p[3] + step, 1, 2, 0.5) - b)).toBeLessThan(9 * step);
    }
  });

  test('octaves are a weighted sum of single ones; a seed repeats, another differs', () => {
    const field = makeNoise(2);
    for (const [x, y, z] of places(200)) {
      const one = fractalNoise3(field, x, y, z, 1, 2, 0.5);
      const next = fractalNoise3(field, x * 3 + 17.31, y * 3 - 9.73, z * 3 + 5.17, 1, 2, 0.5);
      expect(fractalNoise3(field, x, y, z, 2, 3, 0.25)).toBeCloseTo((one + 0.25 * next) / 1.25, 12);
      expect(fractalNoise3(field, x, y, z, 1, 2, 0.5)).toBe(fractalNoise3(makeNoise(2), x, y, z, 1, 2, 0.5));
    }
    const differing = places(200).filter(
      ([x, y, z]) => fractalNoise3(field, x, y, z, 1, 2, 0.5) !== fractalNoise3(makeNoise(3), x, y, z, 1, 2, 0.5),
    );
    expect(differing.length).toBeGreaterThan(190);
    expect(fractalNoise3(field, 1, 2, 3, 0, 2, 0.5)).toBe(0);
  });
});
