import { rotationMatrix } from '../maths/aim.ts';
import { factorise } from '../maths/factors.ts';
import { identity, type Matrix } from '../maths/matrix.ts';
import { quaternionFromAxis, rotationFromQuaternion } from '../maths/rotation.ts';
import { cross, dot, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';

/** A rotation about a place instead of the origin: `T(p) · R · T(−p)`. Writes into `rotation` and returns it. */
export function aboutPlace(rotation: Matrix, p: Vec3): Matrix {
  for (let r = 0; r < 3; r++) rotation[12 + r] = p[r] - (rotation[r] * p[0] + rotation[4 + r] * p[1] + rotation[8 + r] * p[2]);
  return rotation;
}

/** A turn about an axis through a place. */
export const turnAboutAxis = (p: Vec3, axis: Vec3, angleInRadians: number): Matrix =>
  aboutPlace(rotationMatrix(rotationFromQuaternion(quaternionFromAxis(axis, angleInRadians))), p);

/** The part of a vector square to a unit direction. */
export const squarePart = (v: Vec3, direction: Vec3): Vec3 => subtract(v, scale(direction, dot(v, direction)));

/**
 * The frame of a bone: along it, and square to it as near to a normal as that leaves it. Undefined where the normal runs
 * along the bone (to a millionth), or one of them is no direction.
 */
export function boneFrame(along: Vec3, normal: Vec3): Matrix | undefined {
  if (!(length(along) > 0)) return undefined;
  const d = normalize(along);
  const flat = squarePart(normal, d);
  if (!(length(flat) > 1e-6 * length(normal))) return undefined;
  const n = normalize(flat);
  const s = cross(n, d);
  return rotationMatrix(Float64Array.of(...d, ...n, ...s));
}

/** The rotation of a matrix as a 4×4 one, without its place, size and shear. */
export const rotationOf = (m: Readonly<Matrix>): Matrix => rotationMatrix(factorise(m).rotation);

/** A direction taken through the rotation of a matrix. */
export function turned(rotation: Readonly<Matrix>, v: Vec3): Vec3 {
  return [0, 1, 2].map((r) => rotation[r] * v[0] + rotation[4 + r] * v[1] + rotation[8 + r] * v[2]) as unknown as Vec3;
}

/** Widens by a factor along a unit direction, about a place. */
export function stretchAlong(direction: Vec3, factor: number, p: Vec3): Matrix {
  const out = identity();
  for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[c * 4 + r] += (factor - 1) * direction[r] * direction[c];
  return aboutPlace(out, p);
}
