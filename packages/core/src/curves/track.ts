import { memoize } from '../memo.ts';
import type { Curves } from './curves.ts';

/** Samples of a curved segment. */
export const STEPS = 16;

/**
 * A spline sampled closely, with its length along the way. Between samples it is a cubic (Hermite) over their tangents,
 * so that places are right to the fourth order of the step, and straight pieces are straight. A corner is two samples at
 * one place: the end of the piece before, and the beginning of the piece after, each with the tangent of its own piece.
 */
export interface Track {
  /** Samples; both ends are among them, and a closed track ends where it began. */
  readonly count: number;
  readonly closed: boolean;
  /** Metres. */
  readonly length: number;
  /** xyz × count. */
  readonly positions: Float64Array;
  /** xyz × count, of length 1. */
  readonly tangents: Float64Array;
  /** Metres from the start of each sample, never falling. */
  readonly lengths: Float64Array;
  /** Radians. */
  readonly roll: Float64Array;
  readonly width: Float64Array;
  /** Number of its first control point. */
  readonly first: number;
  /** The sample at which each segment begins, and the last one. */
  readonly knots: Int32Array;
  /** 1 at samples that are a side of a corner; undefined where there is none. */
  readonly corners: Uint8Array | undefined;
  /** For each of `guide.length` equal parts of the length, the sample before it. */
  readonly guide: Int32Array;
}

/** The tracks of curves, one per spline with points; worked out once. */
export const tracksOf = memoize((curves: Curves): readonly Track[] => {
  const out: Track[] = [];
  for (let s = 0; s < curves.shape.splineCount; s++) {
    if (curves.shape.starts[s + 1] > curves.shape.starts[s]) out.push(makeTrack(curves, s));
  }
  return out;
});

/** Lobatto's rule with four places on 0..1: both ends, and two that lie so far inside; the weights. */
const INSIDE = 0.5 - Math.sqrt(0.05);
const END = 1 / 12;
const INNER = 5 / 12;

/** Length of `a + b t + c t²`, a velocity. */
function speedAt(
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
  cx: number,
  cy: number,
  cz: number,
  t: number,
): number {
  const x = ax + t * (bx + t * cx);
  const y = ay + t * (by + t * cy);
  const z = az + t * (bz + t * cz);
  return Math.sqrt(x * x + y * y + z * z);
}

/** Tangents that differ by more than this (1 − cosine; a hundredth of a degree) make a corner. */
const CORNER = 1e-8;

/**
 * Samples one spline. Lengths are integrated by Lobatto's four-point rule in each step, whose ends are the samples: the
 * relative error of a quarter circle drawn by one segment is below 1e-9. A single point gives a track of length 0.
 */
function makeTrack(curves: Curves, s: number, hasCorners = curves.shape.types[s] === 'poly'): Track {
  const { shape, positions: p, handles: h } = curves;
  const type = shape.types[s];
  const first = shape.starts[s];
  const points = shape.starts[s + 1] - first;
  const closed = shape.closed[s] && points > 1;
  const segments = Math.max(0, closed ? points : points - 1);
  const steps = type === 'poly' ? 1 : STEPS;
  const step = 1 / steps;
  // Where there are corners, there is room for one at the beginning of each segment and for cusps within.
  const room = segments * (hasCorners ? steps + 3 : steps) + 1;
  const positions = new Float64Array(room * 3);
  const tangents = new Float64Array(room * 3);
  const lengths = new Float64Array(room);
  const roll = new Float64Array(room);
  const width = new Float64Array(room);
  const samples = { positions, tangents, lengths, roll, width };
  const knots = new Int32Array(segments + 1);
  const pairs: number[] = [];
  const at = (i: number) => first + (closed ? ((i % points) + points) % points : i);
  // Coefficients of a segment's places and of its velocity, by powers of t, xyz each; and a direction.
  const c = new Float64Array(12);
  const v = new Float64Array(9);
  const d = new Float64Array(3);
  let n = 0;
  let along = 0;
  // Whether it has gone anywhere yet: before that it has no tangent.
  let moved = false;
  for (let axis = 0; axis < 3; axis++) positions[axis] = p[first * 3 + axis];
  roll[0] = curves.roll[first];
  width[0] = curves.width[first];
  for (let g = 0; g < segments; g++) {
    segmentOf(c, type, p, h, at, g, closed, points);
    powersOf(c, v);
    const [i, j] = [at(g), at(g + 1)];
    const rollStep = curves.roll[j] - curves.roll[i];
    const widthStep = curves.width[j] - curves.width[i];
    const x0 = c[0],
      y0 = c[1],
      z0 = c[2],
      x1 = c[3],
      y1 = c[4],
      z1 = c[5];
    const x2 = c[6],
      y2 = c[7],
      z2 = c[8],
      x3 = c[9],
      y3 = c[10],
      z3 = c[11];
    const ax = v[0],
      ay = v[1],
      az = v[2],
      bx = v[3],
      by = v[4],
      bz = v[5],
      cx = v[6],
      cy = v[7],
      cz = v[8];
    const still = stillness(c, v);
    let before = Math.sqrt(ax * ax + ay * ay + az * az);
    // 1. It begins in the sample where the one before ended, or beside it at a corner.
    if (directionAt(d, v, 0, 1, still)) {
      if (!moved) for (let k = 0; k <= n; k++) tangents.set(d, k * 3);
      else if (turnsTo(tangents, n, d)) {
        if (!hasCorners) return makeTrack(curves, s, true);
        pairs.push(addCorner(samples, n++, d));
      }
      moved = true;
    }
    if (g === 0) {
      positions[0] = x0;
      positions[1] = y0;
      positions[2] = z0;
    }
    knots[g] = n;
    // 2. Samples by even steps of t.
    for (let k = 1; k <= steps; k++) {
      const t = k * step;
      n++;
      const o = n * 3;
      positions[o] = x0 + t * (x1 + t * (x2 + t * x3));
      positions[o + 1] = y0 + t * (y1 + t * (y2 + t * y3));
      positions[o + 2] = z0 + t * (z1 + t * (z2 + t * z3));
      const tx = ax + t * (bx + t * cx),
        ty = ay + t * (by + t * cy),
        tz = az + t * (bz + t * cz);
      const speed = Math.sqrt(tx * tx + ty * ty + tz * tz);
      const a = speedAt(ax, ay, az, bx, by, bz, cx, cy, cz, (k - 1 + INSIDE) * step);
      const b = speedAt(ax, ay, az, bx, by, bz, cx, cy, cz, (k - INSIDE) * step);
      along += (END * (before + speed) + INNER * (a + b)) * step;
      lengths[n] = along;
      before = speed;
      const ease = type === 'poly' ? t : t * t * (3 - 2 * t);
      roll[n] = curves.roll[i] + rollStep * ease;
      width[n] = curves.width[i] + widthStep * ease;
      if (speed > still) {
        const one = 1 / speed;
        tangents[o] = tx * one;
        tangents[o + 1] = ty * one;
        tangents[o + 2] = tz * one;
        continue;
      }
      // 3. Where it stands still for a moment (a cusp) it comes from one side and goes on to another.
      if (directionAt(d, v, t, -1, still)) tangents.set(d, o);
      else tangents.copyWithin(o, o - 3, o);
      if (k < steps && directionAt(d, v, t, 1, still) && turnsTo(tangents, n, d)) {
        if (!hasCorners) return makeTrack(curves, s, true);
        pairs.push(addCorner(samples, n++, d));
      }
    }
    // The end of a segment is the point itself, to the last digit.
    if (type !== 'b-spline' || (!closed && g === segments - 1))
      for (let axis = 0; axis < 3; axis++) positions[n * 3 + axis] = p[j * 3 + axis];
  }
  if (!moved) for (let k = 0; k <= n; k++) tangents[k * 3] = 1;
  const count = n + 1;
  knots[segments] = n;
  if (closed) {
    d.set(tangents.subarray(0, 3));
    if (turnsTo(tangents, n, d)) pairs.push(n);
    else tangents.copyWithin(n * 3, 0, 3);
  }
  const corners = pairs.length > 0 ? new Uint8Array(count) : undefined;
  for (const k of pairs) if (corners) corners[k] = corners[k + 1 < count ? k + 1 : 0] = 1;
  return {
    count,
    closed,
    first,
    length: along,
    knots,
    corners,
    positions: positions.subarray(0, count * 3),
    tangents: tangents.subarray(0, count * 3),
    lengths: lengths.subarray(0, count),
    roll: roll.subarray(0, count),
    width: width.subarray(0, count),
    guide: guideOf(lengths, count),
  };
}

type Samples = Pick<Track, 'positions' | 'tangents' | 'lengths' | 'roll' | 'width'>;

/** Whether a direction makes a corner with the tangent of a sample. */
function turnsTo(tangents: Readonly<Float64Array>, n: number, d: Readonly<Float64Array>): boolean {
  const o = n * 3;
  return 1 - (tangents[o] * d[0] + tangents[o + 1] * d[1] + tangents[o + 2] * d[2]) > CORNER;
}

/** A second sample at the place of the last one, with another tangent. @returns the number of the first */
function addCorner({ positions, tangents, lengths, roll, width }: Samples, n: number, d: Float64Array): number {
  positions.copyWithin(n * 3 + 3, n * 3, n * 3 + 3);
  lengths[n + 1] = lengths[n];
  roll[n + 1] = roll[n];
  width[n + 1] = width[n];
  tangents.set(d, n * 3 + 3);
  return n;
}

/** Speeds up to this are none: what rounding leaves of it beside what the velocity and the places are made of. */
function stillness(c: Readonly<Float64Array>, v: Readonly<Float64Array>): number {
  let most = 0;
  for (let k = 0; k < 9; k++) if (Math.abs(v[k]) > most) most = Math.abs(v[k]);
  const places = Math.max(Math.abs(c[0]), Math.abs(c[1]), Math.abs(c[2]));
  return Math.max(1e-9 * most, 1e-14 * places);
}

/**
 * The direction in which a segment leaves the place at t (`side` 1), or arrives there (−1), of length 1: that of its
 * velocity, or where that is nothing, of the first of its derivatives that is something. False where all are nothing.
 */
function directionAt(out: Float64Array, v: Readonly<Float64Array>, t: number, side: 1 | -1, still: number): boolean {
  for (let order = 0; order < 3; order++) {
    for (let axis = 0; axis < 3; axis++) {
      const [a, b, c] = [v[axis], v[3 + axis], v[6 + axis]];
      out[axis] = order === 0 ? a + t * (b + t * c) : order === 1 ? (b + 2 * t * c) * side : c;
    }
    const size = Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]);
    if (!(size > still)) continue;
    for (let axis = 0; axis < 3; axis++) out[axis] /= size;
    return true;
  }
  return false;
}

/** Control points of a segment as a Bézier cubic: four times xyz into `c`. */
function segmentOf(
  c: Float64Array,
  type: Curves['shape']['types'][number],
  p: Readonly<Float32Array>,
  h: Readonly<Float32Array>,
  at: (i: number) => number,
  g: number,
  closed: boolean,
  points: number,
): void {
  const i = at(g);
  const j = at(g + 1);
  // Uniform and cubic; an open B-spline is carried on straight beyond its ends, so that it reaches them.
  const before = closed || g > 0 ? at(g - 1) : -1;
  const after = closed || g + 2 < points ? at(g + 2) : -1;
  for (let axis = 0; axis < 3; axis++) {
    const a = p[i * 3 + axis];
    const d = p[j * 3 + axis];
    if (type === 'b-spline') {
      c[axis] = ((before < 0 ? 2 * a - d : p[before * 3 + axis]) + 4 * a + d) / 6;
      c[3 + axis] = (2 * a + d) / 3;
      c[6 + axis] = (a + 2 * d) / 3;
      c[9 + axis] = (a + 4 * d + (after < 0 ? 2 * d - a : p[after * 3 + axis])) / 6;
      continue;
    }
    c[axis] = a;
    c[3 + axis] = type === 'bezier' ? a + h[i * 6 + 3 + axis] : a + (d - a) / 3;
    c[6 + axis] = type === 'bezier' ? d + h[j * 6 + axis] : d - (d - a) / 3;
    c[9 + axis] = d;
  }
}

/** From four Bézier points (xyz each, overwritten) to the powers of t of the place, and of the velocity. */
function powersOf(c: Float64Array, v: Float64Array): void {
  for (let axis = 0; axis < 3; axis++) {
    const a = c[axis];
    const b = c[3 + axis];
    const d = c[6 + axis];
    const e = c[9 + axis];
    c[3 + axis] = 3 * (b - a);
    c[6 + axis] = 3 * (a - 2 * b + d);
    c[9 + axis] = e - a + 3 * (b - d);
    v[axis] = c[3 + axis];
    v[3 + axis] = 2 * c[6 + axis];
    v[6 + axis] = 3 * c[9 + axis];
  }
}

function guideOf(lengths: Readonly<Float64Array>, count: number): Int32Array {
  const parts = Math.max(1, count * 2);
  const guide = new Int32Array(parts);
  const step = lengths[count - 1] / parts;
  let i = 0;
  for (let g = 0; g < parts; g++) {
    const at = g * step;
    while (i < count - 2 && lengths[i + 1] <= at) i++;
    guide[g] = i;
  }
  return guide;
}
