import { halfTurnBetween, meanRotation, normalisedWeights } from '../maths/blend.ts';
import { assemble, factorise, type Factors } from '../maths/factors.ts';
import { matrixAt } from '../maths/matrix.ts';
import { quaternionFromRotation, rotationFromQuaternion } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import { forwardPass, localsOf } from './chain.ts';

/**
 * Poses of the same joints, mixed joint by joint as their parents see them: places, sizes and shears linearly, turns by
 * their mean (DECISIONS 5); with one weight of 1 and all others 0 a joint is as in that pose, to the bit where its
 * parents are too. Weights are normalised for each joint; where all are 0 or not finite, it is as in the first pose.
 * @param poses worlds, 16 numbers a joint. @param weights of a pose for a joint.
 */
export function blendPoses(
  parents: Readonly<Int32Array>,
  poses: readonly Readonly<Float64Array>[],
  weights: (pose: number, joint: number) => number,
): Float64Array {
  const count = parents.length;
  const locals = poses.map((p) => localsOf(parents, p));
  const out = new Float64Array(count * 16);
  const sole = new Int32Array(count).fill(-1);
  for (let i = 0; i < count; i++) {
    const w = normalisedWeights(poses.map((_, k) => weights(k, i))) ?? poses.map((_, k) => (k === 0 ? 1 : 0));
    const only = w.findIndex((x) => x === 1);
    sole[i] = only;
    out.set(
      only >= 0
        ? matrixAt(locals[only], i)
        : mixLocal(
            locals.map((l) => matrixAt(l, i)),
            w,
          ),
      i * 16,
    );
  }
  forwardPass(parents, out, out);
  // A joint that is as in one pose, under parents that are too, has not to be gone down to again.
  for (let i = 0; i < count; i++) {
    const p = parents[i];
    if (p >= 0 && sole[p] !== sole[i]) sole[i] = -1;
    if (sole[i] >= 0) out.set(matrixAt(poses[sole[i]], i), i * 16);
  }
  return out;
}

function mixLocal(matrices: readonly Float64Array[], weights: readonly number[]): Float64Array {
  const parts = matrices.map(factorise);
  const mean = (of: (f: Factors) => Vec3): Vec3 =>
    [0, 1, 2].map((axis) => parts.reduce((sum, f, k) => sum + weights[k] * of(f)[axis], 0)) as unknown as Vec3;
  const turns = parts.map((f) => quaternionFromRotation(f.rotation));
  return assemble({
    translate: mean((f) => f.translate),
    rotation: rotationFromQuaternion(meanRotation(turns, weights)),
    scale: mean((f) => f.scale),
    shear: mean((f) => f.shear),
  });
}

/** The angle between two turns of a joint as its parent sees it, radians. */
export function turnAngle(a: Readonly<Float64Array>, b: Readonly<Float64Array>): number {
  const half = halfTurnBetween(quaternionFromRotation(factorise(a).rotation), quaternionFromRotation(factorise(b).rotation));
  return 2 * Math.hypot(half[0], half[1], half[2]);
}
