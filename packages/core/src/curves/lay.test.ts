import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isToldFinite } from '../maths/finite.ts';
import { compileResponse, respond, type Response } from '../maths/response.ts';
import {
  framesOf,
  layAlong,
  makeCurves,
  placeOn,
  smoothHandles,
  tracksOf,
  type LayOptions,
  type LayWeight,
  type Rail,
} from './index.ts';
import { beginAgain } from './on-track.ts';

const WHOLE: LayWeight = { data: Float32Array.of(1), step: 0 };
const WIDTH: Response = {
  points: [0, 0.5, 1].map((at, i) => ({ at, value: [1, 0.3, 1.4][i], in: [-0.1, 0], out: [0.1, 0], shape: 'curve' as const })),
  invert: false,
};

const spot = fc.double({ min: -1, max: 1, noNaN: true });
const rails = fc
  .record({
    spots: fc.array(fc.tuple(spot, spot, spot), { minLength: 3, maxLength: 6 }),
    closed: fc.boolean(),
    up: fc.boolean(),
    widths: fc.boolean(),
    rolls: fc.boolean(),
  })
  .map(({ spots, closed, up, widths, rolls }): Rail => {
    const drawn = makeCurves([
      {
        ...{ type: 'bezier', closed, positions: spots.flatMap(([x, y, z], i) => [x + i * 2, y, z + (closed ? i * i : 0)]) },
        roll: spots.map((_, i) => (rolls ? Math.sin(i) : 0)),
        width: spots.map((_, i) => (widths ? 1 + 0.3 * Math.cos(i * 2) : 1)),
      },
    ]);
    const track = tracksOf(smoothHandles(drawn))[0];
    return { track, frames: framesOf(track, { by: up ? 'up' : 'least', up: [0, 1, 0] }) };
  });

const settings = fc.record({
  axis: fc.constantFrom(0 as const, 1 as const, 2 as const),
  flip: fc.boolean(),
  middle: fc.tuple(spot, spot),
  fit: fc.boolean(),
  start: fc.constantFrom(0, 0.3, -0.2, 0.9),
  stretch: fc.constantFrom(1, 0.5, 1.7),
  overshoot: fc.constantFrom('extend' as const, 'clamp' as const, 'wrap' as const),
  rollStart: fc.constantFrom(0, 0.7),
  rollEnd: fc.constantFrom(0, -2),
  isWide: fc.boolean(),
  keepVolume: fc.boolean(),
});
const [LOW, SPAN] = [-1, 2.5];

/** Points about a box, enough for several chunks; one is not finite. */
const POINTS = Float32Array.from({ length: 2500 * 3 }, (_, i) => Math.sin(i * 12.9898) * 1.6);
POINTS[3000] = NaN;

/** One point by itself, slowly: the place on the track, frames brought towards length 1, then size and roll. */
function slowly(point: readonly number[], { track, frames }: Rail, o: LayOptions): number[] {
  const sign = o.flip ? -1 : 1;
  const along = o.flip ? LOW + SPAN - point[o.axis] : point[o.axis] - LOW;
  const scale = (o.fit ? track.length / SPAN : 1) * o.stretch;
  let s = along * scale + o.start * track.length;
  let beyond = 0;
  if (s < 0 || s > track.length) {
    const end = s < 0 ? 0 : track.length;
    if (o.overshoot === 'wrap') s = beginAgain(track, s);
    else {
      if (o.overshoot === 'extend') beyond = s - end;
      s = end;
    }
  }
  // On a closed track the place at its end is that at its beginning, which frames are not: they turn on their way round.
  const { position, sample, part } = placeOn({ ...track, closed: false }, s);
  const between = (of: ArrayLike<number>, width: number) =>
    Array.from({ length: width }, (_, k) => {
      const [a, b] = [sample, Math.min(sample + 1, track.count - 1)].map((i) => of[i * width + k]);
      return a + (b - a) * part;
    });
  // As good as length 1 between frames that are close; where a curve turns sharply within a stretch it is a little less.
  const unit = (v: number[]) => v.map((x) => x * (1.5 - 0.5 * v.reduce((sum, y) => sum + y * y, 0)));
  const [n, b] = [unit(between(frames.normals, 3)), unit(between(frames.binormals, 3))];
  const t = between(track.tangents, 3);
  const share = along / SPAN;
  const twist = frames.twist ? between(frames.twist, 1)[0] : 0;
  const angle = o.rollStart + (o.rollEnd - o.rollStart) * share + between(track.roll, 1)[0] + twist;
  const size = (o.keepVolume ? 1 / Math.sqrt(scale) : 1) * between(track.width, 1)[0] * (o.width ? respond(o.width, share) : 1);
  const y = (point[(o.axis + 1) % 3] - o.middle[0]) * size;
  const z = (point[(o.axis + 2) % 3] - o.middle[1]) * sign * size;
  const [across, aside] = [y * Math.cos(angle) - z * Math.sin(angle), y * Math.sin(angle) + z * Math.cos(angle)];
  return position.map((c, k) => c + t[k] * beyond + n[k] * across + b[k] * aside);
}

test('points laid along a curve are where a slow way puts each of them, whatever the settings', () => {
  fc.assert(
    fc.property(rails, settings, (rail, { isWide, ...rest }) => {
      const width = isWide ? compileResponse(WIDTH) : undefined;
      const options: LayOptions = { ...rest, low: LOW, span: SPAN, width };
      const out = layAlong(new Float32Array(POINTS.length), POINTS, rail, undefined, options, WHOLE);
      for (let i = 0; i < POINTS.length / 3; i += 7) {
        if (i === 1000) continue;
        const right = slowly([...POINTS.subarray(i * 3, i * 3 + 3)], rail, options);
        for (let k = 0; k < 3; k++)
          expect(Math.abs(out[i * 3 + k] - right[k])).toBeLessThan(1e-5 * Math.max(1, Math.abs(right[k])));
      }
      expect(out[3000]).toBeNaN();
      expect(isToldFinite(out)).toBe(false);
    }),
    { numRuns: 40 },
  );
});

test('a point is where it would be by itself, in its own place, and as much of the way as its weight says', () => {
  fc.assert(
    fc.property(rails, rails, fc.boolean(), settings, (now, other, hasRest, { isWide, ...rest }) => {
      const width = isWide ? compileResponse(WIDTH) : undefined;
      const options: LayOptions = { ...rest, low: LOW, span: SPAN, width };
      const atRest = hasRest ? other : undefined;
      const lay = (p: Float32Array, weight: LayWeight, out = new Float32Array(p.length)) =>
        layAlong(out, p, now, atRest, options, weight);
      const whole = lay(POINTS, WHOLE);
      for (const i of [0, 511, 512, 999, 1000, 1023, 1024, 2047, 2048, 2499])
        expect(whole.subarray(i * 3, i * 3 + 3)).toEqual(lay(POINTS.slice(i * 3, i * 3 + 3), WHOLE));
      const inPlace = POINTS.slice();
      expect(lay(inPlace, WHOLE, inPlace)).toEqual(whole);
      const weights = Float32Array.from({ length: POINTS.length / 3 }, (_, i) => [0, 1, 0.25][i % 3]);
      const part = lay(POINTS, { data: weights, step: 1 });
      part.forEach((v, i) => {
        const [from, w] = [POINTS[i], weights[Math.floor(i / 3)]];
        const right = w === 0 ? from : from + w * (whole[i] - from);
        if (Number.isFinite(right)) expect(Math.abs(v - right)).toBeLessThanOrEqual(1e-6 * Math.max(1, Math.abs(whole[i])));
        else expect(v).toBeNaN();
      });
      expect(lay(POINTS, { data: Float32Array.of(0), step: 0 })).toEqual(POINTS);
    }),
    { numRuns: 15 },
  );
});

test('what is laid is told finite where it is', () => {
  const points = POINTS.slice(0, 2400);
  const track = tracksOf(makeCurves([{ type: 'poly', closed: false, positions: [0, 0, 0, 3, 0, 0] }]))[0];
  const rail = { track, frames: framesOf(track, { by: 'least', up: [0, 1, 0] }) };
  const plain: LayOptions = {
    ...{ axis: 0, low: LOW, span: SPAN, flip: false, middle: [0, 0], fit: false, start: 0, stretch: 1 },
    ...{ overshoot: 'extend', rollStart: 0, rollEnd: 0, keepVolume: false },
  };
  expect(isToldFinite(layAlong(new Float32Array(2400), points, rail, undefined, plain, WHOLE))).toBe(true);
  const far = layAlong(new Float32Array(2400), points, rail, undefined, { ...plain, stretch: Infinity }, WHOLE);
  expect(isToldFinite(far)).toBe(false);
});
