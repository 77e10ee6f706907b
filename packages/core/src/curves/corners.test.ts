import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { multiply, identity, transformPacked } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { randomFrom } from '../maths/random.ts';
import { isClosed } from '../nearest/signed.ts';
import { volumeOf } from '../testing/surface.ts';
import {
  beginAgain,
  circleSection,
  framesOf,
  layAlong,
  makeCurves,
  placeOn,
  smoothHandles,
  sweepSections,
  tracksOf,
  transformCurves,
  type Curves,
  type FrameOptions,
  type LayOptions,
  type LayWeight,
  type Rail,
  type SplineParts,
} from './index.ts';
import { frameAt } from '../nodes/curves/follow-curve.ts';

const LEAST: FrameOptions = { by: 'least', up: [0, 1, 0] };
const UP: FrameOptions = { by: 'up', up: [0, 1, 0] };
const trackOf = (c: Curves) => tracksOf(c)[0];
const spline = (type: SplineParts['type'], points: number[][], more: Partial<SplineParts> = {}) =>
  makeCurves([{ type, closed: false, positions: points.flat(), ...more }]);
const railOf = (curves: Curves, options = LEAST): Rail => ({
  track: trackOf(curves),
  frames: framesOf(trackOf(curves), options),
});
const dot = (a: ArrayLike<number>, b: ArrayLike<number>) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: ArrayLike<number>, b: ArrayLike<number>) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: number[]) => a.map((v) => v / Math.hypot(...a));
const farthest = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((m, v, i) => Math.max(m, Math.abs(v - b[i])), 0);
const matrixAt = (rail: Rail, fraction: number) => frameAt(rail, placeOn(rail.track, fraction * rail.track.length));

/** Every frame along a rail is a rotation; gives the largest angle between neighbours. */
function largestTurn(rail: Rail, steps = 2000): number {
  let before: Float64Array | undefined;
  let most = 0;
  let worst = 0;
  for (let k = 0; k <= steps; k++) {
    const m = matrixAt(rail, k / steps);
    const [x, y, z] = [m.slice(0, 3), m.slice(4, 7), m.slice(8, 11)];
    worst = Math.max(worst, ...[x, y, z].map((v) => Math.abs(dot(v, v) - 1)), Math.abs(dot(cross(x, y), z) - 1));
    if (before) {
      const b = before;
      const trace = [0, 4, 8].reduce((s, c) => s + dot(m.slice(c, c + 3), b.slice(c, c + 3)), 0);
      most = Math.max(most, Math.acos(Math.min(1, (trace - 1) / 2)));
    }
    before = m;
  }
  expect(worst).toBeLessThan(1e-9);
  return most;
}

describe('corners', () => {
  test('inside a straight piece the tangent is that of the piece, at every point of it', () => {
    const random = randomFrom(3);
    const points = Array.from({ length: 7 }, () => [random(), random(), random()].map((v) => Math.fround(v * 4)));
    for (const closed of [false, true])
      for (const options of [LEAST, UP]) {
        const curves = spline('poly', points, { closed });
        const rail = railOf(curves, { ...options, corners: 'piece' });
        let along = 0;
        for (let g = 0; g < points.length - (closed ? 0 : 1); g++) {
          const [a, b] = [points[g], points[(g + 1) % points.length]];
          const d = b.map((v, k) => v - a[k]);
          const size = Math.hypot(...d);
          for (const part of [0.001, 0.3, 0.5, 0.999]) {
            const m = matrixAt(rail, (along + size * part) / rail.track.length);
            d.forEach((v, k) => {
              expect(m[k]).toBeCloseTo(v / size, 9);
              expect(m[12 + k]).toBeCloseTo(a[k] + v * part, 9);
            });
            if (options.by === 'up') {
              // Exactly as far up as it can.
              const up = [0, 1, 0].map((v, k) => v - (d[k] / size) * (d[1] / size));
              if (Math.hypot(...up) > 0.3) unit(up).forEach((v, k) => expect(m[4 + k]).toBeCloseTo(v, 6));
            }
          }
          along += size;
        }
      }
  });

  test('what is swept keeps its thickness round corners: area times length, flat, in space and closed', () => {
    const area = (n: number, r: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
    const options = { rollStart: 0, rollEnd: 0, caps: true };
    const bend = (points: number[][], closed = false, by = LEAST) =>
      sweepSections([railOf(spline('poly', points, { closed }), by)], [circleSection(0.1, 12)], options);
    const elbow = bend([
      [0, 0, 0],
      [1, 0, 0],
      [1, 0, 1],
    ]);
    expect(isClosed(elbow)).toBe(true);
    expect(elbow.topology.pointCount).toBe(36);
    expect(volumeOf(elbow)).toBeCloseTo(area(12, 0.1) * 2, 6);
    // A doubled corner changes nothing.
    expect(
      volumeOf(
        bend([
          [0, 0, 0],
          [1, 0, 0],
          [1, 0, 0],
          [1, 0, 1],
        ]),
      ),
    ).toBeCloseTo(area(12, 0.1) * 2, 6);
    const crane = bend([
      [0, 0, 0],
      [0, 2, 0],
      [1.5, 2.6, 0],
      [1.5, 2.6, 1.2],
      [3, 1, 2],
    ]);
    expect(volumeOf(crane)).toBeCloseTo(area(12, 0.1) * (2 + Math.hypot(1.5, 0.6) + 1.2 + Math.hypot(1.5, 1.6, 0.8)), 5);
    for (const by of [LEAST, UP]) {
      const frame = bend(
        [
          [0, 0, 0],
          [3, 0, 0],
          [3, 0, 2],
          [0, 0, 2],
        ],
        true,
        by,
      );
      expect(isClosed(frame)).toBe(true);
      expect(volumeOf(frame)).toBeCloseTo(area(12, 0.1) * 10, 6);
    }
    // Every point is the radius away from the line of its piece.
    for (const mesh of [elbow, crane]) {
      const p = mesh.positions;
      for (let i = 0; i < 12; i++) {
        const [a, b] = [0, 1].map((ring) => [...p.slice((ring * 12 + i) * 3, (ring * 12 + i) * 3 + 3)]);
        const d = unit(b.map((v, k) => v - a[k]));
        const axis = mesh === elbow ? [1, 0, 0] : [0, 1, 0];
        expect(dot(d, axis)).toBeCloseTo(1, 6);
        const c = cross(a, axis);
        expect(Math.hypot(...c)).toBeCloseTo(0.1, 6);
      }
    }
  });

  test('a Bézier with broken handles runs as its pieces do', () => {
    const random = randomFrom(5);
    const number = () => random() * 4 - 2;
    for (let round = 0; round < 20; round++) {
      const points = Array.from({ length: 4 }, () => [number(), number(), number()].map(Math.fround));
      const handles = Array.from({ length: 24 }, (_, i) => (round % 3 === 0 && i % 12 < 6 ? 0 : Math.fround(number())));
      const whole = trackOf(spline('bezier', points, { handles }));
      let along = 0;
      for (let g = 0; g < 3; g++) {
        const piece = trackOf(spline('bezier', points.slice(g, g + 2), { handles: handles.slice(g * 6, g * 6 + 12) }));
        for (const part of [1e-6, 0.01, 0.3, 0.97, 1 - 1e-6]) {
          const [a, b] = [placeOn(whole, along + piece.length * part), placeOn(piece, piece.length * part)];
          for (let k = 0; k < 3; k++) {
            expect(a.position[k]).toBeCloseTo(b.position[k], 9);
            expect(a.tangent[k]).toBeCloseTo(b.tangent[k], 6);
          }
        }
        along += piece.length;
      }
      expect(whole.length).toBeCloseTo(along, 9);
    }
  });

  test('a square drawn with handles of no length is a square', () => {
    const curves = spline(
      'bezier',
      [
        [0, 0, 0],
        [2, 0, 0],
        [2, 0, 2],
        [0, 0, 2],
      ],
      { closed: true },
    );
    const track = trackOf(curves);
    expect(track.length).toBeCloseTo(8, 12);
    for (let k = 0; k < 160; k++) {
      const { position, tangent } = placeOn(track, k * 0.05 + 0.01);
      const side = Math.floor(k / 40);
      [
        [1, 0, 0],
        [0, 0, 1],
        [-1, 0, 0],
        [0, 0, -1],
      ][side].forEach((v, i) => expect(tangent[i]).toBeCloseTo(v, 9));
      expect(
        Math.min(Math.abs(position[0]), Math.abs(position[0] - 2), Math.abs(position[2]), Math.abs(position[2] - 2)),
      ).toBeCloseTo(0, 12);
    }
  });

  test('doubled points turn and mirror nothing, on straight curves and on others', () => {
    const points = [
      [0, 0, 0],
      [1, 0, 0],
      [2, 0.5, 0],
      [3, 0.5, 1],
      [3, 2, 2],
    ];
    for (const type of ['poly', 'bezier'] as const)
      for (const base of [
        points,
        [
          [0, 0, 0],
          [1, 1, 1],
          [2, 2, 2],
          [3, 3, 3],
        ],
      ]) {
        const plain = railOf(spline(type, base));
        for (let at = 0; at < base.length; at++)
          for (const times of [1, 2]) {
            const doubled = base.flatMap((p, i) => Array.from({ length: i === at ? 1 + times : 1 }, () => p));
            const rail = railOf(spline(type, doubled));
            for (const f of [0, 0.1, 0.35, 0.6, 0.9, 1])
              matrixAt(rail, f).forEach((v, k) => expect(v).toBeCloseTo(matrixAt(plain, f)[k], 7));
          }
      }
  });

  test('a curve that turns straight back keeps frames of length 1', () => {
    for (const type of ['poly', 'bezier', 'b-spline'] as const)
      for (const points of [
        [
          [0, 0, 0],
          [1, 0, 0],
          [0, 0, 0],
        ],
        [
          [0, 0, 0],
          [0, 2, 0],
          [0, 1, 0],
          [1, 1, 0],
        ],
        [
          [0, 0, 0],
          [1, 0, 0],
          [1, 0, 0],
          [0, 0, 0],
          [0, 0, 1],
        ],
      ])
        for (const options of [LEAST, UP]) largestTurn(railOf(spline(type, points), { ...options, corners: 'piece' }), 300);
  });
});

describe('frames towards up', () => {
  /** Part of a circle of radius 2 in a plane through y, tilted off the vertical. */
  const arc = (from: number, to: number, tilt: number, count = 9): Curves => {
    const points = Array.from({ length: count }, (_, i) => {
      const a = from + ((to - from) * i) / (count - 1);
      return [2 * Math.cos(a), 2 * Math.sin(a), 2 * Math.sin(a) * tilt];
    });
    return smoothHandles(spline('bezier', points));
  };

  test('are towards up where up tells, and turn on evenly where the curve itself goes up', () => {
    for (const tilt of [0, 1e-4, 0.02, 0.3, -0.02])
      for (const curves of [arc(-1.5, 4.6, tilt), arc(0.1, 0.4, tilt), arc(-0.2, 3, tilt, 30)]) {
        const rail = railOf(curves, UP);
        for (let k = 0; k <= 400; k++) {
          const m = matrixAt(rail, k / 400);
          const t = m.slice(0, 3);
          const up = [0, 1, 0].map((v, i) => v - t[1] * t[i]);
          if (Math.hypot(...up) > 0.35) unit(up).forEach((v, i) => expect(m[4 + i]).toBeCloseTo(v, 2));
        }
        expect(largestTurn(rail, 4000)).toBeLessThan(0.04);
      }
  });

  test('a sweep keeps its radius through it; the arbitrary half turn is told, the others are not', () => {
    const through = railOf(arc(-1, 4, 0), UP);
    expect(through.frames.isArbitrary).toBe(true);
    expect(railOf(arc(-1, 4, 0.05), UP).frames.isArbitrary).toBe(false);
    expect(railOf(arc(0.3, 1.2, 0), UP).frames.isArbitrary).toBe(false);
    const tube = sweepSections([through], [circleSection(0.2, 10)], {
      rollStart: 0,
      rollEnd: 0,
      caps: false,
    });
    const { track } = through;
    for (let j = 0; j < track.count; j++)
      for (let k = 0; k < 10; k++) {
        const o = (j * 10 + k) * 3;
        const d = [0, 1, 2].map((axis) => tube.positions[o + axis] - track.positions[j * 3 + axis]);
        expect(Math.hypot(...d)).toBeCloseTo(0.2, 5);
      }
  });

  test('straight up and down, all of it or a piece; standing rings; up along another axis', () => {
    for (const points of [
      [
        [0, 0, 0],
        [0, 3, 0],
      ],
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 2, 0],
        [2, 2, 1],
      ],
      [
        [0, 3, 0],
        [0, 0, 0],
        [1, 0, 0],
      ],
      [
        [1, 0, 0],
        [0, 0, 0],
        [0, 3, 0],
      ],
    ])
      for (const type of ['poly', 'b-spline'] as const)
        largestTurn(railOf(spline(type, points), { ...UP, corners: 'piece' }), 300);
    const ring = (tilt: number, turn: number) =>
      smoothHandles(
        spline(
          'bezier',
          Array.from({ length: 12 }, (_, i) => {
            const a = turn + (i / 12) * 2 * Math.PI;
            return [Math.cos(a), Math.sin(a), tilt * Math.cos(a)];
          }),
          { closed: true },
        ),
      );
    for (const turn of [0, 1.5, Math.PI / 2, 3, 4.7]) {
      const rail = railOf(ring(0.2, turn), UP);
      expect(largestTurn(rail, 4000)).toBeLessThan(0.03);
      // It meets itself.
      matrixAt(rail, 0).forEach((v, k) => expect(v).toBeCloseTo(matrixAt(rail, 1 - 1e-9)[k], 6));
      const tube = sweepSections([rail], [circleSection(0.1, 8)], { rollStart: 0, rollEnd: 0, caps: false });
      expect(isClosed(tube)).toBe(true);
      expect(volumeOf(tube)).toBeGreaterThan(0.9 * 4 * 0.1 * 0.1 * Math.SQRT1_2 * rail.track.length);
    }
    for (const up of [
      [1, 0, 0],
      [0, 0, 1],
    ] as const)
      largestTurn(
        railOf(
          spline('b-spline', [
            [0, 0, 0],
            [1, 0, 0],
            [2, 0.1, 0],
            [2, 0, 2],
            [2, 0, 4],
          ]),
          { by: 'up', up },
        ),
        500,
      );
  });

  test('a curve that leans over slowly takes its frames with it, without a jump', () => {
    let before: Float64Array[] | undefined;
    let most = 0;
    // The arc passes beside the vertical, nearer and nearer, but always on the same side.
    for (let tilt = 0.6; tilt > 0.02; tilt -= 0.002) {
      const rail = railOf(arc(-1, 4, tilt, 24), UP);
      const now = Array.from({ length: 60 }, (_, k) => matrixAt(rail, k / 59));
      if (before) {
        const b = before;
        now.forEach((m, i) => m.slice(4, 11).forEach((v, k) => (most = Math.max(most, Math.abs(v - b[i][4 + k])))));
      }
      before = now;
    }
    expect(most).toBeLessThan(0.1);
  });
});

describe('the ends', () => {
  test('of an open curve 1 is the end, of a closed one the start; beyond it begins again', () => {
    const open = trackOf(
      spline('poly', [
        [0, 0, 0],
        [2, 0, 0],
      ]),
    );
    for (const [along, x] of [
      [0, 0],
      [2, 2],
      [2.5, 0.5],
      [4, 2],
      [-0.5, 1.5],
      [-2, 0],
      [2 + 1e-13, 2],
      [-1e-14, 0],
      [1.9999, 1.9999],
    ])
      expect(placeOn(open, beginAgain(open, along)).position[0]).toBeCloseTo(x, 9);
    const closed = trackOf(
      spline(
        'poly',
        [
          [0, 0, 0],
          [2, 0, 0],
          [0, 0, 2],
        ],
        { closed: true },
      ),
    );
    for (const turns of [0, 1, 2, -1]) expect(beginAgain(closed, turns * closed.length) % closed.length).toBeCloseTo(0, 12);
    expect(placeOn(closed, closed.length)).toEqual(placeOn(closed, 0));
  });
});

describe('a rest curve that is the curve moves nothing, for every setting', () => {
  const { positions } = makeSphere(1, 12, 16);
  const WHOLE: LayWeight = { data: Float32Array.of(1), step: 0 };
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
  const number = fc.double({ min: -0.4, max: 0.4, noNaN: true }).map(Math.fround);
  const shape = fc.record({
    bends: fc.array(fc.tuple(number, number, number, fc.constantFrom(0, 0.5, 1, 2)), {
      minLength: 3,
      maxLength: 6,
    }),
    type: fc.constantFrom('poly', 'bezier', 'b-spline') as fc.Arbitrary<SplineParts['type']>,
    closed: fc.boolean(),
    // The curve may be shorter or longer than the mesh.
    reach: fc.constantFrom(0.4, 1, 1.7),
    handles: fc.boolean(),
  });
  const settings = fc.record({
    axis: fc.constantFrom(0, 1, 2) as fc.Arbitrary<0 | 1 | 2>,
    flip: fc.boolean(),
    fit: fc.boolean(),
    overshoot: fc.constantFrom('extend', 'clamp', 'wrap') as fc.Arbitrary<LayOptions['overshoot']>,
    keepVolume: fc.boolean(),
  });
  const frames = fc.record({
    by: fc.constantFrom('least', 'up') as fc.Arbitrary<'least' | 'up'>,
    up: fc.constantFrom([1, 0, 0], [0, 1, 0], [0, 0, 1]) as fc.Arbitrary<[number, number, number]>,
  });

  test('roll, width, corners, closed or open, longer or shorter than the mesh, frames of either kind', () => {
    fc.assert(
      fc.property(shape, settings, frames, ({ bends, type, closed, reach, handles }, options, by) => {
        const points = bends.map(([y, z], i) => {
          const place = [((i / (bends.length - 1)) * 2 - 1) * reach, y, z];
          return [0, 1, 2].map((k) => place[(k - options.axis + 3) % 3]);
        });
        const made = spline(type, points, { closed, roll: bends.map((b) => b[2] * 9), width: bends.map((b) => b[3]) });
        const curves = handles ? smoothHandles(made) : made;
        const rest = railOf(curves, by);
        // The same curve, but another object, as at another frame.
        const track = trackOf({ ...curves });
        const now = { track, frames: framesOf(track, { ...by, rest }) };
        const out = layAlong(new Float32Array(positions.length), positions, now, rest, { ...LAY, ...options }, WHOLE);
        expect(farthest(out, positions)).toBeLessThan(2e-6);
      }),
      { numRuns: 600 },
    );
  });

  test('a curve that is moved and turned as a whole takes the mesh along, roll and all', () => {
    const bends = [
      [-1, 0.2, 0],
      [-0.3, -0.1, 0.2],
      [0.4, 0.3, 0],
      [1, 0, -0.3],
    ];
    // About an axis square to where the curve begins: the least turn from there to there.
    const turned = (d: number[]) => {
      const [x, y, z] = unit(cross(d, [0.3, 1, 0.2]));
      const [c, s] = [Math.cos(2), Math.sin(2)];
      const f = 1 - c;
      return Float64Array.of(
        c + x * x * f,
        y * x * f + z * s,
        z * x * f - y * s,
        0,
        x * y * f - z * s,
        c + y * y * f,
        z * y * f + x * s,
        0,
        x * z * f + y * s,
        y * z * f - x * s,
        c + z * z * f,
        0,
        1,
        2,
        3,
        1,
      );
    };
    for (const type of ['poly', 'bezier', 'b-spline'] as const)
      for (const overshoot of ['extend', 'clamp', 'wrap'] as const) {
        const curves = smoothHandles(spline(type, bends, { roll: [0, 1, -2, 0.5], width: [1, 0.5, 2, 0] }));
        const rest = railOf(curves);
        const m = turned([...rest.track.tangents.slice(0, 3)]);
        const track = trackOf(transformCurves(curves, m));
        const now = { track, frames: framesOf(track, { ...LEAST, rest }) };
        const out = layAlong(new Float32Array(positions.length), positions, now, rest, { ...LAY, overshoot }, WHOLE);
        const whole = transformPacked(new Float32Array(positions.length), positions, m, 'position');
        expect(farthest(out, whole)).toBeLessThan(5e-6);
      }
  });

  test('a mirrored curve with roll sweeps the mirror image', () => {
    const points = [
      [0, 0, 0],
      [1, 0.3, 0],
      [2, 0, 0.5],
      [3, 0.4, 0],
    ];
    const curves = smoothHandles(spline('bezier', points, { roll: [0, 0.8, 2, -1] }));
    const m = multiply(identity(), compose([1, 0, 0], [0.3, 0, 0], 'xyz', [-1, 1, 1]), identity());
    // A section that is its own mirror image about its first axis.
    const section = { points: Float64Array.of(0.3, 0, 0, 0.1, -0.1, 0, 0, -0.1), closed: true };
    const options = { rollStart: 0, rollEnd: 0, caps: true };
    const up = [m[4], m[5], m[6]] as [number, number, number];
    const image = sweepSections([railOf(transformCurves(curves, m), { by: 'least', up })], [section], options);
    const original = sweepSections([railOf(curves)], [section], options);
    const mirrored = transformPacked(new Float32Array(original.positions.length), original.positions, m, 'position');
    const far = Math.max(
      ...Array.from({ length: image.positions.length / 3 }, (_, i) => {
        const p = [...image.positions.slice(i * 3, i * 3 + 3)];
        let least = Infinity;
        for (let j = 0; j < mirrored.length; j += 3)
          least = Math.min(least, Math.hypot(p[0] - mirrored[j], p[1] - mirrored[j + 1], p[2] - mirrored[j + 2]));
        return least;
      }),
    );
    expect(far).toBeLessThan(1e-5);
  });
});
