import type { Vec3 } from './vector.ts';

/**
 * A 4×4 matrix: sixteen Float64 numbers, stored column by column, acting on column vectors.
 * `multiply(out, a, b)` is `A × B`: B is applied first. Translation sits in elements 12, 13, 14.
 */
export type Matrix = Float64Array;

/** How many matrices are cut from one buffer: an array with a buffer of its own takes four times as long to make. */
const SHEET = 64;
const BYTES = 16 * Float64Array.BYTES_PER_ELEMENT;
let sheet = new ArrayBuffer(SHEET * BYTES);
let used = 0;

/** A new matrix of zeros. */
export function newMatrix(): Matrix {
  if (used === SHEET * BYTES) {
    sheet = new ArrayBuffer(SHEET * BYTES);
    used = 0;
  }
  used += BYTES;
  return new Float64Array(sheet, used - BYTES, 16);
}

/** One of packed matrices, without copying it. */
export const matrixAt = (packed: Readonly<Float64Array>, i: number): Matrix =>
  (packed as Float64Array).subarray(i * 16, i * 16 + 16);

/** Copies the matrix at place `from` of packed matrices to place `at`. */
export function copyMatrix(to: Float64Array, at: number, packed: Readonly<Float64Array>, from: number): void {
  for (let i = 0; i < 16; i++) to[(at + i) | 0] = packed[(from + i) | 0];
}

/** A new identity matrix. */
export function identity(): Matrix {
  const out = newMatrix();
  out[0] = out[5] = out[10] = out[15] = 1;
  return out;
}

/** A new matrix that moves by `t`. */
export function translation(t: Vec3): Matrix {
  const out = identity();
  out[12] = t[0];
  out[13] = t[1];
  out[14] = t[2];
  return out;
}

/** `out = A × B` (B is applied first). `out` may be `a` or `b`. Returns `out`. */
export function multiply(out: Matrix, a: Readonly<Matrix>, b: Readonly<Matrix>): Matrix {
  const a0 = a[0],
    a1 = a[1],
    a2 = a[2],
    a3 = a[3],
    a4 = a[4],
    a5 = a[5],
    a6 = a[6],
    a7 = a[7];
  const a8 = a[8],
    a9 = a[9],
    a10 = a[10],
    a11 = a[11],
    a12 = a[12],
    a13 = a[13],
    a14 = a[14],
    a15 = a[15];
  let b0 = b[0],
    b1 = b[1],
    b2 = b[2],
    b3 = b[3];
  out[0] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
  out[1] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
  out[2] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
  out[3] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
  b0 = b[4];
  b1 = b[5];
  b2 = b[6];
  b3 = b[7];
  out[4] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
  out[5] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
  out[6] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
  out[7] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
  b0 = b[8];
  b1 = b[9];
  b2 = b[10];
  b3 = b[11];
  out[8] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
  out[9] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
  out[10] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
  out[11] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
  b0 = b[12];
  b1 = b[13];
  b2 = b[14];
  b3 = b[15];
  out[12] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
  out[13] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
  out[14] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
  out[15] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
  return out;
}

/**
 * `out = A × B` for `count` matrices one after the other, from places `toOut`, `fromA` and `fromB` of their arrays on; a
 * step of 0 repeats one, 16 takes the next. `out` may be `A` or `B` at the same place: of each matrix all of B, and each
 * row of A, is read before it is written over. Going row by row keeps what is read in registers; indices in 32 bits spare
 * a check for overflow at each of 48 accesses.
 */
export function multiplyPacked(
  out: Float64Array,
  toOut: number,
  A: Readonly<Float64Array>,
  fromA: number,
  stepA: 0 | 16,
  B: Readonly<Float64Array>,
  fromB: number,
  stepB: 0 | 16,
  count: number,
): void {
  let o = toOut | 0;
  let p = fromA | 0;
  let q = fromB | 0;
  const end = (o + count * 16) | 0;
  for (; o < end; o = (o + 16) | 0, p = (p + stepA) | 0, q = (q + stepB) | 0) {
    const b0 = B[q],
      b1 = B[(q + 1) | 0],
      b2 = B[(q + 2) | 0],
      b3 = B[(q + 3) | 0];
    const b4 = B[(q + 4) | 0],
      b5 = B[(q + 5) | 0],
      b6 = B[(q + 6) | 0],
      b7 = B[(q + 7) | 0];
    const b8 = B[(q + 8) | 0],
      b9 = B[(q + 9) | 0],
      b10 = B[(q + 10) | 0],
      b11 = B[(q + 11) | 0];
    const b12 = B[(q + 12) | 0],
      b13 = B[(q + 13) | 0],
      b14 = B[(q + 14) | 0],
      b15 = B[(q + 15) | 0];
    const x0 = A[p],
      y0 = A[(p + 4) | 0],
      z0 = A[(p + 8) | 0],
      w0 = A[(p + 12) | 0];
    out[o] = x0 * b0 + y0 * b1 + z0 * b2 + w0 * b3;
    out[(o + 4) | 0] = x0 * b4 + y0 * b5 + z0 * b6 + w0 * b7;
    out[(o + 8) | 0] = x0 * b8 + y0 * b9 + z0 * b10 + w0 * b11;
    out[(o + 12) | 0] = x0 * b12 + y0 * b13 + z0 * b14 + w0 * b15;
    const x1 = A[(p + 1) | 0],
      y1 = A[(p + 5) | 0],
      z1 = A[(p + 9) | 0],
      w1 = A[(p + 13) | 0];
    out[(o + 1) | 0] = x1 * b0 + y1 * b1 + z1 * b2 + w1 * b3;
    out[(o + 5) | 0] = x1 * b4 + y1 * b5 + z1 * b6 + w1 * b7;
    out[(o + 9) | 0] = x1 * b8 + y1 * b9 + z1 * b10 + w1 * b11;
    out[(o + 13) | 0] = x1 * b12 + y1 * b13 + z1 * b14 + w1 * b15;
    const x2 = A[(p + 2) | 0],
      y2 = A[(p + 6) | 0],
      z2 = A[(p + 10) | 0],
      w2 = A[(p + 14) | 0];
    out[(o + 2) | 0] = x2 * b0 + y2 * b1 + z2 * b2 + w2 * b3;
    out[(o + 6) | 0] = x2 * b4 + y2 * b5 + z2 * b6 + w2 * b7;
    out[(o + 10) | 0] = x2 * b8 + y2 * b9 + z2 * b10 + w2 * b11;
    out[(o + 14) | 0] = x2 * b12 + y2 * b13 + z2 * b14 + w2 * b15;
    const x3 = A[(p + 3) | 0],
      y3 = A[(p + 7) | 0],
      z3 = A[(p + 11) | 0],
      w3 = A[(p + 15) | 0];
    out[(o + 3) | 0] = x3 * b0 + y3 * b1 + z3 * b2 + w3 * b3;
    out[(o + 7) | 0] = x3 * b4 + y3 * b5 + z3 * b6 + w3 * b7;
    out[(o + 11) | 0] = x3 * b8 + y3 * b9 + z3 * b10 + w3 * b11;
    out[(o + 15) | 0] = x3 * b12 + y3 * b13 + z3 * b14 + w3 * b15;
  }
}

/** The product of several matrices as a new one; the last is applied first. None gives the identity. */
export function product(...matrices: readonly Readonly<Matrix>[]): Matrix {
  const out = identity();
  for (const m of matrices) multiply(out, out, m);
  return out;
}

/**
 * `out = M⁻¹` by cofactors. `out` may be `m`. Returns false, with `out` untouched, when the matrix cannot be
 * inverted: its determinant is 0 or not finite, measured against the size of its axes.
 */
export const invert = (out: Matrix, m: Readonly<Matrix>): boolean => invertAt(out, 0, m, 0);

/** The same for matrices that begin at places of arrays: `o` of `out`, and `m` of `M`. */
export function invertAt(out: Float64Array, o: number, M: Readonly<Float64Array>, m: number): boolean {
  const m0 = M[m | 0],
    m1 = M[(m + 1) | 0],
    m2 = M[(m + 2) | 0],
    m3 = M[(m + 3) | 0],
    m4 = M[(m + 4) | 0],
    m5 = M[(m + 5) | 0],
    m6 = M[(m + 6) | 0],
    m7 = M[(m + 7) | 0];
  const m8 = M[(m + 8) | 0],
    m9 = M[(m + 9) | 0],
    m10 = M[(m + 10) | 0],
    m11 = M[(m + 11) | 0],
    m12 = M[(m + 12) | 0],
    m13 = M[(m + 13) | 0],
    m14 = M[(m + 14) | 0],
    m15 = M[(m + 15) | 0];
  const b00 = m0 * m5 - m1 * m4,
    b01 = m0 * m6 - m2 * m4,
    b02 = m0 * m7 - m3 * m4;
  const b03 = m1 * m6 - m2 * m5,
    b04 = m1 * m7 - m3 * m5,
    b05 = m2 * m7 - m3 * m6;
  const b06 = m8 * m13 - m9 * m12,
    b07 = m8 * m14 - m10 * m12,
    b08 = m8 * m15 - m11 * m12;
  const b09 = m9 * m14 - m10 * m13,
    b10 = m9 * m15 - m11 * m13,
    b11 = m10 * m15 - m11 * m14;
  const determinant = b00 * b11 - b01 * b10 + b02 * b09 + b03 * b08 - b04 * b07 + b05 * b06;
  const x = Math.sqrt(m0 * m0 + m1 * m1 + m2 * m2);
  const y = Math.sqrt(m4 * m4 + m5 * m5 + m6 * m6);
  const z = Math.sqrt(m8 * m8 + m9 * m9 + m10 * m10);
  const size = x * y * z * Math.abs(m15);
  if (!(Math.abs(determinant) > size * 1e-14) || !Number.isFinite(determinant)) return false;
  const d = 1 / determinant;
  out[o | 0] = (m5 * b11 - m6 * b10 + m7 * b09) * d;
  out[(o + 1) | 0] = (m2 * b10 - m1 * b11 - m3 * b09) * d;
  out[(o + 2) | 0] = (m13 * b05 - m14 * b04 + m15 * b03) * d;
  out[(o + 3) | 0] = (m10 * b04 - m9 * b05 - m11 * b03) * d;
  out[(o + 4) | 0] = (m6 * b08 - m4 * b11 - m7 * b07) * d;
  out[(o + 5) | 0] = (m0 * b11 - m2 * b08 + m3 * b07) * d;
  out[(o + 6) | 0] = (m14 * b02 - m12 * b05 - m15 * b01) * d;
  out[(o + 7) | 0] = (m8 * b05 - m10 * b02 + m11 * b01) * d;
  out[(o + 8) | 0] = (m4 * b10 - m5 * b08 + m7 * b06) * d;
  out[(o + 9) | 0] = (m1 * b08 - m0 * b10 - m3 * b06) * d;
  out[(o + 10) | 0] = (m12 * b04 - m13 * b02 + m15 * b00) * d;
  out[(o + 11) | 0] = (m9 * b02 - m8 * b04 - m11 * b00) * d;
  out[(o + 12) | 0] = (m5 * b07 - m4 * b09 - m6 * b06) * d;
  out[(o + 13) | 0] = (m0 * b09 - m1 * b07 + m2 * b06) * d;
  out[(o + 14) | 0] = (m13 * b01 - m12 * b03 - m14 * b00) * d;
  out[(o + 15) | 0] = (m8 * b03 - m9 * b01 + m10 * b00) * d;
  return true;
}

/** The point `M p`. */
export function transformPoint(m: Readonly<Matrix>, p: Vec3): Vec3 {
  return [
    m[0] * p[0] + m[4] * p[1] + m[8] * p[2] + m[12],
    m[1] * p[0] + m[5] * p[1] + m[9] * p[2] + m[13],
    m[2] * p[0] + m[6] * p[1] + m[10] * p[2] + m[14],
  ];
}

/** Where the matrix puts the origin. */
export const positionOf = (m: Readonly<Matrix>): Vec3 => [m[12], m[13], m[14]];

/** Whether matrices are the same but for the dust of computing: to a billionth of their largest number. */
export function isSameMatrix(a: Readonly<Matrix>, b: Readonly<Matrix>): boolean {
  let size = 1e-12;
  for (let i = 0; i < 16; i++) size = Math.max(size, Math.abs(a[i]), Math.abs(b[i]));
  for (let i = 0; i < 16; i++) if (!(Math.abs(a[i] - b[i]) <= 1e-9 * size)) return false;
  return true;
}

/**
 * Whether a matrix mirrors: the determinant of its 3×3 part is negative.
 * @param mix how much of it: what is left of 1 is the identity. @param at where it begins among packed ones.
 */
export function isMirroring(m: Readonly<Matrix | Float32Array>, mix = 1, at = 0): boolean {
  const rest = 1 - mix;
  const a = m[at] * mix + rest,
    b = m[at + 1] * mix,
    c = m[at + 2] * mix;
  const d = m[at + 4] * mix,
    e = m[at + 5] * mix + rest,
    f = m[at + 6] * mix;
  const g = m[at + 8] * mix,
    h = m[at + 9] * mix,
    i = m[at + 10] * mix + rest;
  return a * (e * i - f * h) - d * (b * i - c * h) + g * (b * f - c * e) < 0;
}

/**
 * Transforms packed xyz values by `m`. `positions`: as points; `directions`: without translation;
 * `normals`: by the inverse transpose, then to length 1. `out` may be `xyz`. A matrix that cannot be inverted
 * turns normals by its plain 3×3 part.
 */
export function transformPacked(
  out: Float32Array,
  xyz: Readonly<Float32Array>,
  m: Readonly<Matrix>,
  as: 'position' | 'direction' | 'normal',
): Float32Array {
  let t: Readonly<Matrix> = m;
  if (as === 'normal') {
    const inverse = identity();
    if (invert(inverse, m)) {
      t = Float64Array.of(
        inverse[0],
        inverse[4],
        inverse[8],
        0,
        inverse[1],
        inverse[5],
        inverse[9],
        0,
        inverse[2],
        inverse[6],
        inverse[10],
        0,
        0,
        0,
        0,
        1,
      );
    }
  }
  const move = as === 'position' ? 1 : 0;
  const t12 = t[12] * move,
    t13 = t[13] * move,
    t14 = t[14] * move;
  const t0 = t[0],
    t1 = t[1],
    t2 = t[2],
    t4 = t[4],
    t5 = t[5],
    t6 = t[6],
    t8 = t[8],
    t9 = t[9],
    t10 = t[10];
  const unit = as === 'normal';
  for (let i = 0; i < xyz.length; i += 3) {
    const x = xyz[i],
      y = xyz[i + 1],
      z = xyz[i + 2];
    let ox = t0 * x + t4 * y + t8 * z + t12;
    let oy = t1 * x + t5 * y + t9 * z + t13;
    let oz = t2 * x + t6 * y + t10 * z + t14;
    if (unit) {
      const l = Math.sqrt(ox * ox + oy * oy + oz * oz);
      const f = l > 0 ? 1 / l : 0;
      ox *= f;
      oy *= f;
      oz *= f;
    }
    out[i] = ox;
    out[i + 1] = oy;
    out[i + 2] = oz;
  }
  return out;
}
