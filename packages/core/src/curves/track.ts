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

/** Nodes and weights of Gauss and Legendre's rule with three places, on 0..1. */
const GAUSS = [
  [0.5 - Math.sqrt(0.15), 5 / 18],
  [0.5, 8 / 18],
  [0.5 + Math.sqrt(0.15), 5 / 18],
] as const;

/**
 * Samples one spline. Lengths are integrated by Gauss and Legendre's three-point rule in each step: the relative error
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
  const count = segments * steps + 1;
  const track = {
    positions: new Float64Array(count * 3),
    tangents: new Float64Array(count * 3),
    lengths: new Float64Array(count),
    roll: new Float64Array(count),
    width: new Float64Array(count).fill(1),
  };
  const at = (i: number) => first + (closed ? ((i % points) + points) % points : i);
  const c = new Float64Array(12);
  const velocity = (t: number, axis: number) => {
    const [a, b, d, e] = [c[axis], c[3 + axis], c[6 + axis], c[9 + axis]];
    const u = 1 - t;
    return 3 * (u * u * (b - a) + 2 * u * t * (d - b) + t * t * (e - d));
  };
  const speed = (t: number) => Math.hypot(velocity(t, 0), velocity(t, 1), velocity(t, 2));
  for (let g = 0; g < segments; g++) {
    segmentOf(c, type, p, h, at, g, closed, points);
    const [i, j] = [at(g), at(g + 1)];
    for (let k = g === 0 ? 0 : 1; k <= steps; k++) {
      const t = k / steps;
      const u = 1 - t;
      const n = g * steps + k;
      for (let axis = 0; axis < 3; axis++) {
        track.positions[n * 3 + axis] = u * u * u * c[axis] + 3 * u * u * t * c[3 + axis] + 3 * u * t * t * c[6 + axis] + t * t * t * c[9 + axis]; // prettier-ignore
        track.tangents[n * 3 + axis] = velocity(t, axis);
      }
      if (k > 0) {
        let length = 0;
        for (const [where, weight] of GAUSS) length += weight * speed((k - 1 + where) / steps);
        track.lengths[n] = track.lengths[n - 1] + length / steps;
      }
      const ease = type === 'poly' ? t : t * t * (3 - 2 * t);
      track.roll[n] = curves.roll[i] + (curves.roll[j] - curves.roll[i]) * ease;
      track.width[n] = curves.width[i] + (curves.width[j] - curves.width[i]) * ease;
    }
  }
  if (segments === 0) {
    for (let axis = 0; axis < 3; axis++) track.positions[axis] = p[first * 3 + axis];
    track.roll[0] = curves.roll[first];
    track.width[0] = curves.width[first];
  }
  if (type === 'poly') mitre(track.tangents, track.positions, count, closed);
  mendTangents(track.tangents, track.positions, count, closed);
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
  const [i, j] = [at(g), at(g + 1)];
  for (let axis = 0; axis < 3; axis++) {
    const [a, d] = [p[i * 3 + axis], p[j * 3 + axis]];
    let [from, out, into, to] = [a, a + (d - a) / 3, d - (d - a) / 3, d];
    if (type === 'bezier') {
      out = a + h[i * 6 + 3 + axis];
      into = d + h[j * 6 + axis];
    } else if (type === 'b-spline') {
      // Uniform and cubic; an open one is carried on straight beyond its ends, so that it reaches them.
      const before = closed || g > 0 ? p[at(g - 1) * 3 + axis] : 2 * a - d;
      const after = closed || g + 2 < points ? p[at(g + 2) * 3 + axis] : 2 * d - a;
      from = (before + 4 * a + d) / 6;
      out = (2 * a + d) / 3;
      into = (a + 2 * d) / 3;
      to = (a + 4 * d + after) / 6;
    }
    c[axis] = from;
    c[3 + axis] = out;
    c[6 + axis] = into;
    c[9 + axis] = to;
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
function mendTangents(tangents: Float64Array, p: Float64Array, count: number, closed: boolean): void {
  let size = 0;
  for (let i = 0; i < tangents.length; i++) size = Math.max(size, Math.abs(tangents[i]));
  const away = (i: number, step: 1 | -1) => {
    for (let j = i + step; j >= 0 && j < count; j += step) {
      const d = [p[j * 3] - p[i * 3], p[j * 3 + 1] - p[i * 3 + 1], p[j * 3 + 2] - p[i * 3 + 2]];
      const l = Math.hypot(...d);
      if (l > 0) return d.map((v) => (v / l) * step);
    }
    return undefined;
  };
  for (let i = 0; i < count; i++) {
    const l = Math.hypot(tangents[i * 3], tangents[i * 3 + 1], tangents[i * 3 + 2]);
    const mended = l > size * 1e-9 ? undefined : (away(i, 1) ?? away(i, -1) ?? [1, 0, 0]);
    for (let axis = 0; axis < 3; axis++)
      tangents[i * 3 + axis] = mended ? mended[axis] : tangents[i * 3 + axis] / l;
  }
  // A closed track has one tangent where it begins and ends.
  if (closed && count > 1)
    for (let axis = 0; axis < 3; axis++) tangents[(count - 1) * 3 + axis] = tangents[axis];
}

function guideOf(lengths: Readonly<Float64Array>, count: number): Int32Array {
  const parts = Math.max(1, count * 2);
  const guide = new Int32Array(parts);
  const total = lengths[count - 1];
  let i = 0;
  for (let g = 0; g < parts; g++) {
    const at = (g / parts) * total;
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
  readonly roll: number;
  readonly width: number;
  /** The sample before, and how far on towards the next, 0..1. */
  readonly sample: number;
  readonly part: number;
}

/** Where a track is at `along` metres; before its start and after its end it stays there. */
export function placeOn(track: Track, along: number): TrackPlace {
  const at = Math.min(track.length, Math.max(0, along || 0));
  const i = sampleBefore(track, at);
  const j = Math.min(i + 1, track.count - 1);
  const step = track.lengths[j] - track.lengths[i];
  const part = step > 0 ? Math.min(1, (at - track.lengths[i]) / step) : 0;
  const { positions: p, tangents: t } = track;
  const position: [number, number, number] = [0, 0, 0];
  const tangent: [number, number, number] = [0, 0, 0];
  for (let axis = 0; axis < 3; axis++) {
    const [a, b] = [p[i * 3 + axis], p[j * 3 + axis]];
    position[axis] = a + (b - a) * part;
    if (track.smooth) position[axis] = hermite(a, t[i * 3 + axis] * step, b, t[j * 3 + axis] * step, part);
    tangent[axis] = t[i * 3 + axis] + (t[j * 3 + axis] - t[i * 3 + axis]) * part;
  }
  const l = Math.hypot(...tangent) || 1;
  for (let axis = 0; axis < 3; axis++) tangent[axis] /= l;
  const between = (values: Float64Array) => values[i] + (values[j] - values[i]) * part;
  return { position, tangent, roll: between(track.roll), width: between(track.width), sample: i, part };
}

function hermite(a: number, ta: number, b: number, tb: number, f: number): number {
  const d = b - a;
  return a + f * (ta + f * (3 * d - 2 * ta - tb + f * (ta + tb - 2 * d)));
}
