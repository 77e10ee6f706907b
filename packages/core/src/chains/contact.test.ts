import { expect, test } from 'vitest';
import { withPositions } from '../geometry/mesh.ts';
import { makeBox } from '../geometry/solids.ts';
import { makeGrid } from '../geometry/primitives.ts';
import { identity, invert, matrixAt, multiply, translation } from '../maths/matrix.ts';
import { dot, length, normalize, subtract, type Vec3 } from '../maths/vector.ts';
import { popRatio, placeIn } from '../testing/limbs.ts';
import { makeChain } from './chain.ts';
import {
  bendOut,
  footTouches,
  groundAlong,
  groundNearest,
  land,
  landFoot,
  landPoint,
  touchOf,
  type FootOptions,
} from './contact.ts';

const UP: Vec3 = [0, 1, 0];
const flat = makeGrid([10, 10], [40, 40]);
/** The grid lifted by a function of x and z. */
const hilly = (f: (x: number, z: number) => number) =>
  withPositions(
    flat,
    Float32Array.from(flat.positions, (v, i) => (i % 3 === 1 ? f(flat.positions[i - 1], flat.positions[i + 1]) : v)),
  );

test('landing is as high as it comes outside the band, exactly the clearance inside, and smooth', () => {
  for (const landing of ['draw', 'push'] as const) {
    expect(land(0.3, 0.1, landing)).toBe(0.3);
    expect(land(-0.3, 0.1, landing)).toBe(0);
    let [most, last] = [0, 0];
    const n = 20000;
    for (let i = 1; i <= n; i++) {
      const t = -0.2 + (0.4 * i) / n;
      const slope = (land(t, 0.1, landing) - land(t - 0.4 / n, 0.1, landing)) / (0.4 / n);
      if (i > 1) most = Math.max(most, Math.abs(slope - last));
      last = slope;
      expect(land(t, 0.1, landing)).toBeGreaterThanOrEqual(0);
      if (landing === 'push') expect(land(t, 0.1, landing)).toBeGreaterThanOrEqual(Math.max(0, t) - 1e-12);
    }
    expect(most).toBeLessThan(0.01);
  }
  expect(land(-1, 0, 'draw')).toBe(0);
  expect(land(1, 0, 'draw')).toBe(1);
});

test('points come out of a ground along a direction, and to the nearest place, from outside and in', () => {
  const along = groundAlong(flat, [0, -1, 0], 1);
  expect(landPoint([0.3, -0.4, 0.2], along, 0.1, 0, 'draw')?.[1]).toBeCloseTo(0.1, 6);
  expect(landPoint([0.3, 0.7, 0.2], along, 0.1, 0.05, 'draw')).toEqual([0.3, 0.7, 0.2]);
  expect(landPoint([50, 0, 0], along, 0.1, 0, 'draw')).toBeUndefined();
  expect(along([NaN, 0, 0])).toBeUndefined();
  const box = groundNearest(makeBox([2, 2, 2], [1, 1, 1]));
  expect(box([0.9, 0, 0])?.height).toBeCloseTo(-0.1, 6);
  const out = landPoint([0.9, 0.1, 0], box, 0.2, 0, 'draw') as Vec3;
  expect(out[0]).toBeCloseTo(1.2, 6);
  expect(out[1]).toBeCloseTo(0.1, 6);
});

const m = (p: Vec3) => translation(p);
const FOOT = (lift: number) =>
  makeChain(
    (
      [
        ['ankle', -1, [0, 0.3 + lift, 0]],
        ['heel', 0, [0, lift, -0.1]],
        ['ball', 0, [0.08, lift, 0.2]],
        ['side', 0, [-0.08, lift, 0.2]],
        ['toe', 2, [0.08, lift, 0.35]],
      ] as [string, number, Vec3][]
    ).map(([name, parent, p]) => ({ name, parent, rest: m(p), posed: m(p) })),
  ).chain;
const at = (chain: ReturnType<typeof FOOT>, name: string) => chain.names.indexOf(name);
const foot = (chain: ReturnType<typeof FOOT>, extra: Partial<FootOptions> = {}): FootOptions => ({
  foot: at(chain, 'ankle'),
  contacts: ['heel', 'ball', 'side'].map((n) => at(chain, n)),
  probes: ['heel', 'ball', 'side'].map((n, contact) => ({ contact, place: placeIn(chain.posed, at(chain, n)), clearance: 0.02 })),
  up: UP,
  band: 0.05,
  landing: 'draw',
  align: 1,
  mostInRadians: 1,
  axes: undefined,
  ...extra,
});

test('a foot on a slope lies in its plane, no place deeper than its clearance', () => {
  const slope = (x: number, z: number) => 0.3 * z + 0.1 * x;
  const ground = groundAlong(hilly(slope), [0, -1, 0], 2);
  for (const axes of [undefined, { up: UP, forward: [0, 0, 1] as Vec3 }]) {
    const chain = FOOT(-0.1);
    const worlds = chain.posed.slice();
    const options = foot(chain, { axes });
    landFoot(chain, worlds, ground, options);
    const moved = identity();
    invert(moved, matrixAt(chain.posed, options.foot));
    multiply(moved, matrixAt(worlds, options.foot), moved);
    const touches = footTouches(worlds, ground, options.contacts, options.probes, moved, UP);
    const places = ['heel', 'ball', 'side'].map((n) => placeIn(worlds, at(chain, n)));
    const normal = normalize([-0.1, 1, -0.3]);
    for (const p of places) expect(dot(subtract(p, places[0]), normal)).toBeCloseTo(0, 2);
    expect(Math.max(...touches.map((t) => t.after))).toBeLessThan(1e-5);
    expect(touches.some((t) => t.touching)).toBe(true);
    expect(touches[0].slope).toBeCloseTo((Math.acos(normal[1]) * 180) / Math.PI, 3);
    // A rigid move: nothing is stretched.
    expect(length(subtract(places[1], places[0]))).toBeCloseTo(length(subtract([0.08, 0, 0.2], [0, 0, -0.1])), 9);
    if (axes) {
      const heading = subtract(placeIn(worlds, at(chain, 'ball')), placeIn(worlds, at(chain, 'side')));
      expect(heading[0]).toBeGreaterThan(0.15);
    }
  }
});

test('above the band nothing moves; the tilt has a most; a share takes a share', () => {
  const ground = groundAlong(
    hilly((_, z) => z),
    [0, -1, 0],
    2,
  );
  const high = FOOT(1);
  const still = high.posed.slice();
  landFoot(high, still, ground, foot(high));
  expect(still).toEqual(high.posed);
  const chain = FOOT(0);
  const tiltOf = (extra: Partial<FootOptions>) => {
    const worlds = chain.posed.slice();
    landFoot(chain, worlds, ground, foot(chain, extra));
    return (Math.acos(worlds[at(chain, 'ankle') * 16 + 5]) * 180) / Math.PI;
  };
  expect(tiltOf({})).toBeCloseTo(45, 0);
  expect(tiltOf({ mostInRadians: (20 * Math.PI) / 180 })).toBeCloseTo(20, 6);
  expect(tiltOf({ align: 0.5 })).toBeCloseTo(22.5, 0);
  expect(tiltOf({ align: 0 })).toBeCloseTo(0, 6);
});

test('coming down on uneven ground it does not pop', () => {
  const ground = groundAlong(
    hilly((x, z) => 0.1 * Math.sin(3 * x) * Math.cos(2 * z)),
    [0, -1, 0],
    2,
  );
  const pose = (s: number) => {
    const chain = FOOT(0.4 - 0.8 * s);
    const worlds = chain.posed.slice();
    landFoot(chain, worlds, ground, foot(chain));
    return worlds;
  };
  expect(popRatio(pose, 80)).toBeLessThan(0.25);
});

test('toes bend until their tips are out of the ground, and keep their length', () => {
  const ground = groundAlong(
    hilly((_, z) => Math.max(0, z - 0.2)),
    [0, -1, 0],
    2,
  );
  const chain = FOOT(0.01);
  const worlds = chain.posed.slice();
  const under = () => ground(placeIn(worlds, at(chain, 'toe')));
  const before = under();
  bendOut(chain, worlds, at(chain, 'ball'), at(chain, 'toe'), ground, 0.01, UP, 0.02, 'draw');
  const touch = touchOf(before, under(), 0.01, UP);
  expect(touch.before).toBeGreaterThan(0.1);
  expect(touch.after).toBeLessThan(1e-4);
  expect(length(subtract(placeIn(worlds, at(chain, 'toe')), placeIn(worlds, at(chain, 'ball'))))).toBeCloseTo(0.15, 9);
});
