import { expect, test } from 'vitest';
import { randomFrom } from '../maths/random.ts';
import { add, cross, dot, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { placeIn, reachOptions, row } from '../testing/limbs.ts';
import { bendChain } from './bend-chain.ts';
import { withPosed, type Chain } from './chain.ts';
import { reach } from './reach.ts';
import { rotationOf, turnAboutAxis } from './turns.ts';
import { multiplyPacked } from '../maths/matrix.ts';

// Which way a chain bows: towards the roll target, whatever pose it comes in with, turned by the roll.

/** Nearer than usual, so that what is compared is the bow and not what the rounds left over. */
const options: typeof reachOptions = (tip, target, extra) => reachOptions(tip, target, { rounds: 40, tolerance: 1e-9, ...extra });
const square = (v: Vec3, along: Vec3) => subtract(v, scale(along, dot(v, along)));
/** The signed angle about an axis from one direction to another. */
const angleAbout = (axis: Vec3, a: Vec3, b: Vec3) => Math.atan2(dot(cross(a, b), axis), dot(a, b));

/** Where the joints between root and tip are on the mean, square to the line from root to tip. */
function bowOf(posed: Readonly<Float64Array>, tip: number): Vec3 {
  const root = placeIn(posed, 0);
  const along = normalize(subtract(placeIn(posed, tip), root));
  let sum: Vec3 = [0, 0, 0];
  for (let j = 1; j < tip; j++) sum = add(sum, subtract(placeIn(posed, j), root));
  return square(sum, along);
}

/** A chain that was turned at random as it came in. */
function turnedAtRandom(chain: Chain, random: () => number): Chain {
  const axis = normalize([random() - 0.5, random() - 0.5, random() - 0.5]);
  const posed = chain.posed.slice();
  multiplyPacked(posed, 0, turnAboutAxis([0, 0, 0], axis, random() * 6), 0, 0, posed, 0, 16, chain.count);
  return withPosed(chain, posed);
}

const direction = (random: () => number): Vec3 => normalize([random() - 0.5, random() - 0.5, random() - 0.5]);

test('two bones bow as a limb of two bones does', () => {
  const limb = row(3, 0.2);
  const [target, rollTarget]: Vec3[] = [
    [1.4, 0, 0],
    [0.7, 3, 0],
  ];
  expect(placeIn(reach(limb, options(2, target, { rollTarget })).posed, 1)[1]).toBeCloseTo(0.7141428, 6);
  const random = randomFrom(5);
  for (let k = 0; k < 200; k++) {
    const chain = turnedAtRandom(row(3, 0.1 + random()), random);
    const goal = scale(direction(random), 0.3 + random() * 1.5);
    const toward = scale(direction(random), 3);
    const roll = random() < 0.5 ? 0 : random() * 6 - 3;
    const bent = bendChain(chain, {
      ...{ root: 0, middle: 1, tip: 2, target: goal, targetTurn: undefined, rollTarget: toward, roll, soft: 0, stretch: 0 },
      ...{ longest: 1, squash: 0, shortest: 1, keepRootRoll: false, tipTurn: 'carried' as const, blend: 1 },
    });
    for (const shape of ['even', 'least'] as const) {
      const r = reach(chain, options(2, goal, { rollTarget: toward, roll, shape }));
      expect(length(subtract(placeIn(r.posed, 1), placeIn(bent.posed, 1))), `${shape} ${k}`).toBeLessThan(1e-4);
    }
  }
});

for (const shape of ['even', 'least'] as const) {
  test(`many joints bow towards the roll target, bending ${shape}`, () => {
    const random = randomFrom(6);
    for (let k = 0; k < 150; k++) {
      const tip = 2 + Math.floor(random() * 7);
      const chain = turnedAtRandom(row(tip + 1, 0.05 + random() * 0.3), random);
      const target = scale(direction(random), tip * (0.2 + 0.7 * random()));
      const rollTarget = scale(direction(random), 20);
      const r = reach(chain, options(tip, target, { rollTarget, shape }));
      expect(r.residual).toBeLessThan(1e-4 * tip);
      const along = normalize(target);
      expect(angleAbout(along, square(rollTarget, along), bowOf(r.posed, tip)), `${k}`).toBeCloseTo(0, 2);
    }
  });

  test(`a roll turns the bow by just that angle, with a roll target and without, bending ${shape}`, () => {
    const random = randomFrom(7);
    for (let k = 0; k < 60; k++) {
      const chain = turnedAtRandom(row(6, 0.05 + random() * 0.3), random);
      const target = scale(direction(random), 5 * (0.2 + 0.7 * random()));
      const rollTarget = k % 2 ? scale(direction(random), 20) : undefined;
      const roll = random() * 6 - 3;
      const [plain, rolled] = [0, roll].map((by) => reach(chain, options(5, target, { rollTarget, roll: by, shape })));
      expect(angleAbout(normalize(target), bowOf(plain.posed, 5), bowOf(rolled.posed, 5))).toBeCloseTo(roll, 3);
      expect(rolled.residual).toBeLessThan(1e-4);
    }
  });

  test(`nothing jumps as the roll begins, or as it straightens out, bending ${shape}`, () => {
    const chain = row(5, 0.3, { axis: normalize([0.2, 0.3, 1]) });
    const pose = (target: Vec3, roll: number) =>
      reach(chain, options(4, target, { rollTarget: [1, 4, 2], roll, shape, soft: 0.05 })).posed;
    const far = (a: Readonly<Float64Array>, b: Readonly<Float64Array>) =>
      a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);
    expect(far(pose([2.5, 1, 0.2], 0), pose([2.5, 1, 0.2], 1e-6))).toBeLessThan(1e-4);
    // The turn of each joint too: a chain that is nearly straight has a side to bow to all the same.
    for (let d = 3; d < 6; d += 0.01) {
      const step = far(pose([d, 0.2, 0], 0.4), pose([d + 0.01, 0.2, 0], 0.4));
      expect(step, `at ${d}`).toBeLessThan(0.3);
    }
    expect(rotationOf(pose([9, 0, 0], 0.4).subarray(0, 16) as Float64Array).every(Number.isFinite)).toBe(true);
  });
}
