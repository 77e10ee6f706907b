import { arrivalOf, largest, smallest, type TrackRow } from '@umberfish/core';

/** What of the keys is seen: frames from left to right, and values from bottom to top. */
export interface KeysView {
  readonly from: number;
  readonly to: number;
  readonly low: number;
  readonly high: number;
}

export interface Box {
  readonly width: number;
  readonly height: number;
}

/** Room for the frame numbers at the top. */
export const RULER = 18;
export const ROW = 20;

export const xOf = (v: KeysView, box: Box, frame: number): number => ((frame - v.from) / (v.to - v.from)) * box.width;
export const frameAt = (v: KeysView, box: Box, x: number): number => v.from + (x / box.width) * (v.to - v.from);
export const yOf = (v: KeysView, box: Box, value: number): number =>
  RULER + (1 - (value - v.low) / (v.high - v.low)) * (box.height - RULER);
export const valueAt = (v: KeysView, box: Box, y: number): number =>
  v.low + (1 - (y - RULER) / (box.height - RULER)) * (v.high - v.low);

/** A view that holds all keys of rows (or only the range of the project when there are none), with some room. */
export function fitted(rows: readonly TrackRow[], range: { first: number; last: number }): KeysView {
  const keys = rows.flatMap((r) => r.track.keys);
  const frames = keys.map((k) => k.frame);
  const from = smallest(frames, range.first);
  const to = largest(frames, range.last);
  const values = keys.flatMap((k) => [
    k.value,
    arrivalOf(k),
    ...(k.shape === 'curve' ? [k.value + k.out[1], arrivalOf(k) + k.in[1]] : []),
  ]);
  const low = values.length > 0 ? smallest(values) : 0;
  const high = values.length > 0 ? largest(values) : 1;
  const room = high > low ? (high - low) * 0.12 : Math.max(0.5, Math.abs(high) * 0.2);
  const side = Math.max(1, (to - from) * 0.02);
  return { from: from - side, to: to + side, low: low - room, high: high + room };
}

/** Zooms frames by a factor about one of them. */
export const zoomed = (v: KeysView, factor: number, about: number): KeysView => {
  const span = Math.max(2, Math.min(1e6, (v.to - v.from) * factor));
  const share = (about - v.from) / (v.to - v.from);
  return { ...v, from: about - span * share, to: about + span * (1 - share) };
};

/** A round step so that marks stand at least so many pixels apart. */
export function stepFor(span: number, pixels: number, least: number): number {
  const raw = (span / Math.max(1, pixels)) * least;
  const power = 10 ** Math.floor(Math.log10(Math.max(raw, 1e-9)));
  return [1, 2, 5, 10].map((s) => s * power).find((s) => s >= raw) ?? raw;
}
