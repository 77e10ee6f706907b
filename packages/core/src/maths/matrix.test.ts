import fc from 'fast-check';
import { mat4, quat, vec3 } from 'gl-matrix';
import { describe, expect, test } from 'vitest';
import { identity, invert, multiply, product, transformPacked, transformPoint, translation, type Matrix } from './matrix.ts';
import { compose, decompose } from './factors.ts';
import {
  eulerFromRotation,
  quaternionFromEuler,
  quaternionFromRotation,
  rotationFromQuaternion,
  ROTATION_ORDERS,
  slerp,
} from './rotation.ts';
import type { Vec3 } from './vector.ts';

const number = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
const vector = (low: number, high: number) => fc.tuple(number(low, high), number(low, high), number(low, high));
const anyMatrix = fc.array(number(-5, 5), { minLength: 16, maxLength: 16 }).map((a) => Float64Array.from(a));
const order = fc.constantFrom(...ROTATION_ORDERS);
const signed = fc.tuple(number(0.05, 20), fc.boolean()).map(([v, minus]) => (minus ? -v : v));

const norm = (m: Readonly<Matrix>) => Math.hypot(...m);
const distance = (a: Readonly<Matrix>, b: Readonly<Matrix>) => Math.hypot(...a.map((v, i) => v - b[i]));

describe('matrices', () => {
  test('multiply is gl-matrix multiply, also onto its own inputs', () => {
    fc.assert(
      fc.property(anyMatrix, anyMatrix, (a, b) => {
        const expected = mat4.multiply(mat4.create(), a as unknown as mat4, b as unknown as mat4);
        expect(distance(multiply(identity(), a, b), Float64Array.from(expected))).toBeLessThan(1e-4);
        const plain = multiply(identity(), a, b);
        expect(Array.from(multiply(Float64Array.from(a), Float64Array.from(a), b))).toEqual(Array.from(plain));
        const ontoA = Float64Array.from(a);
        const ontoB = Float64Array.from(b);
        expect(Array.from(multiply(ontoA, ontoA, b))).toEqual(Array.from(plain));
        expect(Array.from(multiply(ontoB, a, ontoB))).toEqual(Array.from(plain));
      }),
    );
  });

  test('the last factor of a product is applied first', () => {
    const m = product(translation([1, 0, 0]), compose([0, 0, 0], [0, 0, Math.PI / 2], 'xyz', [1, 1, 1]));
    const p = transformPoint(m, [1, 0, 0]);
    expect(p[0]).toBeCloseTo(1);
    expect(p[1]).toBeCloseTo(1);
  });

  test('an inverse undoes, and a matrix without one is left alone', () => {
    fc.assert(
      fc.property(vector(-9, 9), vector(-3, 3), order, fc.tuple(signed, signed, signed), (t, angles, o, s) => {
        const m = compose(t, angles, o, s);
        const inverse = identity();
        expect(invert(inverse, m)).toBe(true);
        expect(distance(multiply(identity(), m, inverse), identity())).toBeLessThan(1e-9 * Math.max(1, norm(m) * norm(inverse)));
      }),
    );
    const flat = compose([1, 2, 3], [0, 0, 0], 'xyz', [1, 0, 1]);
    const untouched = Float64Array.from({ length: 16 }, () => 7);
    expect(invert(untouched, flat)).toBe(false);
    expect(untouched.every((v) => v === 7)).toBe(true);
    expect(invert(identity(), Float64Array.from(identity()).fill(NaN))).toBe(false);
  });

  test('a flat matrix is taken apart into numbers of its own size', () => {
    // Two axes along one line, up to the dust of computing: no shear without end.
    const m = Float64Array.of(1, 2, 0, 0, 2, 4 + 1e-15, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1);
    const d = decompose(m, 'xyz');
    expect(Math.max(...[...d.scale, ...d.shear].map(Math.abs))).toBeLessThan(5);
    expect(d.scale[1]).toBe(0);
    expect(d.translate).toEqual([5, 6, 7]);
    expect(decompose(new Float64Array(16), 'zyx').scale.map(Math.abs)).toEqual([0, 0, 0]);
  });

  test('compose agrees with gl-matrix, and decompose takes it apart in all six orders', () => {
    fc.assert(
      fc.property(vector(-9, 9), vector(-Math.PI, Math.PI), order, vector(0.1, 9), (t, angles, o, s) => {
        const m = compose(t, angles, o, s);
        const q = quat.create();
        for (const letter of o) {
          const axis = 'xyz'.indexOf(letter);
          const unit = vec3.fromValues(axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0);
          quat.multiply(q, quat.setAxisAngle(quat.create(), unit, angles[axis]), q);
        }
        const expected = mat4.fromRotationTranslationScale(mat4.create(), q, t, s);
        expect(distance(m, Float64Array.from(expected))).toBeLessThan(1e-4 * norm(m));
        const d = decompose(m, o);
        expect(distance(compose(d.translate, d.anglesInRadians, o, d.scale), m)).toBeLessThan(1e-7 * norm(m));
      }),
    );
  });

  test('shear and mirroring are kept apart from turns; a negative determinant flips all three scales', () => {
    fc.assert(
      fc.property(vector(-3, 3), order, fc.tuple(signed, signed, signed), vector(-1, 1), (angles, o, s, h) => {
        const shear = Float64Array.of(1, 0, 0, 0, h[0], 1, 0, 0, h[1], h[2], 1, 0, 0, 0, 0, 1);
        const sizes = compose([0, 0, 0], [0, 0, 0], 'xyz', s);
        const m = product(compose([1, 2, 3], angles, o, [1, 1, 1]), shear, sizes);
        const d = decompose(m, o);
        const back = Float64Array.of(1, 0, 0, 0, d.shear[0], 1, 0, 0, d.shear[1], d.shear[2], 1, 0, 0, 0, 0, 1);
        const again = product(
          compose(d.translate, d.anglesInRadians, o, [1, 1, 1]),
          back,
          compose([0, 0, 0], [0, 0, 0], 'xyz', d.scale),
        );
        expect(distance(again, m)).toBeLessThan(1e-7 * norm(m));
        const mirrored = s[0] * s[1] * s[2] < 0;
        expect(d.scale.every((v) => v < 0)).toBe(mirrored);
      }),
    );
  });

  test('gimbal lock gives angles that make the same rotation', () => {
    for (const o of ROTATION_ORDERS) {
      for (const side of [1, -1]) {
        const angles: [number, number, number] = [0.3, 0.4, 0.5];
        angles['xyz'.indexOf(o[1])] = (side * Math.PI) / 2;
        const r = rotationFromQuaternion(quaternionFromEuler(angles, o));
        const again = rotationFromQuaternion(quaternionFromEuler(eulerFromRotation(r, o), o));
        expect(distance(r, again)).toBeLessThan(1e-6);
      }
    }
  });

  test('quaternions and rotations are two ways of saying the same; slerp goes the short way', () => {
    fc.assert(
      fc.property(vector(-4, 4), vector(-4, 4), order, number(0, 1), (a, b, o, t) => {
        const qa = quaternionFromEuler(a, o);
        const again = quaternionFromRotation(rotationFromQuaternion(qa));
        expect(Math.abs(qa[0] * again[0] + qa[1] * again[1] + qa[2] * again[2] + qa[3] * again[3])).toBeCloseTo(1, 7);
        const qb = quaternionFromEuler(b, o);
        const expected = quat.slerp(quat.create(), qa as unknown as quat, qb as unknown as quat, t);
        const mine = slerp(qa, qb, t);
        const same = Math.abs(mine.reduce((sum, v, i) => sum + v * expected[i], 0));
        expect(same).toBeCloseTo(1, 4);
      }),
    );
  });

  test('packed values follow their role: normals stay square to their surface under uneven scale', () => {
    const m = compose([5, 6, 7], [0.3, 0.5, 0.7], 'yzx', [1, 4, 0.5]);
    const tangent = Float32Array.of(1, 1, 0);
    const normal = Float32Array.of(1, -1, 0).map((v) => v / Math.SQRT2);
    const t = transformPacked(new Float32Array(3), tangent, m, 'direction');
    const n = transformPacked(new Float32Array(3), normal, m, 'normal');
    expect(t[0] * n[0] + t[1] * n[1] + t[2] * n[2]).toBeCloseTo(0, 5);
    expect(Math.hypot(...n)).toBeCloseTo(1, 6);
    const p = Float32Array.of(1, 2, 3, 0, 0, 0);
    const moved = transformPacked(p, p, m, 'position');
    expect(moved).toBe(p);
    const expected: Vec3 = transformPoint(m, [1, 2, 3]);
    expected.forEach((v, i) => expect(moved[i]).toBeCloseTo(v, 4));
    const flat = transformPacked(new Float32Array(3), normal, compose([0, 0, 0], [0, 0, 0], 'xyz', [1, 1, 0]), 'normal');
    expect(flat.every(Number.isFinite)).toBe(true);
  });
});
