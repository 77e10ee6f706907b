import { assemble, factorise } from '../maths/factors.ts';
import type { Matrix } from '../maths/matrix.ts';
import {
  multiplyQuaternions,
  quaternionFromAxis,
  quaternionFromRotation,
  rotationFromQuaternion,
  type Quaternion,
} from '../maths/rotation.ts';
import { halfTurnBetween } from '../maths/blend.ts';
import type { Vec3 } from '../maths/vector.ts';

/**
 * How much each of the frames up to now counts for something that follows a target on a spring: weight `k` is that of `k`
 * frames ago, and they sum to 1. The spring is `y″ + 2ζω y′ + ω² (y − x) = 0`, its answer to a target that goes straight
 * from frame to frame in closed form (the integral of its answer to a step, over each frame). What came before the last
 * frame kept is taken to have stood still.
 *
 * `ω = 2 / lag`: without overshoot it comes `lag` frames after a target that moves evenly. The damping is that of a step
 * which goes too far by the share `overshoot`: `ζ = −ln o / √(π² + ln² o)`.
 * @param lagInFrames above 0; 0 gives the present frame alone. @param kept how many frames back.
 */
export function dampingWeights(lagInFrames: number, overshoot: number, kept: number): Float64Array {
  const weights = new Float64Array(kept + 1);
  if (!(lagInFrames > 1e-9)) {
    weights[0] = 1;
    return weights;
  }
  const omega = 2 / lagInFrames;
  const zeta = dampingRatio(overshoot);
  let before = 0;
  for (let k = 0; k < kept; k++) {
    const now = rampAnswer(k + 1, omega, zeta) - rampAnswer(k, omega, zeta);
    weights[k] = now - before;
    before = now;
  }
  weights[kept] = 1 - before;
  return weights;
}

export function dampingRatio(overshoot: number): number {
  const o = Math.min(0.95, Math.max(0, overshoot));
  if (o < 1e-9) return 1;
  const l = Math.log(o);
  return -l / Math.sqrt(Math.PI ** 2 + l * l);
}

/** The share of a step that is still to come after some frames, at most: what is lost by keeping no more. */
export const stillToCome = (lagInFrames: number, overshoot: number, kept: number): number =>
  lagInFrames > 1e-9 ? Math.exp((-dampingRatio(overshoot) * 2 * kept) / lagInFrames) * (1 + (2 * kept) / lagInFrames) : 0;

/** The integral of the spring's answer to a step from 0 to 1, up to a time. */
function rampAnswer(t: number, omega: number, zeta: number): number {
  if (zeta >= 1) {
    // Critical: s(t) = 1 − e^(−ωt)(1 + ωt).
    const e = Math.exp(-omega * t);
    return t - 2 / omega + e * (2 / omega + t);
  }
  const decay = zeta * omega;
  const swing = omega * Math.sqrt(1 - zeta * zeta);
  const e = Math.exp(-decay * t);
  // ∫ e^(−at)(cos bt + (a/b) sin bt) = (2a/ω²)(1 − e^(−at) cos bt) + ((b² − a²)/(b ω²)) e^(−at) sin bt.
  const square = omega * omega;
  const lost =
    ((2 * decay) / square) * (1 - e * Math.cos(swing * t)) +
    ((swing * swing - decay * decay) / (swing * square)) * e * Math.sin(swing * t);
  return t - lost;
}

/**
 * Matrices of the frames up to now, mixed by weights that sum to 1 and may be negative: places, sizes and shears
 * linearly, turns along their logarithms from that of now, followed from frame to frame so that none jumps a whole turn.
 */
export function dampMatrices(matrices: readonly Readonly<Matrix>[], weights: Readonly<Float64Array>): Matrix {
  const parts = matrices.map(factorise);
  const turns = parts.map((f) => quaternionFromRotation(f.rotation));
  const sum = (of: (i: number) => Vec3): Vec3 => {
    const out: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < weights.length; i++) for (let k = 0; k < 3; k++) out[k] += weights[i] * of(i)[k];
    return out;
  };
  const logs = logarithmsFrom(turns);
  const log = sum((i) => logs[i]);
  const angle = Math.hypot(log[0], log[1], log[2]);
  const turn: Quaternion =
    angle > 1e-15
      ? multiplyQuaternions(quaternionFromAxis([log[0] / angle, log[1] / angle, log[2] / angle], angle), turns[0])
      : turns[0];
  return assemble({
    translate: sum((i) => parts[i].translate),
    rotation: rotationFromQuaternion(turn),
    scale: sum((i) => parts[i].scale),
    shear: sum((i) => parts[i].shear),
  });
}

/** The turn from the first to each, as a vector along its axis as long as its angle, each the nearest to the one before. */
function logarithmsFrom(turns: readonly Quaternion[]): Vec3[] {
  let before: Vec3 = [0, 0, 0];
  return turns.map((q) => {
    const half = halfTurnBetween(turns[0], q);
    const log: Vec3 = [2 * half[0], 2 * half[1], 2 * half[2]];
    const l = Math.hypot(log[0], log[1], log[2]);
    if (l > 1e-12) {
      const axis: Vec3 = [log[0] / l, log[1] / l, log[2] / l];
      const along = axis[0] * before[0] + axis[1] * before[1] + axis[2] * before[2];
      const whole = 2 * Math.PI * Math.round((along - l) / (2 * Math.PI));
      before = [axis[0] * (l + whole), axis[1] * (l + whole), axis[2] * (l + whole)];
    } else before = [0, 0, 0];
    return before;
  });
}
