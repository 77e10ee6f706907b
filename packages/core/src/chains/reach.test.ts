import { expect, test } from 'vitest';
import { compose } from '../maths/factors.ts';
import { randomFrom } from '../maths/random.ts';
import { identity, matrixAt, multiply, product, translation } from '../maths/matrix.ts';
import { add, length, subtract, type Vec3 } from '../maths/vector.ts';
import { bones, placeIn, popRatio, reachOptions as options, row } from '../testing/limbs.ts';
import { makeChain, PLAIN_TRAITS, type Chain, type JointLimit, type JointParts } from './chain.ts';
import { fromRest, limitRoom, limitTurn, localTurn } from './limits.ts';
import { reach } from './reach.ts';
import { solve } from './solve.ts';

/** A place in a ball. */
function within(random: () => number, radius: number): Vec3 {
  for (;;) {
    const v: Vec3 = [random() * 2 - 1, random() * 2 - 1, random() * 2 - 1];
    if (length(v) <= 1) return [v[0] * radius, v[1] * radius, v[2] * radius];
  }
}

for (const shape of ['even', 'least'] as const)
  test(`30 joints come to random targets in reach, bending ${shape}`, () => {
    const chain = row(30, 0.05);
    const random = randomFrom(7);
    let missed = 0;
    const tries = 1500;
    for (let k = 0; k < tries; k++) {
      const r = reach(chain, options(29, within(random, 29), { shape }));
      if (r.residual > 1e-4 * 29) missed++;
      expect(r.rounds).toBeLessThanOrEqual(20);
      if (k % 50 === 0) bones(chain, r.posed).forEach((b, i) => expect(b).toBeCloseTo(i === 0 ? 0 : 1, 8));
    }
    expect(missed / tries).toBeLessThanOrEqual(0.01);
  });

test('no pop on smooth ways through reach, out of it, folded and back', () => {
  const chain = row(9, 0.15);
  const ways: ((s: number) => Vec3)[] = [
    (s) => [7.5 - 5 * s, 3 * s, 0.5],
    (s) => [4 + 8 * s, 1, 0.3],
    (s) => [5 * Math.cos(3 * s), 5 * Math.sin(3 * s), 1],
    (s) => [1.5 + 0.4 * s, 0.6 - s, 0.4],
  ];
  for (const way of ways)
    for (const shape of ['even', 'least'] as const)
      expect(popRatio((s) => reach(chain, options(8, way(s), { shape, soft: 0.05 })).posed, 100)).toBeLessThan(0.25);
});

test('limits hold whatever is asked: hinges turn about their axis only, cones lean no farther', () => {
  const hinge: JointLimit = { kind: 'hinge', axis: 2, from: -20, to: 50 };
  const cone: JointLimit = { kind: 'cone', axis: 0, lean: 25, from: -10, to: 10 };
  const chain = row(8, 0.1, { traits: (i) => ({ ...PLAIN_TRAITS, limit: i % 2 ? hinge : cone }) });
  const random = randomFrom(3);
  for (let k = 0; k < 60; k++) {
    const r = reach(chain, options(7, within(random, 7), { rounds: 40 }));
    for (let j = 1; j < 7; j++) {
      const q = fromRest(localTurn(chain.rest, j - 1, j), localTurn(r.posed, j - 1, j));
      const { turn } = limitTurn(q, chain.traits[j].limit as JointLimit);
      const apart = Math.abs(q[0] * turn[0] + q[1] * turn[1] + q[2] * turn[2] + q[3] * turn[3]);
      expect(2 * Math.acos(Math.min(1, apart))).toBeLessThan(1e-5);
    }
  }
});

test('a target that limits allow is reached within them', () => {
  const hinge: JointLimit = { kind: 'hinge', axis: 2, from: -60, to: 60 };
  const chain = row(7, 0.1, { traits: () => ({ ...PLAIN_TRAITS, limit: hinge }) });
  for (const target of [
    [4, 2.5, 0],
    [5, -1, 0],
    [3.5, 3, 0],
  ] as Vec3[]) {
    const r = reach(chain, options(6, target, { rounds: 60 }));
    expect(r.residual).toBeLessThan(0.01);
  }
});

test('stiff joints bend less, a joint between has a target of its own, stretch makes up the rest', () => {
  const chain = row(7, 0.1, { traits: (i) => ({ ...PLAIN_TRAITS, stiffness: i === 3 ? 0.9 : 0 }) });
  const r = reach(chain, options(6, [3, 2, 0]));
  const bend = (j: number) => {
    const q = fromRest(localTurn(chain.rest, j - 1, j), localTurn(r.posed, j - 1, j));
    return 2 * Math.atan2(Math.hypot(q[0], q[1], q[2]), Math.abs(q[3]));
  };
  expect(r.residual).toBeLessThan(1e-3);
  expect(bend(3)).toBeLessThan(bend(2) / 4);
  const free = row(9, 0.15);
  const place: Vec3 = [2, 2.5, 1];
  const two = reach(
    free,
    options(8, [4, 1, 0], { others: [{ joint: 4, place, placeWeight: 1, turn: undefined, turnWeight: 0 }], rounds: 60 }),
  );
  expect(length(subtract(placeIn(two.posed, 4), place))).toBeLessThan(1e-3);
  expect(length(subtract(placeIn(two.posed, 8), [4, 1, 0]))).toBeLessThan(1e-3);
  const long = reach(free, options(8, [12, 0, 0], { stretch: 1, longest: 3 }));
  expect(long.residual).toBeLessThan(1e-6);
});

test('the roll of the tip is passed along by shares, and places stay', () => {
  const chain = row(5, 0.2);
  const target: Vec3 = [2.5, 2, 0];
  const plain = reach(chain, options(4, target));
  const turn = compose(target, [1.2, 0, 0], 'xyz', [1, 1, 1]);
  const passed = reach(chain, options(4, target, { targetTurn: turn, tipTurn: 'target', rollShare: (at) => at }));
  for (let j = 0; j < 5; j++) expect(length(subtract(placeIn(plain.posed, j), placeIn(passed.posed, j)))).toBeLessThan(1e-9);
  const rolled = [1, 2, 3].map((j) => {
    const [a, b] = [localTurn(plain.posed, -1, j), localTurn(passed.posed, -1, j)];
    const q = fromRest(a, b);
    return 2 * Math.atan2(Math.hypot(q[0], q[1], q[2]), Math.abs(q[3]));
  });
  expect(rolled[1] / rolled[0]).toBeCloseTo(2, 5);
  expect(rolled[2] / rolled[0]).toBeCloseTo(3, 5);
});

test('what cannot be done is said and leaves the pose as it came in', () => {
  const chain = row(4, 0.2);
  for (const [o, why] of [
    [options(3, [0, 0, 0]), 'target-at-root'],
    [options(3, [NaN, 1, 0]), 'not-finite'],
    [options(0, [1, 1, 0]), 'no-descendant'],
    [{ ...options(0, [1, 1, 0]), root: 3 }, 'no-descendant'],
  ] as const) {
    const r = reach(chain, o);
    expect(r.trouble).toContain(why);
    expect(r.posed).toEqual(chain.posed);
  }
  const straight = row(4);
  expect(reach(straight, options(3, [1, 0, 0])).trouble).toContain('straight');
  expect(reach(straight, options(3, [1, 0, 0], { rollTarget: [0, 2, 0] })).residual).toBeLessThan(1e-9);
  expect(reach(chain, options(3, [9, 0, 0])).trouble).toContain('out-of-reach');
  expect(reach(row(4, 0.1, { bone: 0 }), options(3, [1, 0, 0])).trouble).toContain('no-length');
});

test('a dial without a number leaves the pose as it came in', () => {
  const chain = row(5, 0.2);
  for (const dial of ['roll', 'soft', 'stretch', 'longest', 'blend'] as const)
    expect(reach(chain, options(4, [2, 1, 0.3], { stretch: 1, [dial]: NaN })).posed).toEqual(chain.posed);
});

test('how far inside of its limit a turn is: by its angle for a hinge, by lean and twist for a cone', () => {
  const about = (axis: number, degrees: number): [number, number, number, number] => {
    const q: [number, number, number, number] = [0, 0, 0, Math.cos((degrees * Math.PI) / 360)];
    q[axis] = Math.sin((degrees * Math.PI) / 360);
    return q;
  };
  const elbow: JointLimit = { kind: 'hinge', axis: 0, from: -10, to: 120 };
  for (const [angle, room] of [
    [0, 10],
    [100, 20],
    [120, 0],
    [-30, -20],
    [150, -30],
  ])
    expect(limitRoom(about(0, angle), elbow)).toBeCloseTo(room, 9);
  expect(limitRoom(about(1, 7), elbow)).toBeCloseTo(-7, 6);
  const neck: JointLimit = { kind: 'cone', axis: 1, lean: 40, from: -30, to: 30 };
  expect(limitRoom(about(1, 20), neck)).toBeCloseTo(10, 9);
  expect(limitRoom(about(2, 35), neck)).toBeCloseTo(5, 6);
  expect(limitRoom(about(0, 60), neck)).toBeCloseTo(-20, 6);
  // It is held where it is past its limit, and stands at it then (a hinge may stand inside, with its lean taken away).
  const limits: JointLimit[] = [elbow, neck];
  const random = randomFrom(8);
  for (let i = 0; i < 200; i++) {
    const raw = [0, 1, 2, 3].map(() => random() * 2 - 1);
    const l = Math.hypot(...raw);
    const q = raw.map((v) => v / l) as unknown as [number, number, number, number];
    for (const limit of limits) {
      const { turn, isHeld } = limitTurn(q, limit);
      expect(limitRoom(turn, limit)).toBeGreaterThanOrEqual(-1e-3);
      expect(limitRoom(q, limit) < -1e-6).toBe(isHeld);
      if (isHeld && limit === neck) expect(limitRoom(turn, limit)).toBeCloseTo(0, 3);
    }
  }
});

/** A body with two arms of three joints each: the first joint of all, a joint for each shoulder, and what hangs under it. */
function body(limit: JointLimit | null, bent: number): Chain {
  const joints: JointParts[] = [{ name: 'hips', parent: -1, rest: identity(), posed: identity() }];
  for (const side of [1, -1])
    for (let i = 0; i < 3; i++) {
      const parent = i === 0 ? 0 : joints.length - 1;
      const rest = multiply(identity(), joints[parent].rest, translation([side * (i === 0 ? 0.3 : 1), 0, 0]));
      const turn = compose([0, 0, 0], [0, 0, side * bent], 'xyz', [1, 1, 1]);
      const posed = product(product(joints[parent].posed, translation([side * (i === 0 ? 0.3 : 1), 0, 0])), turn);
      joints.push({ name: `${side}${i}`, parent, rest, posed, traits: { ...PLAIN_TRAITS, limit } });
    }
  return makeChain(joints).chain;
}

const HINGE: JointLimit = { kind: 'hinge', axis: 2, from: -20, to: 20 };

test('joints that were not given stay: the other arm past its limits, and the shoulder on the body', () => {
  const random = randomFrom(11);
  const chain = body(HINGE, 0.9);
  const [arm, other] = [
    [1, 2, 3],
    [4, 5, 6],
  ];
  for (let k = 0; k < 40; k++) {
    const target = add(placeIn(chain.posed, 1), within(random, 1.8));
    const r = reach(chain, options(3, target, { root: 1 }));
    for (const j of [0, ...other]) expect(matrixAt(r.posed, j)).toEqual(matrixAt(chain.posed, j));
    const solved = solve(chain, {
      joints: arm,
      targets: [{ joint: 3, place: target, placeWeight: 1, turn: undefined, turnWeight: 0 }],
      centre: undefined,
      ...{ rootMoves: 1, useLimits: true, rounds: 30, tolerance: 1e-5 },
    });
    for (const j of [0, ...other]) expect(matrixAt(solved.posed, j)).toEqual(matrixAt(chain.posed, j));
    expect(length(subtract(placeIn(solved.posed, 1), placeIn(solved.posed, 0)))).toBeCloseTo(0.3, 9);
  }
});

test('limits hold after the tip’s turn and the roll along too, and what they cost is told', () => {
  const random = randomFrom(12);
  let won = 0;
  for (let k = 0; k < 120; k++) {
    const limit: JointLimit =
      k % 2 ? { kind: 'hinge', axis: 2, from: -60, to: 60 } : { kind: 'cone', axis: 0, lean: 50, from: -15, to: 15 };
    const chain = row(6, 0.1, { traits: () => ({ ...PLAIN_TRAITS, limit }) });
    const target = within(random, 5);
    const turn = compose(target, [random() * 6, random() * 6, random() * 6], 'xyz', [1, 1, 1]);
    const r = reach(
      chain,
      options(5, target, { targetTurn: turn, tipTurn: k % 3 ? 'target' : 'kept', rollShare: k % 4 ? (at) => at : undefined }),
    );
    for (let j = 1; j < 6; j++)
      expect(limitRoom(fromRest(localTurn(chain.rest, j - 1, j), localTurn(r.posed, j - 1, j)), limit)).toBeGreaterThan(-1e-3);
    if (r.trouble.includes('limits-won')) won++;
    expect(r.trouble.includes('limits-won')).toBe(r.won.length > 0);
    expect(r.residual).toBeCloseTo(length(subtract(placeIn(r.posed, 5), target)), 12);
  }
  expect(won).toBeGreaterThan(20);
});
