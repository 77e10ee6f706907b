import { expect, test } from 'vitest';
import { identity, multiply, translation } from '../maths/matrix.ts';
import { makeChain, type JointParts, type JointTraits } from './chain.ts';
import { reach, type ReachOptions } from './reach.ts';
import { turnAboutAxis } from './turns.ts';
import type { Vec3 } from '../maths/vector.ts';
import { randomFrom } from '../maths/random.ts';

const line = (count: number, bow: number, traits?: (i: number) => JointTraits) => {
  const joints: JointParts[] = [];
  let at = identity();
  for (let i = 0; i < count; i++) {
    if (i > 0) {
      at = multiply(identity(), at, translation([1, 0, 0]));
      at = multiply(identity(), at, turnAboutAxis([0, 0, 0], [0, 0, 1], bow));
    }
    joints.push({ name: `j${i}`, parent: i - 1, rest: at, posed: at, ...(traits ? { traits: traits(i) } : {}) });
  }
  return makeChain(joints).chain;
};

const options = (tip: number, target: Vec3, extra: Partial<ReachOptions> = {}): ReachOptions => ({
  root: 0,
  tip,
  target,
  targetTurn: undefined,
  rollTarget: undefined,
  roll: 0,
  others: [],
  soft: 0,
  stretch: 0,
  longest: 1,
  shape: 'even',
  tipTurn: 'carried',
  rollShare: undefined,
  rounds: 20,
  tolerance: 1e-6,
  blend: 1,
  ...extra,
});

for (const shape of ['even', 'least'] as const)
  test('scratch ' + shape, () => {
    for (const bow of [0.02, 0.1]) {
      const chain = line(31, bow);
      const random = randomFrom(5);
      let bad = 0,
        rounds = 0;
      const N = 2000;
      for (let k = 0; k < N; k++) {
        let v: Vec3;
        do v = [random() * 2 - 1, random() * 2 - 1, random() * 2 - 1];
        while (Math.hypot(...v) > 1);
        const r = reach(chain, options(30, [v[0] * 30, v[1] * 30, v[2] * 30], { shape }));
        if (r.residual > 1e-4 * 30) bad++;
        rounds += r.rounds;
      }
      console.log(shape, bow, bad / N, rounds / N);
    }
    expect(1).toBe(1);
  });
