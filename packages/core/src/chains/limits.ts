import { matrixAt, type Matrix } from '../maths/matrix.ts';
import { multiplyQuaternions, quaternionFromAxis, RADIANS_PER_DEGREE, type Quaternion } from '../maths/rotation.ts';
import { quaternionFromRotation } from '../maths/rotation.ts';
import { factorise } from '../maths/factors.ts';
import type { JointLimit } from './chain.ts';

const conjugate = (q: Quaternion): Quaternion => [-q[0], -q[1], -q[2], q[3]];
const clamp = (v: number, a: number, b: number) => Math.min(Math.max(v, Math.min(a, b)), Math.max(a, b));

/** The turn of a matrix, without size and shear; of a mirroring one that of the matrix with all sizes flipped. */
export const turnOf = (m: Readonly<Matrix>): Quaternion => quaternionFromRotation(factorise(m).rotation);

/**
 * A turn from rest (in the joint's own axes at rest) held within a limit. It is split into a twist about the axis and a
 * swing that leans the axis (`q = swing · twist`); a hinge has no swing. Nothing is changed within the limit.
 */
export function limitTurn(q: Quaternion, limit: JointLimit): { turn: Quaternion; isHeld: boolean } {
  const { unit, angle, swing, sign, lean } = splitTurn(q, limit.axis);
  const held = clamp(angle, limit.from * RADIANS_PER_DEGREE, limit.to * RADIANS_PER_DEGREE);
  const most = limit.kind === 'hinge' ? 0 : Math.max(0, limit.lean) * RADIANS_PER_DEGREE;
  const isHeld = Math.abs(held - angle) > 1e-9 || lean > most + 1e-9;
  if (!isHeld) return { turn: q, isHeld };
  let leaned: Quaternion = [0, 0, 0, 1];
  if (lean > 1e-12) {
    const s = Math.hypot(swing[0], swing[1], swing[2]);
    leaned = quaternionFromAxis([(sign * swing[0]) / s, (sign * swing[1]) / s, (sign * swing[2]) / s], Math.min(lean, most));
  }
  return { turn: multiplyQuaternions(leaned, quaternionFromAxis(unit, held)), isHeld };
}

/** A turn as a twist about an own axis (`angle`, radians, −π to π) and a swing that leans the axis by `lean`. */
function splitTurn(q: Quaternion, axis: 0 | 1 | 2) {
  const unit: [number, number, number] = [0, 0, 0];
  unit[axis] = 1;
  const l = Math.hypot(q[axis], q[3]);
  // Leaned right over, there is no telling how it is twisted: not at all.
  const twist: Quaternion = l > 1e-9 ? quaternionFromAxis(unit, 2 * Math.atan2(q[axis], q[3])) : [0, 0, 0, 1];
  let angle = l > 1e-9 ? 2 * Math.atan2(q[axis], q[3]) : 0;
  if (angle > Math.PI) angle -= 2 * Math.PI;
  if (angle <= -Math.PI) angle += 2 * Math.PI;
  const swing = multiplyQuaternions(q, conjugate(twist));
  const sign = swing[3] < 0 ? -1 : 1;
  const lean = 2 * Math.atan2(Math.hypot(swing[0], swing[1], swing[2]), sign * swing[3]);
  return { unit, angle, swing, sign, lean };
}

/** How many degrees a turn from rest is inside of its limit: 0 at it, negative past it. */
export function limitRoom(q: Quaternion, limit: JointLimit): number {
  const { angle, lean } = splitTurn(q, limit.axis);
  const twisted = angle / RADIANS_PER_DEGREE;
  const room = Math.min(twisted - Math.min(limit.from, limit.to), Math.max(limit.from, limit.to) - twisted);
  const leaned = lean / RADIANS_PER_DEGREE;
  return Math.min(room, limit.kind === 'hinge' ? (leaned > 1e-4 ? -leaned : Infinity) : Math.max(0, limit.lean) - leaned);
}

/** Whether the rest, which is no turn at all, is within a limit. */
export const limitTakesRest = (limit: JointLimit): boolean =>
  Math.min(limit.from, limit.to) <= 1e-9 &&
  Math.max(limit.from, limit.to) >= -1e-9 &&
  (limit.kind === 'hinge' || limit.lean >= 0);

/** The turn of each joint as its parent sees it: `turn(P)⁻¹ · turn(W)`. */
export function localTurn(worlds: Readonly<Float64Array>, parent: number, joint: number): Quaternion {
  const mine = turnOf(matrixAt(worlds, joint));
  return parent < 0 ? mine : multiplyQuaternions(conjugate(turnOf(matrixAt(worlds, parent))), mine);
}

/** The turn from rest in own axes: `rest⁻¹ · now`. */
export const fromRest = (rest: Quaternion, now: Quaternion): Quaternion => multiplyQuaternions(conjugate(rest), now);
