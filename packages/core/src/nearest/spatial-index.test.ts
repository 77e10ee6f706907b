import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { closest, toPoint, toSegment, toTriangle } from './closest.ts';
import { SpatialIndex, type PrimitiveSize } from './spatial-index.ts';

const DISTANCE = { 1: toPoint, 2: toSegment, 3: toTriangle };

/** Every primitive in turn; the first of the nearest. */
function bruteForce(
  p: Float32Array,
  size: PrimitiveSize,
  place: readonly number[],
): { at: number; squared: number } {
  let at = -1;
  let squared = Infinity;
  for (let i = 0; i * size * 3 < p.length; i++) {
    const d = DISTANCE[size](p, i * size * 3, place[0], place[1], place[2]);
    if (d < squared) [at, squared] = [i, d];
  }
  return { at, squared };
}

/** Coordinates on a coarse grid, so that ties, doubles and flat triangles are common. */
const coarse = fc.integer({ min: -3, max: 3 });
const fine = fc.double({ min: -6, max: 6, noNaN: true }).map((v) => Math.round(v * 1e5) / 1e5);

describe('the spatial index', () => {
  for (const size of [1, 2, 3] as const) {
    test(`finds what brute force finds, ties by number: ${['points', 'edges', 'triangles'][size - 1]}`, () => {
      fc.assert(
        fc.property(
          fc.array(fc.array(fc.oneof(coarse, fine), { minLength: size * 3, maxLength: size * 3 }), { minLength: 1, maxLength: 120 }),
          fc.array(fc.tuple(fc.oneof(coarse, fine), fine, coarse), { minLength: 1, maxLength: 10 }),
          (primitives, places) => {
            const p = Float32Array.from(primitives.flat());
            const corners = Int32Array.from({ length: p.length / 3 }, (_, i) => i);
            const index = new SpatialIndex(p, size, size === 1 ? undefined : corners);
            for (const place of places) {
              const known = bruteForce(p, size, place);
              const found = index.nearest(place[0], place[1], place[2]);
              expect([found, index.distanceSquared]).toEqual([known.at, known.squared]);
              const within = Math.sqrt(known.squared);
              expect(index.nearest(place[0], place[1], place[2], within * 1.001 + 1e-9)).toBe(known.at);
              if (within > 1e-3) expect(index.nearest(place[0], place[1], place[2], within * 0.999)).toBe(-1);
            }
          },
        ),
        { numRuns: 150 },
      ); // prettier-ignore
    });
  }

  test('the closest point of a triangle is no further than any point of it, and its weights lead there', () => {
    const weight = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.oneof(coarse, fine), { minLength: 12, maxLength: 12 }),
        weight,
        weight,
        (v, s, t) => {
          const p = Float32Array.from(v.slice(0, 9));
          const [x, y, z] = v.slice(9);
          const squared = toTriangle(p, 0, x, y, z);
          const { b, c } = closest;
          const at = (wb: number, wc: number) => {
            const d = [x, y, z].map(
              (q, axis) => q - (p[axis] * (1 - wb - wc) + p[axis + 3] * wb + p[axis + 6] * wc),
            );
            return d.reduce((sum, e) => sum + e * e, 0);
          };
          expect(b >= 0 && c >= 0 && b + c <= 1 + 1e-9).toBe(true);
          expect(at(b, c)).toBeCloseTo(squared, 5);
          const [wb, wc] = s + t <= 1 ? [s, t] : [1 - s, 1 - t];
          expect(squared).toBeLessThanOrEqual(at(wb, wc) + 1e-6);
        },
      ),
      { numRuns: 2000 },
    );
  });

  test('refitted to moved points it finds what a new one finds', () => {
    const mesh = makeSphere(1, 24, 32);
    const { points } = trianglesOf(mesh.topology);
    const index = new SpatialIndex(mesh.positions, 3, points);
    const moved = mesh.positions.map((v, i) => v * (1 + 0.4 * Math.sin(i)));
    index.refit(moved);
    const fresh = new SpatialIndex(moved, 3, points);
    for (let i = 0; i < 200; i++) {
      const place = [Math.sin(i) * 1.5, Math.cos(i * 1.3) * 1.5, Math.sin(i * 0.7)];
      expect(index.nearest(place[0], place[1], place[2])).toBe(fresh.nearest(place[0], place[1], place[2]));
      expect(index.distanceSquared).toBe(fresh.distanceSquared);
    }
  });

  test('nothing, places that are no numbers, points all in one place', () => {
    expect(new SpatialIndex(new Float32Array(0), 1).nearest(0, 0, 0)).toBe(-1);
    const some = new SpatialIndex(Float32Array.of(NaN, 0, 0, 1, 1, 1), 1);
    expect(some.nearest(0, 0, 0)).toBe(1);
    expect(some.nearest(NaN, 0, 0)).toBe(-1);
    expect(new SpatialIndex(new Float32Array(3000), 1).nearest(5, 0, 0)).toBe(0);
  });
});
