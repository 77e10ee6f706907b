import { expect, test } from 'vitest';
import { compose } from '../maths/factors.ts';
import { translation } from '../maths/matrix.ts';
import { randomFrom } from '../maths/random.ts';
import { length, normalize, subtract, type Vec3 } from '../maths/vector.ts';
import { placeIn, popRatio } from '../testing/limbs.ts';
import { makeChain, moveWith, PLAIN_TRAITS, type Chain, type JointParts } from './chain.ts';
import { turnAboutAxis } from './turns.ts';
import { extent, solve, type ReachTarget, type SolveOptions } from './solve.ts';

/** A body of 80 joints: a spine of 12, two arms, two legs, a neck and a tail, and toes and fingers that hang on. */
function body(): { chain: Chain; ends: Record<string, number> } {
  const joints: JointParts[] = [];
  const ends: Record<string, number> = {};
  const limb = (name: string, parent: number, from: Vec3, step: Vec3, count: number, sway: number) => {
    let p = parent;
    for (let i = 0; i < count; i++) {
      const m = translation([from[0] + step[0] * i, from[1] + step[1] * i, from[2] + step[2] * i + sway * Math.sin(i)]);
      joints.push({ name: `${name} ${i}`, parent: p, rest: m, posed: m });
      p = joints.length - 1;
    }
    ends[name] = p;
    return p;
  };
  const chest = limb('spine', -1, [0, 1, 0], [0, 0.06, 0], 12, 0.01);
  for (const [side, x] of [
    ['left', 1],
    ['right', -1],
  ] as const) {
    limb(`arm ${side}`, chest, [0.15 * x, 1.6, 0], [0.08 * x, -0.03, 0], 9, 0.03);
    limb(`leg ${side}`, 0, [0.1 * x, 0.95, 0], [0.005 * x, -0.105, 0], 10, 0.03);
  }
  limb('neck', chest, [0, 1.75, 0], [0, 0.05, 0.02], 8, 0.01);
  limb('tail', 0, [0, 1, -0.1], [0, -0.02, -0.08], 10, 0.02);
  while (joints.length < 80) {
    const on = ends['arm left'];
    const m = translation([1, 1.4, 0.01 * joints.length]);
    joints.push({ name: `finger ${joints.length}`, parent: on, rest: m, posed: m });
  }
  const { chain, order } = makeChain(joints);
  for (const name of Object.keys(ends)) ends[name] = order.indexOf(ends[name]);
  return { chain, ends };
}

const pin = (joint: number, place: Vec3, extra: Partial<ReachTarget> = {}): ReachTarget => ({
  joint,
  place,
  placeWeight: 1,
  turn: undefined,
  turnWeight: 0,
  ...extra,
});
const options = (chain: Chain, targets: ReachTarget[], extra: Partial<SolveOptions> = {}): SolveOptions => ({
  joints: chain.names.map((_, i) => i),
  targets,
  centre: undefined,
  rootMoves: 1,
  useLimits: true,
  rounds: 30,
  tolerance: 1e-4 * extent(chain),
  ...extra,
});
const NAMES = ['arm left', 'arm right', 'leg left', 'leg right', 'neck', 'tail'];

test('80 joints and 6 targets come to a thousandth of the height', () => {
  const { chain, ends } = body();
  expect(chain.count).toBe(80);
  const random = randomFrom(2);
  let most = 0;
  for (let k = 0; k < 40; k++) {
    // Where the ends are in a pose that no one has seen: so that they can all be there at once.
    const other = chain.posed.slice();
    for (let j = chain.count - 1; j >= 0; j--) {
      const axis = normalize([random() - 0.5, random() - 0.5, random() - 0.5]);
      moveWith(chain, other, j, turnAboutAxis(placeIn(other, j), axis, (random() - 0.5) * 0.6));
    }
    const targets = NAMES.map((name) => pin(ends[name], placeIn(other, ends[name])));
    const r = solve(chain, options(chain, targets));
    expect(Math.max(...r.residuals)).toBeLessThan(1.8e-3);
    most = Math.max(most, r.rounds);
  }
  expect(most).toBeLessThan(20);
});

test('turns are pinned too, and what is pinned less gives way', () => {
  const { chain, ends } = body();
  const turn = compose([0, 0, 0], [0.3, 0.5, -0.2], 'xyz', [1, 1, 1]);
  const at = placeIn(chain.posed, ends['arm left']);
  const r = solve(chain, options(chain, [pin(ends['arm left'], at, { turn, turnWeight: 1 })], { rounds: 60 }));
  expect(r.turnResiduals[0]).toBeLessThan(1e-3);
  expect(r.residuals[0]).toBeLessThan(2e-3);
  // Two places for one joint: the firm one has it, to the square of the weights.
  const two = solve(
    chain,
    options(chain, [pin(ends.neck, [0, 2.2, 0]), pin(ends.neck, [0.2, 2.2, 0], { placeWeight: 0.1 })], {
      rounds: 200,
      tolerance: 0,
    }),
  );
  expect(placeIn(two.posed, ends.neck)[0]).toBeCloseTo(0.2 * (0.01 / 1.01), 3);
});

test('the root stays where it is asked to, and else goes along', () => {
  const { chain, ends } = body();
  const far: Vec3 = [3, 1, 0];
  const fixed = solve(chain, options(chain, [pin(ends['arm left'], far)], { rootMoves: 0, rounds: 60 }));
  expect(length(subtract(placeIn(fixed.posed, 0), placeIn(chain.posed, 0)))).toBe(0);
  const free = solve(chain, options(chain, [pin(ends['arm left'], far)], { rounds: 60 }));
  expect(free.residuals[0]).toBeLessThan(2e-3);
});

test('the middle of the masses comes above a place while the feet stay', () => {
  const { chain, ends } = body();
  const heavy: Chain = { ...chain, traits: chain.names.map((n) => ({ ...PLAIN_TRAITS, mass: n.startsWith('spine') ? 5 : 1 })) };
  const feet = ['leg left', 'leg right'].map((n) => pin(ends[n], placeIn(chain.posed, ends[n])));
  const centre = { place: [0.05, 0, 0.04] as Vec3, weight: 1, axes: [true, false, true] };
  const r = solve(heavy, options(heavy, feet, { centre, rounds: 60 }));
  const mass = heavy.traits.reduce((s, t) => s + t.mass, 0);
  const at = (axis: number) => heavy.traits.reduce((s, t, j) => s + t.mass * r.posed[j * 16 + 12 + axis], 0) / mass;
  expect(at(0)).toBeCloseTo(0.05, 3);
  expect(at(2)).toBeCloseTo(0.04, 3);
  expect(Math.max(...r.residuals)).toBeLessThan(2e-3);
});

test('the same whatever was asked before, and no pop along a smooth way', () => {
  const { chain, ends } = body();
  const at = (s: number) => {
    const hand = placeIn(chain.posed, ends['arm right']);
    const feet = ['leg left', 'leg right'].map((n) => pin(ends[n], placeIn(chain.posed, ends[n])));
    return solve(chain, options(chain, [...feet, pin(ends['arm right'], [hand[0] - 0.4 * s, hand[1] + 0.5 * s, 0.5 * s])])).posed;
  };
  expect(at(0.7)).toEqual(at(0.7));
  expect(popRatio(at, 40)).toBeLessThan(0.25);
});
