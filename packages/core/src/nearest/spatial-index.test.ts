import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { edgesOf } from '../geometry/edges.ts';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { closest, toPoint, toSegment, toTriangle } from './closest.ts';
import { makeMesh, withPositions, type Mesh } from '../geometry/mesh.ts';
import { randomFrom } from '../maths/random.ts';
import { packedTriangles } from '../testing/surface.ts';
import { rayHit } from './ray.ts';
import { cornersOf, indexOf } from './shared.ts';
import { isClosed, signedDistances } from './signed.ts';
import { SpatialIndex, type PrimitiveSize } from './spatial-index.ts';

const DISTANCE = { 1: toPoint, 2: toSegment, 3: toTriangle };

/** Metres within which two distances are of one place; far more than rounding, far less than these tests' coordinates. */
const SAME = 1e-12;

/** Every primitive in turn; the first of those that are as near as the nearest. */
function bruteForce(p: Float32Array, size: PrimitiveSize, place: readonly number[]): { at: number; squared: number } {
  const all = Array.from({ length: p.length / (size * 3) }, (_, i) =>
    DISTANCE[size](p, i * size * 3, place[0], place[1], place[2]),
  );
  const least = Math.min(...all.filter((d) => !Number.isNaN(d)));
  const at = all.findIndex((d) => Math.sqrt(d) <= Math.sqrt(least) + SAME);
  return { at, squared: at < 0 ? Infinity : all[at] };
}

/** Coordinates on a coarse grid, so that ties, doubles and flat triangles are common. */
const coarse = fc.integer({ min: -3, max: 3 });
const fine = fc.double({ min: -6, max: 6, noNaN: true }).map((v) => Math.round(v * 1e5) / 1e5);

describe('the spatial index', () => {
  for (const size of [1, 2, 3] as const) {
    test(`finds what brute force finds, ties by number: ${['points', 'edges', 'triangles'][size - 1]}`, () => {
      fc.assert(
        fc.property(
          fc.array(fc.array(fc.oneof(coarse, fine), { minLength: size * 3, maxLength: size * 3 }), {
            minLength: 1,
            maxLength: 120,
          }),
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
      );
    });
  }

  test('the closest point of a triangle is no further than any point of it, and its weights lead there', () => {
    const weight = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.oneof(coarse, fine), { minLength: 12, maxLength: 12 }), weight, weight, (v, s, t) => {
        const p = Float32Array.from(v.slice(0, 9));
        const [x, y, z] = v.slice(9);
        const squared = toTriangle(p, 0, x, y, z);
        const { b, c } = closest;
        const at = (wb: number, wc: number) => {
          const d = [x, y, z].map((q, axis) => q - (p[axis] * (1 - wb - wc) + p[axis + 3] * wb + p[axis + 6] * wc));
          return d.reduce((sum, e) => sum + e * e, 0);
        };
        expect(b >= 0 && c >= 0 && b + c <= 1 + 1e-9).toBe(true);
        expect(at(b, c)).toBeCloseTo(squared, 5);
        const [wb, wc] = s + t <= 1 ? [s, t] : [1 - s, 1 - t];
        expect(squared).toBeLessThanOrEqual(at(wb, wc) + 1e-6);
      }),
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

  test('what is not finite is not found, whichever positions the tree was built from', () => {
    const mesh = makeSphere(1, 8, 12);
    const random = randomFrom(11);
    // Some points are no numbers, others are at no end; each time others.
    const torn = (share: number) => {
      const p = Float32Array.from(mesh.positions);
      for (let i = 0; i < p.length; i++) if (random() < share) p[i] = random() < 0.5 ? NaN : Infinity;
      return p;
    };
    for (const on of ['points', 'edges', 'faces'] as const) {
      const size = ({ points: 1, edges: 2, faces: 3 } as const)[on];
      const frames = [0, 0.02, 0.2, 1, 0.05, 0].map((share) => withPositions(mesh, torn(share)));
      for (const order of [frames, frames.toReversed()]) {
        // A topology of its own, so that the tree comes from the first of these frames.
        const own = { ...mesh.topology };
        for (const frame of order) {
          const index = indexOf({ ...frame, topology: own }, on);
          const corners = cornersOf(own, on);
          const packed = Float32Array.from({ length: (corners ?? mesh.positions).length * (corners ? 3 : 1) }, (_, i) =>
            corners ? frame.positions[corners[Math.floor(i / 3)] * 3 + (i % 3)] : frame.positions[i],
          );
          for (let k = 0; k < packed.length; k += size * 3)
            if (!packed.slice(k, k + size * 3).every(Number.isFinite)) packed.fill(NaN, k, k + size * 3);
          for (let i = 0; i < 40; i++) {
            const place = [random() * 4 - 2, random() * 4 - 2, random() * 4 - 2];
            const known = bruteForce(packed, size, place);
            for (const hint of [-1, 5])
              expect([index.nearest(place[0], place[1], place[2], Infinity, hint), index.distanceSquared]).toEqual([
                known.at,
                known.squared,
              ]);
            const found = index.nearestSeveral(new Int32Array(3), new Float64Array(3), place[0], place[1], place[2]);
            expect(found > 0).toBe(known.at >= 0);
            if (on === 'faces' && known.at >= 0)
              expect(rayHit(index, place[0], place[1], place[2], 0.3, -1, 0.2)).toBe(
                bruteRay(packed, place, [0.3, -1, 0.2], false).at,
              );
          }
        }
      }
    }
  });

  test('places on shared points and edges belong to the lowest of the faces there', () => {
    const random = randomFrom(2);
    const ball = makeSphere(1.3, 9, 13);
    const turned = withPositions(
      ball,
      ball.positions.map((v, i) => v + 0.37 * ball.positions[(i * 7) % ball.positions.length]),
    );
    for (const mesh of [ball, turned]) {
      const { points, count } = trianglesOf(mesh.topology);
      const index = indexOf(mesh, 'faces');
      const p = Float32Array.from(
        { length: points.length * 3 },
        (_, i) => mesh.positions[points[Math.floor(i / 3)] * 3 + (i % 3)],
      );
      for (let t = 0; t < count; t++) {
        const at = (k: number, axis: number) => p[t * 9 + k * 3 + axis];
        const s = t % 3 === 0 ? 0.5 : random();
        // On an edge, and away from it across both faces.
        for (const away of [0, 1e-3, 0.4]) {
          const place = [0, 1, 2].map((axis) => (at(0, axis) * (1 - s) + at(1, axis) * s) * (1 + away));
          const known = bruteForce(p, 3, place);
          for (const hint of [-1, 0, count - 1])
            expect(index.nearest(place[0], place[1], place[2], Infinity, hint)).toBe(known.at);
        }
        const corner = [0, 1, 2].map((axis) => at(2, axis) * 1.1);
        expect(index.nearest(corner[0], corner[1], corner[2])).toBe(bruteForce(p, 3, corner).at);
      }
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

  test('no ray slips out of a closed surface through its edges and points, or between the cells of a grid', () => {
    const random = randomFrom(8);
    const between = (a: number[], b: number[], s: number) => a.map((v, i) => v + (b[i] - v) * s);
    for (const mesh of [makeSphere(1, 12, 17), makeBox([2, 1, 3], [2, 3, 4]), makeSphere(0.01, 5, 7), makeSphere(3000, 12, 20)]) {
      const index = indexOf(mesh, 'faces');
      const { points, count } = edgesOf(mesh.topology);
      const at = (k: number) => Array.from(mesh.positions.slice(points[k] * 3, points[k] * 3 + 3));
      const size = Math.hypot(...at(0));
      for (let e = 0; e < count; e++) {
        const from = [0, 1, 2].map(() => (random() - 0.5) * 0.3 * size);
        for (const s of [0, 0.5, random(), 1]) {
          const to = between(at(e * 2), at(e * 2 + 1), s);
          const d = to.map((v, i) => v - from[i]);
          const found = rayHit(index, from[0], from[1], from[2], d[0], d[1], d[2]);
          expect(found).toBeGreaterThanOrEqual(0);
          // The lowest of all triangles that touch that place.
          expect(found).toBe(triangleAt(mesh, to, size * 1e-9));
          expect(index.rayDistance).toBeCloseTo(1, 9);
        }
      }
    }
    const grid = makeGrid([3, 3], [30, 30]);
    const index = indexOf(grid, 'faces');
    for (let i = 0; i <= 30; i++)
      for (let j = 0; j <= 30; j++)
        for (const [x, z] of [
          [0, 0],
          [0.05, 0],
          [0, 0.05],
          [0.05, 0.05],
        ]) {
          const place = [Math.min(1.5, i * 0.1 - 1.5 + x), Math.min(1.5, j * 0.1 - 1.5 + z)].map(Math.fround);
          expect(rayHit(index, place[0], 2, place[1], 0, -1, 0)).toBeGreaterThanOrEqual(0);
          expect(index.rayDistance).toBe(2);
        }
  });

  test('signed distances of a cube are those of its closed form; open meshes have no inside', () => {
    const corner = (i: number) => [i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1];
    const positions = Float32Array.from({ length: 24 }, (_, i) => corner(Math.floor(i / 3))[i % 3]);
    const faces = [0, 4, 6, 2, 1, 3, 7, 5, 0, 1, 5, 4, 2, 6, 7, 3, 0, 2, 3, 1, 4, 5, 7, 6];
    const cube = makeMesh(positions, Int32Array.of(0, 4, 8, 12, 16, 20, 24), Int32Array.from(faces));
    expect(isClosed(cube)).toBe(true);
    const random = randomFrom(9);
    const places = Float32Array.from({ length: 900 }, () => random() * 4 - 2);
    const found = signedDistances(cube, places);
    for (let i = 0; i < 300; i++) {
      const q = [0, 1, 2].map((axis) => Math.abs(places[i * 3 + axis]) - 1);
      const outside = Math.hypot(...q.map((v) => Math.max(v, 0)));
      expect(found[i]).toBeCloseTo(outside + Math.min(0, Math.max(...q)), 5);
    }
    const open = makeMesh(positions, Int32Array.of(0, 4, 8), Int32Array.from(faces.slice(0, 8)));
    expect(isClosed(open)).toBe(false);
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

/** The lowest triangle of a mesh that touches a place. */
function triangleAt(mesh: Mesh, place: readonly number[], within: number): number {
  const packed = packedTriangles(mesh);
  for (let t = 0; t * 9 < packed.length; t++)
    if (toTriangle(packed, t * 9, place[0], place[1], place[2]) <= within * within) return t;
  return -1;
}

/** Every triangle against a ray, by solving for the hit and its weights. */
function bruteRay(p: Float32Array, from: number[], to: number[], front: boolean): { at: number; t: number } {
  const minus = (a: number[], b: number[]) => a.map((v, i) => v - b[i]);
  const cross = (a: number[], b: number[]) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const dot = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  let best = { at: -1, t: Infinity };
  for (let i = 0; i * 9 < p.length; i++) {
    const [a, b, c] = [0, 3, 6].map((k) => Array.from(p.slice(i * 9 + k, i * 9 + k + 3)));
    const normal = cross(minus(b, a), minus(c, a));
    const slope = dot(normal, to);
    if (slope === 0 || (front && slope > 0)) continue;
    const t = dot(normal, minus(a, from)) / slope;
    const hit = from.map((v, k) => v + to[k] * t);
    const inside = [
      [a, b],
      [b, c],
      [c, a],
    ].every(([s, e]) => dot(cross(minus(e, s), minus(hit, s)), normal) >= 0);
    if (inside && t >= 0 && t < best.t) best = { at: i, t };
  }
  return best;
}
