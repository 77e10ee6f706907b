import { memoize } from '../memo.ts';
import type { Curves } from './curves.ts';

/** Samples of a curved segment. */
export const STEPS = 16;

/**
 * A spline sampled closely, with its length along the way. Between samples it is a cubic (Hermite) over the tangents
 * where it is smooth, so that places are right to the fourth order of the step.
 */
export interface Track {
  /** Samples; both ends are among them, and a closed track ends where it began. */
  readonly count: number;
  readonly closed: boolean;
  /** Curved between samples; a poly is straight there. */
  readonly smooth: boolean;
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
  ax: number, ay: number, az: number, bx: number, by: number, bz: number, cx: number, cy: number, cz: number, t: number,
): number {
  const x = ax + t * (bx + t * cx);
  const y = ay + t * (by + t * cy);
  const z = az + t * (bz + t * cz);
  return Math.sqrt(x * x + y * y + z * z);
} // prettier-ignore

/**
 * Samples one spline. Lengths are integrated by Lobatto's four-point rule in each step, whose ends are the samples: the relative error
 * of a quarter circle drawn by one segment is below 1e-9. A single point gives a track of length 0.
 */
function makeTrack(curves: Curves, s: number): Track {
  const { shape, positions: p, handles: h } = curves;
  const type = shape.types[s];
  const first = shape.starts[s];
  const points = shape.starts[s + 1] - first;
  const closed = shape.closed[s] && points > 1;
  const segments = Math.max(0, closed ? points : points - 1);
  const steps = type === 'poly' ? 1 : STEPS;
  const step = 1 / steps;
  const count = segments * steps + 1;
  const track = {
    positions: new Float64Array(count * 3),
    tangents: new Float64Array(count * 3),
    lengths: new Float64Array(count),
    roll: new Float64Array(count),
    width: new Float64Array(count).fill(1),
  };
  const at = (i: number) => first + (closed ? ((i % points) + points) % points : i);
  // Coefficients of a segment's places and of its velocity, by powers of t, xyz each.
  const c = new Float64Array(12);
  const v = new Float64Array(9);
  const { positions, tangents, lengths, roll, width } = track;
  let along = 0;
  let standsStill = segments === 0;
  for (let g = 0; g < segments; g++) {
    segmentOf(c, type, p, h, at, g, closed, points);
    powersOf(c, v);
    const [i, j] = [at(g), at(g + 1)];
    const rollStep = curves.roll[j] - curves.roll[i];
    const widthStep = curves.width[j] - curves.width[i];
    const x0 = c[0], y0 = c[1], z0 = c[2], x1 = c[3], y1 = c[4], z1 = c[5]; // prettier-ignore
    const x2 = c[6], y2 = c[7], z2 = c[8], x3 = c[9], y3 = c[10], z3 = c[11]; // prettier-ignore
    const ax = v[0], ay = v[1], az = v[2], bx = v[3], by = v[4], bz = v[5], cx = v[6], cy = v[7], cz = v[8]; // prettier-ignore
    // A tangent that is lost in rounding beside what it is made of is none.
    const still = 1e-9 * Math.max(Math.abs(ax), Math.abs(ay), Math.abs(az), Math.abs(bx), Math.abs(by), Math.abs(bz), Math.abs(cx), Math.abs(cy), Math.abs(cz)); // prettier-ignore
    let before = Math.sqrt(ax * ax + ay * ay + az * az);
    for (let k = g === 0 ? 0 : 1; k <= steps; k++) {
      const t = k * step;
      const n = g * steps + k;
      const o = n * 3;
      positions[o] = x0 + t * (x1 + t * (x2 + t * x3));
      positions[o + 1] = y0 + t * (y1 + t * (y2 + t * y3));
      positions[o + 2] = z0 + t * (z1 + t * (z2 + t * z3));
      const tx = ax + t * (bx + t * cx), ty = ay + t * (by + t * cy), tz = az + t * (bz + t * cz); // prettier-ignore
      const speed = Math.sqrt(tx * tx + ty * ty + tz * tz);
      if (speed > still) {
        const one = 1 / speed;
        tangents[o] = tx * one;
        tangents[o + 1] = ty * one;
        tangents[o + 2] = tz * one;
      } else standsStill = true;
      if (k > 0) {
        const a = speedAt(ax, ay, az, bx, by, bz, cx, cy, cz, (k - 1 + INSIDE) * step);
        const b = speedAt(ax, ay, az, bx, by, bz, cx, cy, cz, (k - INSIDE) * step);
        along += (END * (before + speed) + INNER * (a + b)) * step;
        lengths[n] = along;
      }
      before = speed;
      const ease = type === 'poly' ? t : t * t * (3 - 2 * t);
      roll[n] = curves.roll[i] + rollStep * ease;
      width[n] = curves.width[i] + widthStep * ease;
    }
    // The end of a segment is the point itself, to the last digit.
    if (type !== 'b-spline' || (!closed && g === segments - 1))
      for (let axis = 0; axis < 3; axis++) positions[(g + 1) * steps * 3 + axis] = p[j * 3 + axis];
  }
  if (segments === 0) {
    for (let axis = 0; axis < 3; axis++) track.positions[axis] = p[first * 3 + axis];
    track.roll[0] = curves.roll[first];
    track.width[0] = curves.width[first];
  }
  if (type === 'poly') mitre(track.tangents, track.positions, count, closed);
  if (type === 'poly' || standsStill) mendTangents(track.tangents, track.positions, count);
  // A closed track has one tangent where it begins and ends.
  if (closed && count > 1)
    for (let axis = 0; axis < 3; axis++) tangents[(count - 1) * 3 + axis] = tangents[axis];
  const length = track.lengths[count - 1];
  return { count, closed, smooth: type !== 'poly', length, ...track, guide: guideOf(track.lengths, count) };
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

/** At the corners of a poly the tangent halves the angle. */
function mitre(tangents: Float64Array, p: Float64Array, count: number, closed: boolean): void {
  const side = (i: number) => {
    const d = [p[i * 3 + 3] - p[i * 3], p[i * 3 + 4] - p[i * 3 + 1], p[i * 3 + 5] - p[i * 3 + 2]];
    const l = Math.hypot(...d);
    return d.map((v) => (l > 0 ? v / l : 0));
  };
  for (let i = 0; i < count; i++) {
    const before = i > 0 ? side(i - 1) : closed ? side(count - 2) : [0, 0, 0];
    const after = i < count - 1 ? side(i) : closed ? side(0) : [0, 0, 0];
    for (let axis = 0; axis < 3; axis++) tangents[i * 3 + axis] = before[axis] + after[axis];
  }
}

/** Brings tangents to length 1; where a curve stands still (a cusp, a doubled point) it takes the way to where it goes on. */
function mendTangents(tangents: Float64Array, p: Float64Array, count: number): void {
  const away = (i: number, step: 1 | -1) => {
    for (let j = i + step; j >= 0 && j < count; j += step) {
      const d = [p[j * 3] - p[i * 3], p[j * 3 + 1] - p[i * 3 + 1], p[j * 3 + 2] - p[i * 3 + 2]];
      const l = Math.hypot(...d);
      if (l > 0) return d.map((v) => (v / l) * step);
    }
    return undefined;
  };
  for (let i = 0; i < count; i++) {
    const x = tangents[i * 3], y = tangents[i * 3 + 1], z = tangents[i * 3 + 2]; // prettier-ignore
    const l = Math.sqrt(x * x + y * y + z * z);
    const mended = l > 1e-9 ? [x / l, y / l, z / l] : (away(i, 1) ?? away(i, -1) ?? [1, 0, 0]);
    for (let axis = 0; axis < 3; axis++) tangents[i * 3 + axis] = mended[axis];
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

/** The sample before a place on a track, for places from 0 to its length. */
export function sampleBefore(track: Track, along: number): number {
  const { guide, lengths, count, length } = track;
  if (!(along > 0) || count < 2) return 0;
  let g = Math.floor((along / length) * guide.length);
  if (!(g < guide.length)) g = guide.length - 1;
  let i = guide[g];
  while (i < count - 2 && lengths[i + 1] <= along) i++;
  return i;
}

/** A place on a track. */
export interface TrackPlace {
  readonly position: [number, number, number];
  readonly tangent: [number, number, number];
  roll: number;
  width: number;
  /** The sample before, and how far on towards the next, 0..1. */
  sample: number;
  part: number;
}

/** A place that `placeInto` fills. */
export const emptyPlace = (): TrackPlace => ({ position: [0.5, 0.5, 0.5], tangent: [0.5, 0.5, 0.5], roll: 0, width: 1, sample: 0, part: 0 }); // prettier-ignore

/** Where a track is at `along` metres; before its start and after its end it stays there. */
export const placeOn = (track: Track, along: number): TrackPlace => placeInto(emptyPlace(), track, along);

/** The same, put into a place that is there already: for many of them. */
export function placeInto(out: TrackPlace, track: Track, along: number): TrackPlace {
  const { positions: p, tangents: t, lengths, roll, width, smooth } = track;
  const at = along > 0 ? (along < track.length ? along : track.length) : 0;
  const sample = sampleBefore(track, at);
  const next = sample + 1 < track.count ? sample + 1 : sample;
  const step = lengths[next] - lengths[sample];
  const part = step > 0 ? Math.min(1, (at - lengths[sample]) / step) : 0;
  const i = sample * 3;
  const j = next * 3;
  // Hermite's cubic where the track is smooth, else a straight line.
  const e = 1 - part;
  const h1 = smooth ? part * part * (3 - 2 * part) : part;
  const h2 = smooth ? part * e * e * step : 0;
  const h3 = smooth ? part * part * e * step : 0;
  const tx = t[i] * e + t[j] * part, ty = t[i + 1] * e + t[j + 1] * part, tz = t[i + 2] * e + t[j + 2] * part; // prettier-ignore
  const one = 1 / (Math.sqrt(tx * tx + ty * ty + tz * tz) || 1);
  const { position, tangent } = out;
  position[0] = p[i] + (p[j] - p[i]) * h1 + t[i] * h2 - t[j] * h3;
  position[1] = p[i + 1] + (p[j + 1] - p[i + 1]) * h1 + t[i + 1] * h2 - t[j + 1] * h3;
  position[2] = p[i + 2] + (p[j + 2] - p[i + 2]) * h1 + t[i + 2] * h2 - t[j + 2] * h3;
  tangent[0] = tx * one;
  tangent[1] = ty * one;
  tangent[2] = tz * one;
  out.roll = roll[sample] + (roll[next] - roll[sample]) * part;
  out.width = width[sample] + (width[next] - width[sample]) * part;
  out.sample = sample;
  out.part = part;
  return out;
}
