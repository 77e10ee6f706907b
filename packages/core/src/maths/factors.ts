import { type Matrix, identity, positionOf } from './matrix.ts';
import { type RotationOrder, eulerFromRotation, quaternionFromEuler, rotationFromQuaternion } from './rotation.ts';
import type { Vec3 } from './vector.ts';
const NO_SHEAR: Vec3 = [0, 0, 0];

/** `T · R · H · S` from a translation, turns in radians (in `order`), a scale and a shear. */
export function compose(
  translate: Vec3,
  anglesInRadians: Vec3,
  order: RotationOrder,
  size: Vec3,
  shear: Vec3 = NO_SHEAR,
): Matrix {
  const rotation = rotationFromQuaternion(quaternionFromEuler(anglesInRadians, order));
  return assemble({ translate, rotation, scale: size, shear });
}

/** `M = T · R · H · S` in parts; `shear` is xy, xz, yz of the unit upper-triangular H. */
export interface Factors {
  translate: Vec3;
  /** Nine numbers, column by column, determinant 1. */
  rotation: Float64Array;
  scale: Vec3;
  shear: Vec3;
}

/** What `decompose` finds: factors with the rotation as three turns. */
export interface Decomposed extends Omit<Factors, 'rotation'> {
  anglesInRadians: Vec3;
}

/**
 * Splits `M = T · R · H · S` (H unit upper-triangular: the shear) by Gram–Schmidt on the columns (Thomas,
 * Graphics Gems II, 1991). A negative determinant flips all three scales. An axis of length 0, or one
 * in the plane of those before it, gives scale 0 (and no shear, which would have no end).
 */
export function factorise(m: Readonly<Matrix>): Factors {
  const axes: number[][] = [0, 4, 8].map((c) => [m[c], m[c + 1], m[c + 2]]);
  const inner = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const take = (a: number[], b: number[], f: number) => a.map((v, i) => v - b[i] * f);
  const unit = (a: number[], l: number, spare: number[]) => (l > 0 ? a.map((v) => v / l) : spare);
  const sx = Math.sqrt(inner(axes[0], axes[0]));
  const x = unit(axes[0], sx, [1, 0, 0]);
  const xy = inner(x, axes[1]);
  const yRaw = take(axes[1], x, xy);
  const sy = lengthBeside(yRaw, axes[1]);
  const y = unit(yRaw, sy, perpendicular(x));
  const xz = inner(x, axes[2]);
  const yz = inner(y, axes[2]);
  const zRaw = take(take(axes[2], x, xz), y, yz);
  const sz = lengthBeside(zRaw, axes[2]);
  const zPlus = [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]];
  const flip = inner(zPlus, zRaw) < 0 ? -1 : 1;
  const rotation = new Float64Array(9);
  for (let i = 0; i < 3; i++) {
    rotation[i] = x[i] * flip;
    rotation[3 + i] = y[i] * flip;
  }
  for (let i = 0; i < 3; i++) rotation[6 + i] = zPlus[i];
  return {
    translate: positionOf(m),
    rotation,
    scale: [sx * flip, sy * flip, sz * flip],
    shear: [sy > 0 ? xy / sy : 0, sz > 0 ? xz / sz : 0, sz > 0 ? yz / sz : 0],
  };
}

/** The length of what is left of an axis; 0 when that is only the dust of computing. */
function lengthBeside(left: readonly number[], axis: readonly number[]): number {
  const l = Math.hypot(left[0], left[1], left[2]);
  return l > 1e-13 * Math.hypot(axis[0], axis[1], axis[2]) ? l : 0;
}

/** `factorise`, with the rotation as three turns in an order. */
export function decompose(m: Readonly<Matrix>, order: RotationOrder): Decomposed {
  const { rotation, ...others } = factorise(m);
  return { ...others, anglesInRadians: eulerFromRotation(rotation, order) };
}

/** `T · R · H · S`: what `factorise` took apart. */
export function assemble({ translate, rotation: r, scale: s, shear: h }: Factors): Matrix {
  const out = identity();
  for (let row = 0; row < 3; row++) {
    const x = r[row],
      y = r[3 + row],
      z = r[6 + row];
    out[row] = x * s[0];
    out[4 + row] = (x * h[0] + y) * s[1];
    out[8 + row] = (x * h[1] + y * h[2] + z) * s[2];
  }
  out[12] = translate[0];
  out[13] = translate[1];
  out[14] = translate[2];
  return out;
}

function perpendicular(x: number[]): number[] {
  const other = Math.abs(x[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
  const c = [x[1] * other[2] - x[2] * other[1], x[2] * other[0] - x[0] * other[2], x[0] * other[1] - x[1] * other[0]];
  const l = Math.hypot(...c);
  return c.map((v) => v / l);
}
