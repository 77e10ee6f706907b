import type { Vec3 } from './vector.ts';

/** The order in which the three turns are applied: `xyz` turns about x first, then y, then z (fixed axes). */
export const ROTATION_ORDERS = ['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const;
export type RotationOrder = (typeof ROTATION_ORDERS)[number];

/** A unit quaternion x, y, z, w. */
export type Quaternion = readonly [number, number, number, number];

export const RADIANS_PER_DEGREE = Math.PI / 180;

const AXES: Record<string, number> = { x: 0, y: 1, z: 2 };
/** +1 for cyclic orders, −1 for the others. */
const parity = (i: number, j: number): number => ((j - i + 3) % 3 === 1 ? 1 : -1);

/** Hamilton product: `a × b` turns by `b` first. */
export function multiplyQuaternions(a: Quaternion, b: Quaternion): Quaternion {
  return [
    a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
    a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
    a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
    a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
  ];
}

/** Turn about a unit axis. */
export function quaternionFromAxis(axis: Vec3, angleInRadians: number): Quaternion {
  const s = Math.sin(angleInRadians / 2);
  return [axis[0] * s, axis[1] * s, axis[2] * s, Math.cos(angleInRadians / 2)];
}

/** Quaternion of three turns about fixed axes, in `order`; angles are xyz whatever the order. */
export function quaternionFromEuler(anglesInRadians: Vec3, order: RotationOrder): Quaternion {
  let result: Quaternion = [0, 0, 0, 1];
  for (const letter of order) {
    const axis = AXES[letter];
    const unit: Vec3 = [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];
    result = multiplyQuaternions(quaternionFromAxis(unit, anglesInRadians[axis]), result);
  }
  return result;
}

/** The shortest-way blend of two unit quaternions (Shoemake 1985); nearly equal ones are blended linearly. */
export function slerp(a: Quaternion, b: Quaternion, amount: number): Quaternion {
  let cosine = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = cosine < 0 ? -1 : 1;
  cosine = Math.min(1, Math.abs(cosine));
  const angle = Math.acos(cosine);
  const sine = Math.sin(angle);
  const wa = sine > 1e-6 ? Math.sin((1 - amount) * angle) / sine : 1 - amount;
  const wb = (sine > 1e-6 ? Math.sin(amount * angle) / sine : amount) * sign;
  const q: [number, number, number, number] = [0, 0, 0, 0];
  for (let i = 0; i < 4; i++) q[i] = wa * a[i] + wb * b[i];
  const l = Math.hypot(...q);
  return [q[0] / l, q[1] / l, q[2] / l, q[3] / l];
}

/**
 * The 3×3 rotation matrix of a unit quaternion, as nine numbers, column by column.
 */
export function rotationFromQuaternion(q: Quaternion): Float64Array {
  const [x, y, z, w] = q;
  return Float64Array.of(
    1 - 2 * (y * y + z * z),
    2 * (x * y + z * w),
    2 * (x * z - y * w),
    2 * (x * y - z * w),
    1 - 2 * (x * x + z * z),
    2 * (y * z + x * w),
    2 * (x * z + y * w),
    2 * (y * z - x * w),
    1 - 2 * (x * x + y * y),
  );
}

/**
 * Unit quaternion of a pure 3×3 rotation (nine numbers, column by column), by the largest of its four
 * components (Shepperd 1978), so that no half turn divides by zero.
 */
export function quaternionFromRotation(m: Readonly<Float64Array>): Quaternion {
  const trace = m[0] + m[4] + m[8];
  const largest = Math.max(trace, m[0], m[4], m[8]);
  let q: [number, number, number, number];
  if (largest === trace) q = [m[5] - m[7], m[6] - m[2], m[1] - m[3], 1 + trace];
  else if (largest === m[0]) q = [1 + m[0] - m[4] - m[8], m[1] + m[3], m[6] + m[2], m[5] - m[7]];
  else if (largest === m[4]) q = [m[1] + m[3], 1 - m[0] + m[4] - m[8], m[5] + m[7], m[6] - m[2]];
  else q = [m[6] + m[2], m[5] + m[7], 1 - m[0] - m[4] + m[8], m[1] - m[3]];
  const l = Math.hypot(...q);
  return [q[0] / l, q[1] / l, q[2] / l, q[3] / l];
}

/**
 * Three turns about fixed axes, in `order`, that make up a pure 3×3 rotation (nine numbers, column by column).
 * The middle turn lies in −90°..90°; where it is ±90° (gimbal lock) the first turn is 0.
 * Angles in radians, xyz whatever the order.
 */
export function eulerFromRotation(m: Readonly<Float64Array>, order: RotationOrder): Vec3 {
  const i = AXES[order[0]];
  const j = AXES[order[1]];
  const k = AXES[order[2]];
  const sign = parity(i, j);
  const at = (row: number, column: number) => m[column * 3 + row];
  const angles: [number, number, number] = [0, 0, 0];
  // By both parts, since near a quarter turn the sine alone tells it badly.
  const cosine = Math.hypot(at(k, j), at(k, k));
  angles[j] = Math.atan2(-sign * at(k, i), cosine);
  if (cosine > 1e-9) {
    angles[i] = Math.atan2(sign * at(k, j), at(k, k));
    angles[k] = Math.atan2(sign * at(j, i), at(i, i));
  } else {
    angles[i] = 0;
    angles[k] = Math.atan2(-sign * at(i, j), at(j, j));
  }
  return angles;
}
