import fc from 'fast-check';
import { expect, test } from 'vitest';
import { quaternionFromAxis, quaternionFromEuler, multiplyQuaternions, type Quaternion } from '../maths/rotation.ts';
import { angleBetween, radialWeights } from './radial-poses.ts';

const about = (axis: 0 | 1 | 2, degrees: number): Quaternion =>
  quaternionFromAxis([axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0], (degrees * Math.PI) / 180);
const REACH = Math.PI / 2;

test('the angle between turns: by its axis, the short way, and exact where they are nearly one', () => {
  for (const degrees of [1e-5, 0.01, 3, 90, 179])
    expect((angleBetween(about(1, 20), about(1, 20 + degrees)) * 180) / Math.PI).toBeCloseTo(degrees, 6);
  expect((angleBetween(about(0, 10), about(0, 350)) * 180) / Math.PI).toBeCloseTo(20, 6);
  const q = about(2, 33);
  expect(angleBetween(q, q.map((v) => -v) as unknown as Quaternion)).toBeCloseTo(0, 9);
});

test('at each pose its own weight is 1 and all others are 0; at rest all are 0', () => {
  const angle = fc.double({ min: -120, max: 120, noNaN: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(angle, angle, angle), { minLength: 1, maxLength: 6 }), (list) => {
      const turns = list.map((a) => quaternionFromEuler(a.map((v) => (v * Math.PI) / 180) as [number, number, number], 'xyz'));
      const all: Quaternion[] = [[0, 0, 0, 1], ...turns];
      const least = Math.min(...all.flatMap((a, i) => all.slice(0, i).map((b) => angleBetween(a, b))));
      // Poses all but one are ill told apart: those are asked for a few degrees.
      if (least < 0.15) return;
      expect(radialWeights([0, 0, 0, 1], turns, REACH)?.every((w) => Math.abs(w) < 1e-6)).toBe(true);
      turns.forEach((t, k) => radialWeights(t, turns, REACH)?.forEach((w, i) => expect(w).toBeCloseTo(i === k ? 1 : 0, 5)));
    }),
    { numRuns: 300 },
  );
});

test('one pose comes in as a Gaussian of the angle, corrected for the rest, and fades beyond its reach', () => {
  const pose = about(2, 60);
  const shape = (degrees: number) => 0.01 ** ((degrees / 90) ** 2);
  const s = shape(60);
  for (const degrees of [0, 15, 30, 45, 60, 90, 140]) {
    // Two centres by hand: [1 s; s 1] w = (shape to rest, shape to the pose).
    const expected = (shape(60 - degrees) - s * shape(degrees)) / (1 - s * s);
    expect(radialWeights(about(2, degrees), [pose], REACH)?.[0]).toBeCloseTo(expected, 9);
  }
  expect(radialWeights(about(2, 175), [pose], REACH)?.[0]).toBeLessThan(0.02);
  // Half way to another side it is not in.
  expect(Math.abs(radialWeights(about(2, -60), [pose], REACH)?.[0] ?? 1)).toBeLessThan(0.07);
});

test('poses that are one, or the rest, have no answer', () => {
  expect(radialWeights(about(0, 10), [about(0, 40), about(0, 40)], REACH)).toBeUndefined();
  expect(radialWeights(about(0, 10), [about(0, 0)], REACH)).toBeUndefined();
  expect(radialWeights(about(0, 10), [multiplyQuaternions(about(0, 200), about(0, 160))], REACH)).toBeUndefined();
});
