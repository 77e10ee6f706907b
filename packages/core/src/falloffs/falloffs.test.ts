import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeCurves } from '../curves/curves.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { identity, invert } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { compileResponse, respond, RESPONSE_PRESETS } from '../maths/response.ts';
import { randomFrom } from '../maths/random.ts';
import type { Vec3 } from '../maths/vector.ts';
import { beyondReach } from './beyond.ts';
import { distanceOf, type DistanceFalloff } from './distance.ts';
import {
  FALLOFF_SHAPES,
  falloffWords,
  gaugeAt,
  MIX_WAYS,
  outlineOf,
  weigh,
  weightAt,
  type Falloff,
  type FalloffShape,
} from './index.ts';

const number = fc.double({ min: -3, max: 3, noNaN: true });

/** Whether a place is in a shape grown `d` times, told by what the shape is. */
function isInside(shape: FalloffShape, r: number, d: number, x: number, y: number, z: number): boolean {
  const across = Math.hypot(x, z);
  switch (shape) {
    case 'sphere':
      return Math.hypot(x, y, z) <= d;
    case 'box': {
      const half = d * (1 - r);
      return Math.hypot(...[x, y, z].map((v) => Math.max(0, Math.abs(v) - half))) <= d * r + (r === 0 ? 1e-12 : 0);
    }
    case 'cylinder':
      return across <= d && Math.abs(y) <= d;
    case 'cone':
      return y >= -d && across <= (d - y) / 2;
    case 'capsule':
      return Math.hypot(across, Math.max(0, Math.abs(y) - d / 2)) <= d / 2;
    case 'plane':
      return y <= d;
  }
}

const shape = (kind: FalloffShape, parts: Partial<Extract<Falloff, { type: 'shape' }>> = {}): Falloff => {
  const world = parts.world ?? identity();
  const inverse = identity();
  invert(inverse, world);
  return { type: 'shape', shape: kind, rounding: 0, world, inverse, fade: { inner: 0.25, outer: 1, invert: false }, ...parts };
};

describe('shapes', () => {
  test('the gauge is the least size at which a place is inside', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...FALLOFF_SHAPES),
        fc.constantFrom(0, 0.3, 0.8, 1),
        number,
        number,
        number,
        (s, r, x, y, z) => {
          const d = gaugeAt(s, r, x, y, z);
          if (s === 'plane') return void expect(d).toBe(y);
          expect(isInside(s, r, d * (1 + 1e-7) + 1e-9, x, y, z)).toBe(true);
          if (d > 1e-3) expect(isInside(s, r, d * (1 - 1e-6), x, y, z)).toBe(false);
          expect(gaugeAt(s, r, 2 * x, 2 * y, 2 * z)).toBeCloseTo(2 * d, 9);
        },
      ),
      { numRuns: 3000 },
    );
  });

  test('a weight is that of the place in the locator’s space: moved, turned, sized unevenly', () => {
    const world = compose([1, 2, -1], [0.4, 1, -0.3], 'xyz', [2, 0.5, 1.5]);
    const f = shape('sphere', { world, fade: { inner: 0.2, outer: 1, response: RESPONSE_PRESETS['Ease up'], invert: false } });
    const inverse = identity();
    invert(inverse, world);
    const response = compileResponse(RESPONSE_PRESETS['Ease up']);
    fc.assert(
      fc.property(number, number, number, (a, b, c) => {
        const [x, y, z] = [a, b, c].map(Math.fround);
        const q = [0, 1, 2].map((k) => inverse[k] * x + inverse[4 + k] * y + inverse[8 + k] * z + inverse[12 + k]);
        const t = Math.min(1, Math.max(0, (1 - Math.hypot(...q)) / 0.8));
        expect(weightAt(f, x, y, z)).toBeCloseTo(respond(response, t), 5);
      }),
    );
  });

  test('the drawn boundaries have the weights they stand for', () => {
    for (const kind of FALLOFF_SHAPES) {
      const world = compose([1, 0, 2], [0.2, 0.5, 1], 'xyz', [1.5, 0.7, 1]);
      const { inner, outer } = outlineOf(
        shape(kind, { world, rounding: kind === 'box' ? 0.4 : 0, fade: { inner: 0.3, outer: 0.9, invert: false } }),
      );
      expect(inner.length).toBeGreaterThan(20);
      const soft = (low: number, high: number) =>
        shape(kind, { world, rounding: kind === 'box' ? 0.4 : 0, fade: { inner: low, outer: high, invert: false } });
      const at = (f: Falloff, p: Float32Array) => weigh(f, p, new Float32Array(p.length / 3));
      // Full just inside, nothing just outside.
      expect(Math.min(...at(soft(0.301, 0.5), inner))).toBe(1);
      expect(Math.max(...at(soft(0.3, 0.899), outer))).toBe(0);
    }
  });

  test('the drawn boundaries of distances to geometry are at those distances', () => {
    const fade = { inner: 0.15, outer: 0.5, invert: false };
    const ball = makeSphere(1, 12, 16);
    const bent = makeCurves([
      { type: 'poly', closed: false, positions: Float32Array.of(0, 0, 0, 1, 0, 0, 1, 2, 0), width: Float32Array.of(1, 1, 2) },
    ]);
    const cases: [DistanceFalloff, number][] = [
      [{ type: 'surface', mesh: ball, on: 'faces', signed: false, fade }, 1e-4],
      [{ type: 'surface', mesh: ball, on: 'faces', signed: true, fade: { ...fade, inner: -0.4 } }, 1e-4],
      [{ type: 'surface', mesh: ball, on: 'edges', signed: false, fade }, 1e-3],
      [{ type: 'surface', mesh: ball, on: 'points', signed: false, fade }, 1e-3],
      [{ type: 'curve', curves: bent, useWidth: false, fade }, 1e-4],
      [{ type: 'curve', curves: bent, useWidth: true, fade }, 1e-3],
    ];
    for (const [f, by] of cases) {
      const outline = outlineOf(f);
      for (const end of ['inner', 'outer'] as const) {
        const lines = outline[end];
        expect(lines.length, `${f.type} ${end}`).toBeGreaterThan(300);
        const distance = distanceOf(f);
        const off = Array.from({ length: lines.length / 3 }, (_, i) =>
          Math.abs(distance(lines[3 * i], lines[3 * i + 1], lines[3 * i + 2], Infinity) - f.fade[end]),
        );
        // Where two parts of the geometry are as near, the surface has an edge, which lines may cut off by a little.
        off.sort((a, b) => a - b);
        expect(off[Math.floor(off.length * 0.95)], `${f.type} ${end}`).toBeLessThan(by);
        // Where the width of the nearest place jumps, so does the boundary.
        expect(off[off.length - 1], `${f.type} ${end}`).toBeLessThan(f.type === 'curve' && f.useWidth ? 0.2 : 0.02);
      }
    }
    // Nothing is at distance 0 from a surface but itself.
    const flat: Falloff = {
      type: 'surface',
      mesh: ball,
      on: 'faces',
      signed: false,
      fade: { ...fade, inner: 0 },
    };
    expect(outlineOf(flat).inner.length).toBe(0);
  });

  test('ends in one place make a step; inverted is one minus; places that are no numbers weigh nothing', () => {
    const step = shape('sphere', { fade: { inner: 0.5, outer: 0.5, invert: false } });
    expect([weightAt(step, 0.49, 0, 0), weightAt(step, 0.51, 0, 0)]).toEqual([1, 0]);
    const inverted = shape('sphere', { fade: { inner: 0.25, outer: 1, invert: true } });
    expect(weightAt(inverted, 0.4, 0, 0)).toBeCloseTo(1 - weightAt(shape('sphere'), 0.4, 0, 0), 6);
    expect(weightAt(shape('sphere'), NaN, 0, 0)).toBe(0);
  });
});

describe('mixing', () => {
  const OPS: Record<string, (a: number, b: number) => number> = {
    add: (a, b) => a + b,
    subtract: (a, b) => a - b,
    multiply: (a, b) => a * b,
    larger: Math.max,
    smaller: Math.min,
    screen: (a, b) => 1 - (1 - a) * (1 - b),
    replace: (_, b) => b,
  };

  test('is the formula, in order, with strengths and a floor, over any tree', () => {
    const weight = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        weight,
        fc.array(fc.tuple(weight, weight, fc.constantFrom(...MIX_WAYS)), { maxLength: 7 }),
        weight,
        (base, parts, floor) => {
          const mixed: Falloff = {
            type: 'mix',
            base: { type: 'flat', weight: base },
            floor,
            parts: parts.map(([w, strength, way]) => ({ falloff: { type: 'flat', weight: w }, strength, way })),
          };
          let known = base;
          let count = 1;
          for (const [w, strength, way] of parts) {
            if (way === 'average') {
              count += strength;
              known += ((w - known) * strength) / count;
            } else known += strength * (OPS[way](known, w) - known);
          }
          // More points than are weighed at a time.
          const out = weigh(mixed, new Float32Array(3 * 1500), new Float32Array(1500));
          const expected = Math.fround(Math.max(floor, Math.min(1, known)));
          expect(out[0]).toBeCloseTo(expected, 6);
          expect(out.every((w) => w === out[0])).toBe(true);
        },
      ),
      { numRuns: 200 },
    );
  });

  test('the average of several is their weighted mean', () => {
    const flat = (weight: number): Falloff => ({ type: 'flat', weight });
    const parts = [0.2, 0.9].map((w) => ({ falloff: flat(w), way: 'average' as const, strength: 1 }));
    expect(weightAt({ type: 'mix', base: flat(0.4), parts, floor: 0 }, 0, 0, 0)).toBeCloseTo(0.5, 6);
    expect(falloffWords({ type: 'mix', base: flat(0.4), parts, floor: 0 })).toContain('average 1 × (0.2 everywhere)');
  });
});

describe('by distance', () => {
  const ball = makeSphere(1, 48, 64);
  const fade = { inner: 0, outer: 1, invert: false };

  test('to a closed surface: inside counts as full, outside by how far', () => {
    const f: Falloff = { type: 'surface', mesh: ball, on: 'faces', signed: true, fade };
    expect(weightAt(f, 0.2, 0.1, 0)).toBe(1);
    expect(weightAt(f, 1.5, 0, 0)).toBeCloseTo(0.5, 2);
    expect(weightAt({ ...f, signed: false }, 0.2, 0, 0)).toBeCloseTo(0.2, 2);
    expect(weightAt(f, 2.5, 0, 0)).toBe(0);
  });

  test('to a curve, by its width; to the nearest point with an attribute', () => {
    const curves = makeCurves([{ type: 'poly', closed: false, positions: [0, 0, 0, 4, 0, 0], width: [1, 2] }]);
    const f: Falloff = { type: 'curve', curves, useWidth: true, fade };
    expect(weightAt(f, 0, 0.5, 0)).toBeCloseTo(0.5, 5);
    expect(weightAt(f, 4, 0.5, 0)).toBeCloseTo(0.75, 5);
    const values = Float32Array.from({ length: ball.topology.pointCount }, (_, i) => (ball.positions[i * 3 + 1] > 0 ? 1 : 0));
    const stored: Falloff = { type: 'attribute', mesh: ball, values, invert: false };
    expect([weightAt(stored, 0, 3, 0), weightAt(stored, 0, -3, 0)]).toEqual([1, 0]);
  });

  test('noise stays between 0 and 1 and depends on the seed', () => {
    const noise = (seed: number): Falloff => ({
      type: 'noise',
      frequency: 3,
      seed,
      offset: [0, 0, 0],
      octaves: 3,
      contrast: 3,
      invert: false,
    });
    const [a, b] = [1, 2].map((s) => weigh(noise(s), ball.positions, new Float32Array(ball.topology.pointCount)));
    expect(Math.min(...a)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...a)).toBeLessThanOrEqual(1);
    expect(a).not.toEqual(b);
  });
});

describe('how far beyond a falloff points begin', () => {
  const random = randomFrom(7);
  const some = (size: number): Vec3 => [0, 0, 0].map(() => (random() - 0.5) * size) as unknown as Vec3;
  const between = (a: Vec3, b: Vec3, share: number): Vec3 => a.map((v, i) => v + (b[i] - v) * share) as unknown as Vec3;

  test.each(FALLOFF_SHAPES)('of a %s, moved, turned, stretched and mirrored: so much nearer, and a point is within', (kind) => {
    for (let k = 0; k < 200; k++) {
      const scale = some(2).map((v) => v + Math.sign(v) * 0.3) as unknown as Vec3;
      const world = compose(some(4), some(360), 'xyz', scale);
      const f = shape(kind, { world, rounding: random(), fade: { inner: 0.1, outer: 0.2 + random(), invert: false } });
      const p = some(14);
      const [beyond, isWithin] = [beyondReach(f, Float32Array.of(...p)), weightAt(f, ...p) > 0];
      expect(beyond === undefined, `${k}`).toBe(isWithin);
      if (beyond === undefined || f.type !== 'shape') continue;
      // To the centre; of a plane, straight to it.
      const m = f.inverse;
      const slope = Math.hypot(m[1], m[5], m[9]);
      const centre: Vec3 =
        kind === 'plane'
          ? (p.map((v, i) => v - (20 * m[1 + 4 * i]) / slope) as unknown as Vec3)
          : [world[12], world[13], world[14]];
      const way = Math.hypot(...p.map((v, i) => v - centre[i]));
      expect(weightAt(f, ...between(p, centre, (beyond - 2e-4) / way)), `${k}`).toBe(0);
      expect(weightAt(f, ...between(p, centre, (beyond + 2e-4) / way)), `${k}`).toBeGreaterThan(0);
    }
  });

  test('of a surface: the distance to it; none where it has no outer end, and points that are nowhere do not count', () => {
    const f: Falloff = {
      type: 'surface',
      mesh: makeSphere(1, 24, 48),
      on: 'points',
      signed: false,
      fade: { inner: 0, outer: 0.5, invert: false },
    };
    expect(beyondReach(f, Float32Array.of(NaN, 0, 0, 0, 4, 0, 0, 3, 0))).toBeCloseTo(1.5, 6);
    expect(beyondReach(f, Float32Array.of(0, 4, 0, 0, 1.4, 0))).toBeUndefined();
    expect(beyondReach({ ...f, fade: { ...f.fade, invert: true } }, Float32Array.of(0, 4, 0))).toBeUndefined();
    expect(beyondReach({ type: 'flat', weight: 0 }, Float32Array.of(0, 4, 0))).toBeUndefined();
  });
});
