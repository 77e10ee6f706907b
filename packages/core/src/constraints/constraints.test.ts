import fc from 'fast-check';
import { mat4, quat } from 'gl-matrix';
import { describe, expect, test } from 'vitest';
import { blendMatrices, dialWeights, meanRotation } from '../maths/blend.ts';
import { identity, multiply, positionOf, product, transformPoint, translation, type Matrix } from '../maths/matrix.ts';
import { assemble, compose, factorise } from '../maths/factors.ts';
import { quaternionFromEuler, ROTATION_ORDERS, type Quaternion } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import { aimRotation, turnBetween } from '../maths/aim.ts';
import { aimWith, between, follow, handOver, inverseOf, type TakenSnapshot } from './constraints.ts';
import { limited } from './limits.ts';

const number = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
const triple = (low: number, high: number) => fc.tuple(number(low, high), number(low, high), number(low, high));
/** Matrices with any turn, positive sizes and some shear. */
const anyMatrix = fc
  .tuple(triple(-10, 10), triple(-3.1, 3.1), triple(0.2, 4), triple(-0.5, 0.5), fc.constantFrom(...ROTATION_ORDERS))
  .map(([t, r, s, h, order]): Matrix => compose(t, r, order, s, h));
const anySnapshot = fc
  .tuple(fc.array(anyMatrix, { minLength: 2, maxLength: 4 }), anyMatrix, anyMatrix, anyMatrix, triple(-2, 2))
  .map(([drivers, parent, carrier, child, pivot]): TakenSnapshot => ({
    drivers,
    parent,
    space: product(parent, carrier),
    child,
    pivot,
  }));

/** Every entry equal, measured by the largest of both. */
function expectSame(a: Readonly<Matrix>, b: Readonly<Matrix>, digits = 1e-9) {
  const size = Math.max(1, ...Array.from(a, Math.abs), ...Array.from(b, Math.abs));
  a.forEach((v, i) => expect(Math.abs(v - b[i])).toBeLessThan(size * digits));
}

describe('constraints', () => {
  test('making one never moves the object: at the snapshot, the carrier is the one it had', () => {
    fc.assert(
      fc.property(anySnapshot, number(0, 3), (s, dial) => {
        const space = (c: Matrix | undefined) => product(s.parent, c as Matrix);
        expectSame(space(follow(s.drivers[0], s, s.parent)), s.space, 1e-8);
        const weights = dialWeights(dial, s.drivers.length);
        expectSame(space(handOver(s.drivers, weights, s, s.parent)), s.space, 1e-8);
        expectSame(space(between(s.drivers, weights, s, s.parent, true)), s.space, 1e-8);
        const target = { target: [20, 3, 5] as Vec3, up: [0.1, 1, 0] as Vec3 };
        expectSame(space(aimWith(target, target, s, s.parent, { aim: 'x', up: 'y' })), s.space, 1e-8);
        const above = { target: target.target, above: [-3, 40, 2] as Vec3 };
        expectSame(space(aimWith(above, above, s, s.parent, { aim: 'x', up: 'y' })), s.space, 1e-8);
        expectSame(
          space(aimWith({ target: target.target }, { target: target.target }, s, s.parent, { aim: 'x', up: 'y' })),
          s.space,
          1e-8,
        );
      }),
    );
  });

  test('whatever the drivers and the parent do, channels stay free and the offset to the driver stays', () => {
    fc.assert(
      fc.property(anySnapshot, anyMatrix, anyMatrix, anyMatrix, (s, driver, parent, channels) => {
        const world = product(parent, follow(driver, s, parent) as Matrix, channels);
        // As if the object hung under the driver: D · (D₀⁻¹ · S₀ · L).
        expectSame(world, product(driver, inverseOf(s.drivers[0]) as Matrix, s.space, channels), 1e-7);
        const drivers = s.drivers.map((_, i) => (i === 0 ? driver : s.drivers[i]));
        const only = drivers.map((_, i) => (i === 0 ? 1 : 0));
        expectSame(product(parent, handOver(drivers, only, s, parent) as Matrix, channels), world, 1e-7);
      }),
    );
  });

  test('hand-over has no jump at its ends or between them', () => {
    const s: TakenSnapshot = {
      drivers: [translation([0, 5, 0]), compose([30, 2, 0], [0, 1.5, 0.2], 'xyz', [1, 1, 1])],
      parent: identity(),
      space: identity(),
      child: translation([0, 4, 0]),
      pivot: [0, 0.2, 0],
    };
    const drivers = [compose([1, 6, 2], [0.3, 2, 0], 'xyz', [1, 1, 1]), compose([28, 3, 1], [0, -1.2, 0.4], 'zxy', [1, 1, 1])];
    const at = (dial: number) => handOver(drivers, dialWeights(dial, 2), s, s.parent) as Matrix;
    const stepOf = (n: number) => {
      let most = 0;
      for (let i = 0; i < n; i++) {
        const [a, b] = [at(i / n), at((i + 1) / n)];
        most = Math.max(
          most,
          Math.hypot(
            ...[0, 1, 2].map(
              (k) =>
                transformPoint(multiply(identity(), b, s.child), [0, 0, 0])[k] -
                transformPoint(multiply(identity(), a, s.child), [0, 0, 0])[k],
            ),
          ),
        );
      }
      return most;
    };
    expect(stepOf(800)).toBeLessThan(stepOf(100) / 4);
  });

  test('between two, the object moves half of what they move; it turns with their line by the least turn', () => {
    const s: TakenSnapshot = {
      drivers: [translation([0, 0, 0]), translation([4, 0, 0])],
      parent: identity(),
      space: identity(),
      child: translation([2, 0, 0]),
      pivot: [0, 0, 0],
    };
    const moved = [translation([0, 0, 0]), translation([0, 4, 0])];
    const plain = multiply(identity(), between(moved, [0.5, 0.5], s, s.parent) as Matrix, s.child);
    expect(positionOf(plain)).toEqual([0, 2, 0]);
    const turned = multiply(identity(), between(moved, [0.5, 0.5], s, s.parent, true) as Matrix, s.child);
    // +x of the object has become +y, its place is the same.
    [0, 1, 0].forEach((v, i) => expect(turned[i]).toBeCloseTo(v, 12));
    [0, 2, 0].forEach((v, i) => expect(turned[12 + i]).toBeCloseTo(v, 12));
    expect(positionOf(multiply(identity(), between(moved, [0, 0], s, s.parent) as Matrix, s.child))).toEqual([2, 0, 0]);
  });

  test('what cannot be inverted gives nothing instead of numbers that are none', () => {
    const flat = compose([0, 0, 0], [0, 0, 0], 'xyz', [1, 0, 1]);
    const s: TakenSnapshot = { drivers: [flat], parent: identity(), space: identity(), child: identity(), pivot: [0, 0, 0] };
    expect(follow(identity(), s, identity())).toBeUndefined();
    expect(follow(identity(), { ...s, drivers: [identity()] }, flat)).toBeUndefined();
  });
});

describe('aiming', () => {
  test('the axis points at the target and the other one up, as gl-matrix has it', () => {
    fc.assert(
      fc.property(triple(-9, 9), triple(-9, 9), (eye, target) => {
        const d = [0, 1, 2].map((i) => target[i] - eye[i]) as unknown as Vec3;
        fc.pre(Math.hypot(d[0], d[2]) > 0.1);
        // Their targetTo looks along −z.
        const theirs = mat4.targetTo(mat4.create(), eye, target, [0, 1, 0]);
        const ours = aimRotation(d, [0, 1, 0], { aim: '-z', up: 'y' }, 0);
        for (const i of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(ours[i]).toBeCloseTo(theirs[i], 5);
      }),
    );
  });

  test('the least turn takes one direction onto the other, opposite ones too, and is least', () => {
    fc.assert(
      fc.property(triple(-1, 1), triple(-1, 1), fc.boolean(), (a, b, opposite) => {
        const to: Vec3 = opposite ? [-a[0], -a[1], -a[2]] : b;
        fc.pre(Math.hypot(...a) > 0.01 && Math.hypot(...to) > 0.01);
        const m = turnBetween(a, to);
        const got = transformPoint(m, a).map((v) => v / Math.hypot(...a));
        got.forEach((v, i) => expect(v).toBeCloseTo(to[i] / Math.hypot(...to), 6));
        const cosine = (a[0] * to[0] + a[1] * to[1] + a[2] * to[2]) / (Math.hypot(...a) * Math.hypot(...to));
        // Trace of a rotation: 1 + 2 cos.
        expect(m[0] + m[5] + m[10]).toBeCloseTo(1 + 2 * cosine, 5);
      }),
    );
  });
});

describe('blends', () => {
  const anyTurn = triple(-3.1, 3.1).map((r) => quaternionFromEuler(r, 'xyz'));

  test('the mean of many rotations does not depend on their order, nor on the sign of a quaternion', () => {
    const near = fc.array(
      triple(-0.7, 0.7).map((r) => quaternionFromEuler(r, 'zxy')),
      { minLength: 3, maxLength: 6 },
    );
    fc.assert(
      fc.property(near, anyTurn, fc.infiniteStream(number(0.05, 1)), (turns, base, sizes) => {
        const all = turns.map(
          (q) => Array.from(quat.multiply(quat.create(), base as never, q as never)) as unknown as Quaternion,
        );
        const raw = turns.map(() => sizes.next().value as number);
        const sum = raw.reduce((a, b) => a + b);
        const weights = raw.map((w) => w / sum);
        const mean = meanRotation(all, weights);
        const flipped = all.map((q, i): Quaternion => (i % 2 ? [-q[0], -q[1], -q[2], -q[3]] : q)).reverse();
        const again = meanRotation(flipped, [...weights].reverse());
        const cosine = mean.reduce((s, v, i) => s + v * again[i], 0);
        expect(Math.abs(cosine)).toBeGreaterThan(1 - 1e-9);
      }),
    );
  });

  test('two rotations go the shortest way, as gl-matrix goes', () => {
    fc.assert(
      fc.property(anyTurn, anyTurn, number(0, 1), (a, b, t) => {
        const ours = meanRotation([a, b], [1 - t, t]);
        const theirs = quat.slerp(quat.create(), a as never, b as never, t);
        const cosine = Math.abs(ours.reduce((s, v, i) => s + v * theirs[i], 0));
        fc.pre(Math.abs(quat.dot(a as never, b as never)) > 1e-3);
        expect(cosine).toBeGreaterThan(1 - 1e-5);
      }),
    );
  });

  test('a blend of a matrix with itself is that matrix, sheared and mirrored too', () => {
    fc.assert(
      fc.property(anyMatrix, number(0, 1), fc.boolean(), (m, t, mirrored) => {
        const one = mirrored ? product(m, compose([0, 0, 0], [0, 0, 0], 'xyz', [-1, 1, 1])) : m;
        expectSame(blendMatrices([one, one], [1 - t, t]) as Matrix, one, 1e-9);
        expectSame(assemble(factorise(one)), one, 1e-12);
      }),
    );
    expect(blendMatrices([identity(), identity()], [0, 0])).toBeUndefined();
  });
});

test('limits hold, meet the straight part without a kink, and are ordered', () => {
  const limit = { min: -1, max: 2, soft: 0.5 };
  fc.assert(
    fc.property(number(-50, 50), number(-50, 50), (a, b) => {
      const [x, y] = [limited(a, limit), limited(b, limit)];
      expect(x).toBeGreaterThanOrEqual(-1);
      expect(x).toBeLessThanOrEqual(2);
      if (a < b) expect(x).toBeLessThanOrEqual(y);
    }),
  );
  expect(limited(1.2, limit)).toBe(1.2);
  const slope = (limited(1.5 + 1e-6, limit) - limited(1.5 - 1e-6, limit)) / 2e-6;
  expect(slope).toBeCloseTo(1, 5);
  expect(limited(7, { min: 3, max: 1, soft: 0 })).toBe(3);
});
