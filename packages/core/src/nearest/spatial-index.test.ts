import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { closest, toPoint, toSegment, toTriangle } from './closest.ts';
import { makeMesh, withPositions } from '../geometry/mesh.ts';
import { randomFrom } from '../maths/random.ts';
import { rayHit } from './ray.ts';
import { indexOf } from './shared.ts';
import { isClosed, signedDistances } from './signed.ts';
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
              // A hint, good or bad, changes nothing.
              for (const hint of [known.at, 0, primitives.length - 1, primitives.length + 7])
                expect(index.nearest(place[0], place[1], place[2], Infinity, hint)).toBe(known.at);
              const numbers = new Int32Array(4);
              const squared = new Float64Array(4);
              const many = index.nearestSeveral(numbers, squared, place[0], place[1], place[2]);
              const all = primitives.map((_, i) => ({ i, d: DISTANCE[size](p, i * size * 3, place[0], place[1], place[2]) }));
              all.sort((a, b) => a.d - b.d || a.i - b.i);
              expect(Array.from(numbers.slice(0, many))).toEqual(all.slice(0, 4).map((a) => a.i));
              const within = Math.sqrt(known.squared);
              expect(index.nearest(place[0], place[1], place[2], within * 1.001 + 1e-9)).toBe(known.at);
              for (const hint of within > 1e-3 ? [-1, 0, known.at] : [])
                expect(index.nearest(place[0], place[1], place[2], within * 0.999, hint)).toBe(-1);
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

  test('a ray hits what it hits by brute force, from both sides or the front only', () => {
    const random = randomFrom(3);
    const number = () => random() * 4 - 2;
    const p = Float32Array.from({ length: 60 * 9 }, number);
    const corners = Int32Array.from({ length: 180 }, (_, i) => i);
    const index = new SpatialIndex(p, 3, corners);
    let hits = 0;
    for (let i = 0; i < 500; i++) {
      const from = [number(), number(), number()];
      const to = i % 10 === 0 ? [0, 1, 0] : [number(), number(), number()];
      for (const sides of ['both', 'front'] as const) {
        const known = bruteRay(p, from, to, sides === 'front');
        const found = rayHit(index, from[0], from[1], from[2], to[0], to[1], to[2], 0, Infinity, sides);
        expect(found).toBe(known.at);
        if (found >= 0) expect(index.rayDistance).toBeCloseTo(known.t, 9);
        if (found >= 0) hits++;
      }
    }
    expect(hits).toBeGreaterThan(100);
  });

  test('signed distances of a cube are those of its closed form; open meshes have no inside', () => {
    const corner = (i: number) => [i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1];
    const positions = Float32Array.from({ length: 24 }, (_, i) => corner(Math.floor(i / 3))[i % 3]);
    const faces = [0, 4, 6, 2, 1, 3, 7, 5, 0, 1, 5, 4, 2, 6, 7, 3, 0, 2, 3, 1, 4, 5, 7, 6];
    const cube = makeMesh(positions, Int32Array.of(0, 4, 8, 12, 16, 20, 24), Int32Array.from(faces));
    expect(isClosed(cube.topology)).toBe(true);
    const random = randomFrom(9);
    const places = Float32Array.from({ length: 900 }, () => random() * 4 - 2);
    const found = signedDistances(cube, places);
    for (let i = 0; i < 300; i++) {
      const q = [0, 1, 2].map((axis) => Math.abs(places[i * 3 + axis]) - 1);
      const outside = Math.hypot(...q.map((v) => Math.max(v, 0)));
      expect(found[i]).toBeCloseTo(outside + Math.min(0, Math.max(...q)), 5);
    }
    const open = makeMesh(positions, Int32Array.of(0, 4, 8), Int32Array.from(faces.slice(0, 8)));
    expect(isClosed(open.topology)).toBe(false);
  });

  test('meshes of one topology share the tree, and ask each its own boxes', () => {
    const mesh = makeSphere(1, 12, 16);
    const grown = withPositions(
      mesh,
      mesh.positions.map((v) => v * 3),
    );
    const [a, b] = [indexOf(mesh, 'faces'), indexOf(grown, 'faces')];
    expect(b.tree).toBe(a.tree);
    expect(indexOf(mesh, 'faces')).toBe(a);
    a.nearest(0, 5, 0);
    b.nearest(0, 5, 0);
    expect([Math.sqrt(a.distanceSquared), Math.sqrt(b.distanceSquared)]).toEqual([4, 2]);
    const random = randomFrom(4);
    const torn = withPositions(
      mesh,
      mesh.positions.map(() => random() * 9),
    );
    expect(indexOf(torn, 'faces').tree).not.toBe(a.tree);
  });

  test('nothing, places that are no numbers, points all in one place', () => {
    expect(new SpatialIndex(new Float32Array(0), 1).nearest(0, 0, 0)).toBe(-1);
    const some = new SpatialIndex(Float32Array.of(NaN, 0, 0, 1, 1, 1), 1);
    expect(some.nearest(0, 0, 0)).toBe(1);
    expect(some.nearest(NaN, 0, 0)).toBe(-1);
    expect(new SpatialIndex(new Float32Array(3000), 1).nearest(5, 0, 0)).toBe(0);
  });
});

/** Every triangle against a ray, by solving for the hit and its weights. */
function bruteRay(p: Float32Array, from: number[], to: number[], front: boolean): { at: number; t: number } {
  const minus = (a: number[], b: number[]) => a.map((v, i) => v - b[i]);
  const cross = (a: number[], b: number[]) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]; // prettier-ignore
  const dot = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  let best = { at: -1, t: Infinity };
  for (let i = 0; i * 9 < p.length; i++) {
    const [a, b, c] = [0, 3, 6].map((k) => Array.from(p.slice(i * 9 + k, i * 9 + k + 3)));
    const normal = cross(minus(b, a), minus(c, a));
    const slope = dot(normal, to);
    if (slope === 0 || (front && slope > 0)) continue;
    const t = dot(normal, minus(a, from)) / slope;
    const hit = from.map((v, k) => v + to[k] * t);
    const inside = [[a, b], [b, c], [c, a]].every(([s, e]) => dot(cross(minus(e, s), minus(hit, s)), normal) >= 0); // prettier-ignore
    if (inside && t >= 0 && t < best.t) best = { at: i, t };
  }
  return best;
}
