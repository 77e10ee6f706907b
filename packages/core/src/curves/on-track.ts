import type { Track } from './track.ts';

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

/** What becomes of places before the start and after the end of a curve. */
export type Overshoot = 'clamp' | 'extend' | 'wrap';

/** A share of its length by which one may be beyond the end of a track and still count as at it: rounding of Float32. */
const AT_END = 1e-6;

/**
 * Where on a track `along` metres are when it begins again beyond its ends. The end of an open track is its end, and so is
 * twice as far; a closed one has the same place at both ends (DECISIONS 31).
 */
export function beginAgain({ length, closed }: Track, along: number): number {
  if (!(length > 0)) return 0;
  const turns = along / length;
  const part = turns - Math.floor(turns);
  if (!closed && part < AT_END && turns >= 1) return length;
  if (!closed && turns < 0 && turns > -AT_END) return 0;
  return part * length;
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
export const emptyPlace = (): TrackPlace => ({
  position: [0.5, 0.5, 0.5],
  tangent: [0.5, 0.5, 0.5],
  roll: 0,
  width: 1,
  sample: 0,
  part: 0,
});

/** Where a track is at `along` metres; before its start and after its end it stays there. */
export const placeOn = (track: Track, along: number): TrackPlace => placeInto(emptyPlace(), track, along);

/** The same, put into a place that is there already: for many of them. */
export function placeInto(out: TrackPlace, track: Track, along: number): TrackPlace {
  const { positions: p, tangents: t, lengths, roll, width } = track;
  // A closed track ends where it begins.
  const at = along > 0 && !(track.closed && along >= track.length) ? (along < track.length ? along : track.length) : 0;
  const sample = sampleBefore(track, at);
  const next = sample + 1 < track.count ? sample + 1 : sample;
  const step = lengths[next] - lengths[sample];
  const part = step > 0 ? Math.min(1, (at - lengths[sample]) / step) : 0;
  const i = sample * 3;
  const j = next * 3;
  const e = 1 - part;
  const h1 = part * part * (3 - 2 * part);
  const h2 = part * e * e * step;
  const h3 = part * part * e * step;
  const tx = t[i] * e + t[j] * part,
    ty = t[i + 1] * e + t[j + 1] * part,
    tz = t[i + 2] * e + t[j + 2] * part;
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
