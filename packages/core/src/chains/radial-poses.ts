import type { Quaternion } from '../maths/rotation.ts';
import { solveDamped } from './normal-equations.ts';

/** Where the reach of a pose ends, it counts for this share. */
const RIM = 0.01;
/** Poses nearer to each other than this are one (radians). */
const APART = 1e-3;

/** The angle between two turns, 0 to π. */
export function angleBetween(a: Quaternion, b: Quaternion): number {
  const dot = Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);
  const [x, y, z, w] = a.map((v, i) => v - b[i]);
  // Near each other the cosine tells nothing.
  const apart = Math.min(Math.hypot(x, y, z, w), Math.hypot(...a.map((v, i) => v + b[i])));
  return dot > 0.999 ? 4 * Math.asin(Math.min(1, apart / 2)) : 2 * Math.acos(Math.min(1, dot));
}

/**
 * How much of each pose a turn has, by radial interpolation (Powell, Radial basis functions for multivariable
 * interpolation, 1987): 1 at the pose itself and 0 at every other one and at rest, with a Gaussian of the angle that is
 * 1 % at the reach. Between poses the numbers are smooth, and may leave 0..1 a little.
 * @param turns from rest. @returns undefined where two poses are one, or one is the rest
 */
export function radialWeights(turn: Quaternion, turns: readonly Quaternion[], reachInRadians: number): number[] | undefined {
  const centres: Quaternion[] = [[0, 0, 0, 1], ...turns];
  const n = centres.length;
  const shape = (angle: number) => RIM ** ((angle / reachInRadians) ** 2);
  const matrix = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      const angle = angleBetween(centres[i], centres[j]);
      if (i !== j && angle < APART) return undefined;
      matrix[i * n + j] = shape(angle);
    }
  const found = solveDamped(
    matrix,
    n,
    Float64Array.from(centres, (c) => shape(angleBetween(turn, c))),
    0,
  );
  return found && Array.from(found.subarray(1));
}
