import { expect, test } from 'vitest';
import { randomFrom } from '../maths/random.ts';
import { makeCurves, nearestOnCurves, placeOn, smoothHandles, tracksOf, type Curves, type SplineParts } from './index.ts';

const spline = (type: SplineParts['type'], points: number[][], more: Partial<SplineParts> = {}) =>
  makeCurves([{ type, closed: false, positions: points.flat(), ...more }]);

/** Without what rounding leaves. */
const plain = (n: number) => Number(n.toFixed(12));

/** The distance to a curve by trying very many places on it. */
function byBruteForce(curves: Curves, at: readonly number[], tries = 20_000): number {
  let least = Infinity;
  for (const track of tracksOf(curves))
    for (let k = 0; k <= tries; k++) {
      const { position: p } = placeOn(track, (track.length * k) / tries);
      least = Math.min(least, Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]));
    }
  return least;
}

test('on a straight line it is the foot of the plumb line, or an end', () => {
  const find = nearestOnCurves(
    spline('poly', [
      [0, 0, 0],
      [4, 0, 0],
    ]),
  );
  const at = (x: number, y: number) => [find.find(x, y, 0), find.along, find.distance, find.fraction].map(plain);
  expect(at(1, 2)).toEqual([0, 1, 2, 0.25]);
  expect(at(-3, 4)).toEqual([0, 0, 5, 0]);
  expect(at(7, 4)).toEqual([0, 4, 5, 1]);
  expect([...find.place.tangent]).toEqual([1, 0, 0]);
});

test('at a corner, outside it is the corner itself, inside the nearer side', () => {
  const find = nearestOnCurves(
    spline('poly', [
      [0, 0, 0],
      [2, 0, 0],
      [2, 2, 0],
    ]),
  );
  find.find(3, -1, 0);
  expect([find.along, find.distance].map(plain)).toEqual([2, plain(Math.SQRT2)]);
  find.find(1.5, 0.25, 0);
  expect([find.along, find.distance].map(plain)).toEqual([1.5, 0.25]);
  find.find(1.75, 1.5, 0);
  expect([find.along, find.distance].map(plain)).toEqual([3.5, 0.25]);
});

test('on a drawn circle the fraction is the angle, also across the seam', () => {
  // Four cubics that follow a circle to 2.7e-4 of the radius.
  const k = 0.5522847498;
  const circle = makeCurves([
    {
      type: 'bezier',
      closed: true,
      positions: [1, 0, 0, 0, 1, 0, -1, 0, 0, 0, -1, 0],
      handles: [0, -k, 0, 0, k, 0, k, 0, 0, -k, 0, 0, 0, k, 0, 0, -k, 0, -k, 0, 0, k, 0, 0],
    },
  ]);
  const search = nearestOnCurves(circle);
  for (let i = 0; i < 400; i++) {
    const angle = ((i - 3) / 400) * 2 * Math.PI;
    const radius = 0.3 + (i % 7) * 0.25;
    search.find(radius * Math.cos(angle), radius * Math.sin(angle), 0);
    const turns = angle / (2 * Math.PI);
    const off = search.fraction - turns;
    expect(Math.abs(off - Math.round(off))).toBeLessThan(5e-4);
    expect(search.fraction).toBeGreaterThanOrEqual(0);
    expect(search.fraction).toBeLessThan(1);
    expect(search.distance).toBeCloseTo(Math.abs(radius - 1), 3);
  }
});

test('random curves of every sort: as near as brute force finds, and no place beside it is nearer', () => {
  const random = randomFrom(31);
  const some = () => random() * 2 - 1;
  for (const type of ['poly', 'bezier', 'b-spline'] as const)
    for (const closed of [false, true])
      for (let trial = 0; trial < 4; trial++) {
        const points = Array.from({ length: 5 }, () => [some(), some(), some()]);
        const drawn = smoothHandles(spline(type, points, { closed }));
        const [track] = tracksOf(drawn);
        const search = nearestOnCurves(drawn);
        for (let q = 0; q < 12; q++) {
          const at = [some() * 2, some() * 2, some() * 2];
          search.find(at[0], at[1], at[2]);
          const least = byBruteForce(drawn, at, 4000);
          // Of two branches that are as near, either may be found: they differ by how high a piece is over its chord.
          expect(search.distance).toBeLessThan(least + 2e-3);
          expect(search.distance).toBeGreaterThan(least - 2e-3);
          // Nowhere near it is one nearer.
          for (const step of [-1e-4, 1e-4]) {
            const beside = search.along + step * track.length;
            if (beside < 0 || beside > track.length) continue;
            const { position: b } = placeOn(track, beside);
            expect(Math.hypot(b[0] - at[0], b[1] - at[1], b[2] - at[2])).toBeGreaterThan(search.distance - 1e-9);
          }
        }
      }
});

test('collapsed curves have their one place; of two as near the first is found; what is not finite finds none', () => {
  const point = nearestOnCurves(
    spline('bezier', [
      [1, 1, 1],
      [1, 1, 1],
    ]),
  );
  expect(point.find(1, 1, 3)).toBe(0);
  expect([point.along, point.fraction, point.distance]).toEqual([0, 0, 2]);
  const single = nearestOnCurves(spline('poly', [[0, 2, 0]]));
  expect([single.find(0, 0, 0), single.distance]).toEqual([0, 2]);
  const line = (y: number): SplineParts => ({ type: 'poly', closed: false, positions: [-1, y, 0, 1, y, 0] });
  const two = nearestOnCurves(makeCurves([line(-1), line(1)]));
  expect([two.find(0, 0, 0), two.find(0, 0.1, 0), two.find(0, 0, 0)]).toEqual([0, 1, 0]);
  // Along a curve with a point that is not finite nothing can be measured.
  const torn = nearestOnCurves(
    spline('poly', [
      [0, 0, 0],
      [1, 0, 0],
      [NaN, 0, 0],
      [3, 0, 0],
      [4, 0, 0],
    ]),
  );
  expect(torn.find(0.5, 1, 0)).toBe(-1);
  expect(two.find(NaN, 0, 0)).toBe(-1);
  expect(two.find(0, Infinity, 0)).toBe(-1);
});
