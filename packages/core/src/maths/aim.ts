import { identity, multiply, positionOf, type Matrix } from './matrix.ts';
import { factorise } from './factors.ts';
import { quaternionFromAxis, rotationFromQuaternion } from './rotation.ts';
import { cross, dot, length, normalize, scale, subtract, type Vec3 } from './vector.ts';

/** A direction of an object's own: one of its axes, or the other way along it. */
export type SignedAxis = 'x' | 'y' | 'z' | '-x' | '-y' | '-z';

/** Which own axis points at the target, and which is kept up. They must be different ones. */
export interface AimAxes {
  readonly aim: SignedAxis;
  readonly up: SignedAxis;
}

const axisNumber = (a: SignedAxis) => 'xyz'.indexOf(a[a.length - 1]);
const signOf = (a: SignedAxis) => (a[0] === '-' ? -1 : 1);

/** A 4×4 rotation from nine numbers, column by column. */
export function rotationMatrix(r: Readonly<Float64Array>): Matrix {
  const out = identity();
  for (let c = 0; c < 3; c++) for (let row = 0; row < 3; row++) out[c * 4 + row] = r[c * 3 + row];
  return out;
}

/** Any direction square to another: the same for the same one. */
function squareTo(d: Vec3): Vec3 {
  const other: Vec3 = Math.abs(d[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0];
  return normalize(subtract(other, scale(d, dot(other, d))));
}

/**
 * The rotation whose `aim` axis lies along `direction` and whose `up` axis is as near to `up` as that leaves it; then
 * rolled about the direction. A direction of length 0 is taken as world z, an `up` along it as any square to it.
 */
export function aimRotation(direction: Vec3, up: Vec3, axes: AimAxes, rollInRadians: number): Matrix {
  const d = length(direction) > 0 ? normalize(direction) : ([0, 0, 1] as Vec3);
  const flat = subtract(up, scale(d, dot(up, d)));
  let u = length(flat) > 1e-9 * Math.max(1e-300, length(up)) ? normalize(flat) : squareTo(d);
  if (rollInRadians !== 0) u = turnAbout(u, d, rollInRadians);
  const columns: Vec3[] = [];
  const [i, j] = [
    axisNumber(axes.aim),
    axisNumber(axes.up === axes.aim || axisNumber(axes.up) === axisNumber(axes.aim) ? spareAxis(axes.aim) : axes.up),
  ];
  columns[i] = scale(d, signOf(axes.aim));
  columns[j] = scale(u, signOf(axes.up));
  const k = 3 - i - j;
  const third = cross(columns[(k + 1) % 3], columns[(k + 2) % 3]);
  columns[k] = third;
  return rotationMatrix(Float64Array.from(columns.flatMap((c) => [...c])));
}

/**
 * A matrix turned about its own place so that its `aim` axis, as it is drawn, points along a direction, and its `up` axis
 * as near to `up` as that leaves it: mirrored and sheared ones too, since what is turned is the matrix as a whole. Without
 * `up` it turns as little as it can. A direction of length 0 turns nothing.
 */
export function aimMatrix(
  m: Readonly<Matrix>,
  direction: Vec3,
  up: Vec3 | undefined,
  axes: AimAxes,
  rollInRadians: number,
): Matrix {
  const size = Math.max(length(positionOf(m)), 1);
  if (!(length(direction) > 1e-12 * size)) return Float64Array.from(m);
  const { rotation } = factorise(m);
  const own = (a: SignedAxis): Vec3 => {
    const n = axisNumber(a);
    const drawn: Vec3 = [m[n * 4], m[n * 4 + 1], m[n * 4 + 2]];
    // An axis without a length points where its turn says.
    const v: Vec3 = length(drawn) > 0 ? drawn : [rotation[n * 3], rotation[n * 3 + 1], rotation[n * 3 + 2]];
    return scale(v, signOf(a));
  };
  const from = own(axes.aim);
  const upAxis = axisNumber(axes.up) === axisNumber(axes.aim) ? spareAxis(axes.aim) : axes.up;
  const turn = up
    ? turnOnto(aimRotation(direction, up, FRAME, rollInRadians), aimRotation(from, own(upAxis), FRAME, 0))
    : turnBetween(from, direction, rollInRadians);
  const out = multiply(identity(), turn, m);
  out.set(positionOf(m), 12);
  return out;
}

/** Which axes frames are made with does not matter: only the turn from one to the other does. */
const FRAME: AimAxes = { aim: 'z', up: 'y' };

/** The rotation that takes one frame onto another. */
export function turnOnto(to: Matrix, from: Matrix): Matrix {
  const back = identity();
  for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) back[c * 4 + r] = from[r * 4 + c];
  return multiply(back, to, back);
}

const spareAxis = (a: SignedAxis): SignedAxis => (axisNumber(a) === 1 ? 'z' : 'y');

function turnAbout(v: Vec3, axis: Vec3, angleInRadians: number): Vec3 {
  const r = rotationFromQuaternion(quaternionFromAxis(axis, angleInRadians));
  return [0, 1, 2].map((row) => r[row] * v[0] + r[3 + row] * v[1] + r[6 + row] * v[2]) as unknown as Vec3;
}

/**
 * The least rotation that takes one direction onto another, then a roll about that one. Opposite directions turn by half
 * a turn about an axis that depends on them alone; a direction of length 0 turns nothing.
 */
export function turnBetween(from: Vec3, to: Vec3, rollInRadians = 0): Matrix {
  const [a, b] = [length(from), length(to)];
  if (!(a > 0 && b > 0)) return identity();
  const [u, v] = [scale(from, 1 / a), scale(to, 1 / b)];
  const w = 1 + dot(u, v);
  let q: [number, number, number, number];
  if (w > 1e-12) {
    const c = cross(u, v);
    q = [c[0], c[1], c[2], w];
  } else {
    const s = squareTo(u);
    q = [s[0], s[1], s[2], 0];
  }
  const l = Math.hypot(...q);
  const turn = rotationFromQuaternion([q[0] / l, q[1] / l, q[2] / l, q[3] / l]);
  if (rollInRadians === 0) return rotationMatrix(turn);
  const roll = rotationFromQuaternion(quaternionFromAxis(v, rollInRadians));
  const out = new Float64Array(9);
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++) for (let k = 0; k < 3; k++) out[c * 3 + r] += roll[k * 3 + r] * turn[c * 3 + k];
  return rotationMatrix(out);
}
