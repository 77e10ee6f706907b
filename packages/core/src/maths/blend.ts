import type { Matrix } from './matrix.ts';
import { assemble, factorise } from './factors.ts';
import { multiplyQuaternions, quaternionFromRotation, rotationFromQuaternion, slerp, type Quaternion } from './rotation.ts';
import type { Vec3 } from './vector.ts';

const conjugate = (q: Quaternion): Quaternion => [-q[0], -q[1], -q[2], q[3]];

/** Half the turn as a vector along its axis, the shortest way. */
function logarithm(q: Quaternion): Vec3 {
  const sign = q[3] < 0 ? -1 : 1;
  const l = Math.hypot(q[0], q[1], q[2]);
  const f = l > 1e-12 ? (Math.atan2(l, q[3] * sign) / l) * sign : sign;
  return [q[0] * f, q[1] * f, q[2] * f];
}

/** Half the turn that leads from one rotation to another, as a vector along its axis in the world, the shortest way. */
export const halfTurnBetween = (from: Quaternion, to: Quaternion): Vec3 => logarithm(multiplyQuaternions(to, conjugate(from)));

function exponential(v: Vec3): Quaternion {
  const l = Math.hypot(...v);
  const f = l > 1e-12 ? Math.sin(l) / l : 1;
  return [v[0] * f, v[1] * f, v[2] * f, Math.cos(l)];
}

/**
 * The weighted mean of unit quaternions: two the shortest way (Shoemake 1985); more by iterated mean of logarithms from
 * the leading eigenvector of `Σ w q qᵀ` (Markley and others 2007), so that their order does not matter (DECISIONS 5).
 * @param weights sum to 1.
 */
export function meanRotation(rotations: readonly Quaternion[], weights: readonly number[]): Quaternion {
  if (rotations.length === 1) return rotations[0];
  if (rotations.length === 2) return slerp(rotations[0], rotations[1], weights[1]);
  let mean = leadingEigenvector(rotations, weights);
  for (let round = 0; round < 50; round++) {
    const step: [number, number, number] = [0, 0, 0];
    rotations.forEach((q, i) => {
      const away = halfTurnBetween(mean, q);
      for (let axis = 0; axis < 3; axis++) step[axis] += weights[i] * away[axis];
    });
    mean = multiplyQuaternions(exponential(step), mean);
    const l = Math.hypot(...mean);
    mean = [mean[0] / l, mean[1] / l, mean[2] / l, mean[3] / l];
    if (Math.hypot(...step) < 1e-14) break;
  }
  return mean;
}

/** Of `Σ w q qᵀ`, by Jacobi's method for symmetric matrices (Golub and Van Loan, 8.5). */
function leadingEigenvector(rotations: readonly Quaternion[], weights: readonly number[]): Quaternion {
  const a = new Float64Array(16);
  rotations.forEach((q, n) => {
    for (let i = 0; i < 4; i++) for (let j = 0; j < 4; j++) a[i * 4 + j] += weights[n] * q[i] * q[j];
  });
  const v = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  for (let sweep = 0; sweep < 20; sweep++) {
    let off = 0;
    for (let p = 0; p < 3; p++) {
      for (let q = p + 1; q < 4; q++) {
        const apq = a[p * 4 + q];
        off += apq * apq;
        if (Math.abs(apq) < 1e-300) continue;
        const theta = (a[q * 5] - a[p * 5]) / (2 * apq);
        const t = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
        const c = 1 / Math.sqrt(t * t + 1);
        const s = t * c;
        for (let k = 0; k < 4; k++) {
          const [kp, kq] = [a[k * 4 + p], a[k * 4 + q]];
          a[k * 4 + p] = c * kp - s * kq;
          a[k * 4 + q] = s * kp + c * kq;
        }
        for (let k = 0; k < 4; k++) {
          const [pk, qk] = [a[p * 4 + k], a[q * 4 + k]];
          a[p * 4 + k] = c * pk - s * qk;
          a[q * 4 + k] = s * pk + c * qk;
          const [vp, vq] = [v[k * 4 + p], v[k * 4 + q]];
          v[k * 4 + p] = c * vp - s * vq;
          v[k * 4 + q] = s * vp + c * vq;
        }
      }
    }
    if (off < 1e-30) break;
  }
  let best = 0;
  for (let i = 1; i < 4; i++) if (a[i * 5] > a[best * 5]) best = i;
  return [v[best], v[4 + best], v[8 + best], v[12 + best]];
}

/**
 * Weights that sum to 1; undefined when all are 0 or one is not a number. Negative ones count as 0.
 */
export function normalisedWeights(weights: ArrayLike<number>): number[] | undefined {
  const positive = Array.from(weights, (w) => (w > 0 ? w : w === w ? 0 : NaN));
  const sum = positive.reduce((a, b) => a + b, 0);
  return sum > 0 && Number.isFinite(sum) ? positive.map((w) => w / sum) : undefined;
}

/** Weights of `count` neighbours for a single dial that runs from 0 to `count − 1`. */
export function dialWeights(dial: number, count: number): number[] {
  const at = Math.max(0, Math.min(count - 1, dial));
  return Array.from({ length: count }, (_, i) => Math.max(0, 1 - Math.abs(at - i)));
}

/**
 * Blends matrices: translation, scale and shear linearly, rotations by their mean (DECISIONS 5).
 * @returns undefined when the weights are all 0
 */
export function blendMatrices(matrices: readonly Readonly<Matrix>[], weights: ArrayLike<number>): Matrix | undefined {
  const shares = normalisedWeights(weights);
  if (!shares) return undefined;
  // One alone is itself, to the last bit: no jump where a dial reaches its end.
  const alone = shares.indexOf(1);
  if (alone >= 0) return Float64Array.from(matrices[alone]);
  const used = matrices.map((_, i) => i).filter((i) => shares[i] > 0);
  const factors = used.map((i) => factorise(matrices[i]));
  const share = used.map((i) => shares[i]);
  const mix = (of: 'translate' | 'scale' | 'shear'): Vec3 =>
    [0, 1, 2].map((axis) => factors.reduce((sum, f, i) => sum + share[i] * f[of][axis], 0)) as unknown as Vec3;
  const rotation = rotationFromQuaternion(
    meanRotation(
      factors.map((f) => quaternionFromRotation(f.rotation)),
      share,
    ),
  );
  return assemble({ translate: mix('translate'), rotation, scale: mix('scale'), shear: mix('shear') });
}
