import { makeChain, type Chain, type JointParts, type JointTraits } from '../chains/chain.ts';
import { identity, multiply, translation, type Matrix } from '../maths/matrix.ts';
import type { ReachOptions } from '../chains/reach.ts';
import { turnAboutAxis } from '../chains/turns.ts';
import { length, subtract, type Vec3 } from '../maths/vector.ts';

/** Chains of joints for tests. */

/** A row of joints a metre apart along x, each bent by an angle about z; under a matrix. */
export function row(
  count: number,
  bendInRadians = 0,
  extras: { under?: Matrix; traits?: (i: number) => JointTraits; axis?: Vec3; bone?: number } = {},
): Chain {
  const joints: JointParts[] = [];
  let at = extras.under ?? identity();
  for (let i = 0; i < count; i++) {
    if (i > 0) {
      at = multiply(identity(), at, translation([extras.bone ?? 1, 0, 0]));
      at = multiply(identity(), at, turnAboutAxis([0, 0, 0], extras.axis ?? [0, 0, 1], bendInRadians));
    }
    joints.push({ name: `J${i}`, parent: i - 1, rest: at, posed: at, ...(extras.traits ? { traits: extras.traits(i) } : {}) });
  }
  return makeChain(joints).chain;
}

/** Where a joint is. */
export const placeIn = (worlds: Readonly<Float64Array>, joint: number): Vec3 => [
  worlds[joint * 16 + 12],
  worlds[joint * 16 + 13],
  worlds[joint * 16 + 14],
];

/** Straight distances from each joint to the one above. */
export const bones = (chain: Chain, worlds: Readonly<Float64Array> = chain.posed): number[] =>
  Array.from(chain.parents, (p, i) => (p < 0 ? 0 : length(subtract(placeIn(worlds, i), placeIn(worlds, p)))));

/** The largest change of any number between lists of them that follow each other. */
export function largestStep(poses: readonly Readonly<ArrayLike<number>>[]): number {
  let most = 0;
  for (let k = 1; k < poses.length; k++)
    for (let i = 0; i < poses[k].length; i++) most = Math.max(most, Math.abs(poses[k][i] - poses[k - 1][i]));
  return most;
}

/** "No pop" (DECISIONS 27): with eight times the steps the largest is at most a quarter. */
export function popRatio(poseAt: (share: number) => Readonly<ArrayLike<number>>, steps = 60): number {
  const over = (n: number) => largestStep(Array.from({ length: n + 1 }, (_, k) => poseAt(k / n)));
  return over(steps * 8) / over(steps);
}

/** How Reach is asked in tests: its root first, everything else at rest. */
export const reachOptions = (tip: number, target: Vec3, extra: Partial<ReachOptions> = {}): ReachOptions => ({
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
  tolerance: 1e-5,
  blend: 1,
  ...extra,
});
