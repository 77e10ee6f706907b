import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { makeTube } from '../geometry/solids.ts';
import { isClosed } from '../nearest/signed.ts';
import { appendPoint, controlPoint, insertPoint, movePart } from './edit-record.ts';
import {
  circleSection,
  curvesOf,
  framesOf,
  layAlong,
  makeCurves,
  placeOn,
  respace,
  reverseCurves,
  smoothHandles,
  strandSections,
  sweepSections,
  tracksOf,
  type FrameOptions,
  type LayOptions,
  type LayWeight,
  type Rail,
  type Track,
} from './index.ts';

const UP: FrameOptions = { by: 'least', up: [0, 1, 0] };
const railOf = (track: Track, options = UP): Rail => ({ track, frames: framesOf(track, options) });
const trackOf = (c: ReturnType<typeof makeCurves>) => tracksOf(c)[0];
const at = (a: ArrayLike<number>, i: number) => [a[i * 3], a[i * 3 + 1], a[i * 3 + 2]];
const dot = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** A circle in the ground plane, of Bézier arcs. */
function ring(radius: number, points = 8) {
  const reach = (4 / 3) * Math.tan(Math.PI / (2 * points)) * radius;
  const angles = Array.from({ length: points }, (_, i) => (i / points) * 2 * Math.PI);
  return makeCurves([
    {
      type: 'bezier',
      closed: true,
      positions: angles.flatMap((a) => [Math.cos(a) * radius, 0, Math.sin(a) * radius]),
      handles: angles.flatMap((a) => [
        Math.sin(a) * reach,
        0,
        -Math.cos(a) * reach,
        -Math.sin(a) * reach,
        0,
        Math.cos(a) * reach,
      ]),
    },
  ]);
}

const helix = (turns: number, rise: number, count: number) =>
  makeCurves([
    {
      type: 'poly',
      closed: false,
      positions: Array.from({ length: count }, (_, i) => {
        const a = (i / (count - 1)) * turns * 2 * Math.PI;
        return [Math.cos(a), (rise * a) / (2 * Math.PI), Math.sin(a)];
      }).flat(),
    },
  ]);

describe('tracks', () => {
  test('the length of a circle is 2πr, and places along it are on it', () => {
    const track = trackOf(ring(2));
    expect(track.length / (4 * Math.PI)).toBeCloseTo(1, 5);
    for (let i = 0; i <= 100; i++) {
      const { position, tangent } = placeOn(track, (track.length * i) / 100);
      const angle = (i / 100) * 2 * Math.PI;
      expect(position[0]).toBeCloseTo(2 * Math.cos(angle), 4);
      expect(position[2]).toBeCloseTo(2 * Math.sin(angle), 4);
      expect(tangent[0]).toBeCloseTo(-Math.sin(angle), 2);
    }
  });

  test('a B-spline stays in the hull of its points and reaches its ends; a poly goes through all of them', () => {
    const positions = [0, 0, 0, 1, 1, 0, 2, -1, 0, 3, 0, 0];
    const spline = trackOf(makeCurves([{ type: 'b-spline', closed: false, positions }]));
    expect(at(spline.positions, 0)).toEqual([0, 0, 0]);
    expect(at(spline.positions, spline.count - 1)).toEqual([3, 0, 0]);
    expect(Math.max(...spline.positions)).toBeLessThanOrEqual(3);
    const poly = trackOf(makeCurves([{ type: 'poly', closed: true, positions }]));
    expect(poly.length).toBeCloseTo(Math.SQRT2 * 2 + Math.sqrt(5) + 3, 12);
  });

  test('points one over another, a cusp, one point, no length: numbers all the same', () => {
    for (const positions of [
      [1, 2, 3],
      [1, 2, 3, 1, 2, 3],
      [0, 0, 0, 1, 0, 0, 1, 0, 0, 2, 0, 0],
      [0, 0, 0, 1, 0, 0, 0, 0, 0],
    ])
      for (const type of ['poly', 'bezier', 'b-spline'] as const)
        for (const closed of [false, true]) {
          const track = trackOf(makeCurves([{ type, closed, positions }]));
          const { frames } = railOf(track);
          for (const array of [track.positions, track.tangents, track.lengths, frames.normals, frames.binormals])
            expect(array.every(Number.isFinite)).toBe(true);
          for (let i = 0; i < track.count; i++) {
            expect(dot(at(frames.normals, i), at(frames.normals, i))).toBeCloseTo(1, 6);
            expect(dot(at(frames.normals, i), at(track.tangents, i))).toBeCloseTo(0, 6);
          }
          expect(placeOn(track, 0.3).position.every(Number.isFinite)).toBe(true);
        }
  });

  test('respaced points are even in length, reversed curves run the other way', () => {
    const curves = smoothHandles(
      makeCurves([{ type: 'bezier', closed: false, positions: [0, 0, 0, 1, 2, 0, 4, 0, 1, 5, 1, 0] }]),
    );
    const track = trackOf(curves);
    const even = respace(curves, () => 40, 'poly');
    const { lengths, knots } = trackOf(even);
    const gaps = Array.from({ length: 39 }, (_, i) => lengths[knots[i + 1]] - lengths[knots[i]]);
    expect(Math.max(...gaps) / Math.min(...gaps)).toBeLessThan(1.02);
    const back = trackOf(reverseCurves(curves));
    for (const f of [0, 0.3, 0.8, 1])
      placeOn(back, back.length * f).position.forEach((v, k) =>
        expect(v).toBeCloseTo(placeOn(track, track.length * (1 - f)).position[k], 4),
      );
  });
});

describe('frames', () => {
  test('turn as little as they can: on a helix by the angle of its torsion', () => {
    const [turns, rise] = [3, 1.5];
    const track = trackOf(helix(turns, rise, 6001));
    const { normals } = framesOf(track, UP);
    const c = rise / (2 * Math.PI);
    const torsion = c / (1 + c * c);
    // Against the frame that follows the bend, least-turning frames turn back by torsion × length.
    const angleAt = (i: number) => {
      const inwards = [-track.positions[i * 3], 0, -track.positions[i * 3 + 2]];
      const t = at(track.tangents, i);
      const n = at(normals, i);
      const b = [
        t[1] * inwards[2] - t[2] * inwards[1],
        t[2] * inwards[0] - t[0] * inwards[2],
        t[0] * inwards[1] - t[1] * inwards[0],
      ];
      return Math.atan2(dot(n, b), dot(n, inwards));
    };
    // The helix is drawn left about y, so its torsion is negative.
    const turned = angleAt(5000) - angleAt(1000);
    const expected = torsion * (track.lengths[5000] - track.lengths[1000]);
    const rest = ((Math.abs(turned) - expected) % (2 * Math.PI)) + 0;
    expect(
      Math.min(Math.abs(rest), Math.abs(Math.abs(rest) - 2 * Math.PI), Math.abs(Math.abs(turned) + expected - 2 * Math.PI)),
    ).toBeLessThan(1e-3);
  });

  test('meet themselves on closed curves, in and out of a plane', () => {
    const knot = makeCurves([
      {
        type: 'b-spline',
        closed: true,
        positions: Array.from({ length: 24 }, (_, i) => {
          const a = (i / 24) * 2 * Math.PI;
          return [Math.cos(2 * a) * (2 + Math.cos(3 * a)), Math.sin(3 * a), Math.sin(2 * a) * (2 + Math.cos(3 * a))];
        }).flat(),
      },
    ]);
    for (const curves of [knot, ring(1)]) {
      const track = trackOf(curves);
      const { normals } = framesOf(track, UP);
      expect(dot(at(normals, 0), at(normals, track.count - 1))).toBeCloseTo(1, 8);
    }
  });

  test('with a rest, an unchanged closed curve has the frames of its rest', () => {
    const track = trackOf(ring(1));
    const rest = railOf(track, { ...UP, turns: 1 });
    const now = framesOf(track, { ...UP, rest });
    now.normals.forEach((v, i) => expect(v).toBeCloseTo(rest.frames.normals[i], 9));
  });
});

const LAY: LayOptions = {
  axis: 0,
  low: -1,
  span: 2,
  flip: false,
  middle: [0, 0],
  fit: false,
  start: 0,
  stretch: 1,
  overshoot: 'extend',
  rollStart: 0,
  rollEnd: 0,
  keepVolume: false,
};
const WHOLE: LayWeight = { data: Float32Array.of(1), step: 0 };
const laid = (p: Float32Array, now: Rail, rest: Rail | undefined, options: Partial<LayOptions>, weight?: Float32Array) =>
  layAlong(new Float32Array(p.length), p, now, rest, { ...LAY, ...options }, weight ? { data: weight, step: 1 } : WHOLE);

describe('laying along a curve', () => {
  const { positions } = makeSphere(1, 12, 16);

  test('an unchanged curve with its rest moves nothing, whatever the curve', () => {
    const number = fc.double({ min: -0.4, max: 0.4, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number), { minLength: 4, maxLength: 6 }), fc.boolean(), (bends, flip) => {
        const spine = bends.flatMap(([y, z], i) => [(i / (bends.length - 1)) * 2 - 1, y, z]);
        const curves = smoothHandles(makeCurves([{ type: 'bezier', closed: false, positions: spine }]));
        const rail = railOf(trackOf(curves));
        const out = laid(positions, rail, rail, { flip });
        for (let i = 0; i < out.length; i++) expect(Math.abs(out[i] - positions[i])).toBeLessThan(1e-6);
      }),
      { numRuns: 40 },
    );
  });

  test('on a straight line it is moved as a whole; stretched it keeps its volume', () => {
    const line = railOf(trackOf(makeCurves([{ type: 'poly', closed: false, positions: [5, 0, 0, 9, 0, 0] }])));
    const out = laid(positions, line, undefined, {});
    for (let i = 0; i < out.length; i += 3) {
      expect(out[i]).toBeCloseTo(positions[i] + 6, 5);
      expect(Math.hypot(out[i + 1], out[i + 2])).toBeCloseTo(Math.hypot(positions[i + 1], positions[i + 2]), 5);
    }
    const fitted = laid(positions, line, undefined, { fit: true, keepVolume: true });
    const radius = (p: Float32Array) =>
      Math.max(...Array.from({ length: p.length / 3 }, (_, i) => Math.hypot(p[i * 3 + 1], p[i * 3 + 2])));
    expect(radius(fitted)).toBeCloseTo(1 / Math.SQRT2, 4);
  });

  test('round a circle, points keep their distance from it; weights mix; the seam is passed without a jump', () => {
    const circle = railOf(trackOf(ring(4)));
    const out = laid(positions, circle, undefined, { overshoot: 'wrap', start: 0.4 });
    for (let i = 0; i < out.length; i += 3) {
      const away = Math.hypot(Math.hypot(out[i], out[i + 2]) - 4, out[i + 1]);
      expect(away).toBeCloseTo(Math.hypot(positions[i + 1], positions[i + 2]), 3);
    }
    const half = laid(
      positions,
      circle,
      undefined,
      { overshoot: 'wrap', start: 0.4 },
      new Float32Array(positions.length / 3).fill(0.5),
    );
    half.forEach((v, i) => expect(v).toBeCloseTo((positions[i] + out[i]) / 2, 5));
    const step = (start: number) => {
      const [a, b] = [start, start + 1e-4].map((s) => laid(positions, circle, undefined, { overshoot: 'wrap', start: s }));
      return Math.max(...a.map((v, i) => Math.abs(v - b[i])));
    };
    for (let s = 0.8; s < 1.2; s += 0.01) expect(step(s)).toBeLessThan(0.006);
  });
});

/** Volume inside a closed mesh by the divergence theorem: positive when faces face outwards. */
function volume(mesh: ReturnType<typeof sweepSections>): number {
  const { faceStarts, cornerPoints, faceCount } = mesh.topology;
  let sum = 0;
  for (let f = 0; f < faceCount; f++) {
    const [a, ...others] = Array.from(cornerPoints.slice(faceStarts[f], faceStarts[f + 1]), (p) => at(mesh.positions, p));
    for (let k = 0; k + 1 < others.length; k++) {
      const [b, c] = [others[k], others[k + 1]];
      sum += dot(a, [b[1] * c[2] - b[2] * c[1], b[2] * c[0] - b[0] * c[2], b[0] * c[1] - b[1] * c[0]]) / 6;
    }
  }
  return sum;
}

describe('sweeping', () => {
  const options = { rollStart: 0, rollEnd: 0, caps: true };

  test('a capped tube and a ring are closed, face outwards and have the volumes of cylinder and torus', () => {
    const line = railOf(trackOf(makeCurves([{ type: 'poly', closed: false, positions: [0, 0, 0, 0, 3, 0] }])));
    const tube = sweepSections([line], [circleSection(0.5, 64)], options);
    expect(isClosed(tube)).toBe(true);
    expect(volume(tube) / (Math.PI * 0.25 * 3)).toBeCloseTo(1, 2);
    const torus = sweepSections([railOf(trackOf(ring(2)))], [circleSection(0.3, 48)], options);
    expect(isClosed(torus)).toBe(true);
    expect(volume(torus) / (2 * Math.PI ** 2 * 2 * 0.09)).toBeCloseTo(1, 2);
    expect(volume(makeTube(0.5, 3, 4, 64, true)) / (Math.PI * 0.25 * 3)).toBeCloseTo(1, 2);
  });

  test('strands touch and do not cross; a section drawn clockwise still faces outwards', () => {
    const strands = strandSections(3, 0.1, 12);
    const middles = strands.map((s) =>
      [0, 1].map(
        (k) =>
          Array.from(s.points)
            .filter((_, i) => i % 2 === k)
            .reduce((a, b) => a + b) / 12,
      ),
    );
    expect(Math.hypot(middles[0][0] - middles[1][0], middles[0][1] - middles[1][1])).toBeCloseTo(0.2, 9);
    const { points } = circleSection(0.4, 24);
    const clockwise = new Float64Array(48).map((_, i) => points[(23 - Math.floor(i / 2)) * 2 + (i % 2)]);
    const line = railOf(trackOf(makeCurves([{ type: 'poly', closed: false, positions: [0, 0, 0, 2, 0, 0] }])));
    expect(volume(sweepSections([line], [{ points: clockwise, closed: true }], options))).toBeGreaterThan(0.9);
    const rope = sweepSections([railOf(trackOf(ring(2)))], strands, { ...options, rollEnd: 20 * Math.PI });
    expect(isClosed(rope)).toBe(true);
  });
});

describe('drawing', () => {
  const drawn = [
    [0, 0, 0],
    [1, 1, 0],
    [2, 0, 1],
  ].reduce((s, p) => appendPoint(s, p as [number, number, number]), { type: 'bezier', closed: false, points: [] } as Parameters<
    typeof appendPoint
  >[0]);

  test('a point put into a Bézier curve leaves the curve as it was', () => {
    for (const after of [0, 1]) {
      const before = trackOf(curvesOf({ splines: [drawn] }));
      const track = trackOf(curvesOf({ splines: [insertPoint(drawn, after)] }));
      expect(track.length).toBeCloseTo(before.length, 5);
      for (const f of [0.1, 0.4, 0.7])
        placeOn(track, f * track.length).position.forEach((v, k) =>
          expect(v).toBeCloseTo(placeOn(before, f * before.length).position[k], 4),
        );
    }
    expect(insertPoint(drawn, 2).points).toHaveLength(4);
    expect(insertPoint({ ...drawn, closed: true }, 2).points).toHaveLength(4);
  });

  test('a handle turns the other with it, which keeps its length', () => {
    const moved = movePart(drawn, 1, 'out', [1, 2, 0]).points[1];
    expect(moved.out).toEqual([0, 1, 0]);
    expect(moved.in[1]).toBeCloseTo(-Math.hypot(...drawn.points[1].in), 9);
    expect(movePart(drawn, 1, 'out', [1, 2, 0], true).points[1].in).toEqual(drawn.points[1].in);
    expect(controlPoint([1, 2, 3]).width).toBe(1);
  });
});
