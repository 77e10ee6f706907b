import { memoize } from '../memo.ts';
import { SpatialIndex } from '../nearest/spatial-index.ts';
import type { Curves } from './curves.ts';
import { emptyPlace, placeInto, type TrackPlace } from './on-track.ts';
import { tracksOf, type Track } from './track.ts';

/** The samples of curves as segments, to be near to: the width at each sample, the track of each, each track's first. */
export const segmentsOf = memoize((curves: Curves) => {
  const tracks = tracksOf(curves);
  const samples = tracks.reduce((n, t) => n + t.count, 0);
  const positions = new Float32Array(samples * 3);
  const width = new Float32Array(samples);
  const corners: number[] = [];
  const owners: number[] = [];
  const starts: number[] = [];
  let at = 0;
  tracks.forEach((t, track) => {
    positions.set(t.positions, at * 3);
    starts.push(owners.length);
    width.set(t.width, at);
    const add = (a: number, b: number) => {
      corners.push(at + a, at + b);
      owners.push(track);
    };
    for (let i = 0; i + 1 < t.count; i++) add(i, i + 1);
    if (t.count === 1) add(0, 0);
    at += t.count;
  });
  const ends = Int32Array.from(corners);
  return { index: new SpatialIndex(positions, 2, ends), positions, ends, width, owners: Int32Array.from(owners), starts };
});

/** What the last search found; the same object each time. */
export interface NearestOnCurves {
  readonly place: TrackPlace;
  /** Metres from the start of its spline. */
  along: number;
  /** The same as a share of the length of its spline, 0..1. */
  fraction: number;
  /** Metres from where was searched. */
  distance: number;
  /** The spline on which the nearest place is; −1 when that cannot be told (the place or the spline is not finite). */
  readonly find: (x: number, y: number, z: number) => number;
}

/**
 * A search for the nearest place on curves. The nearest of the straight pieces between samples is found first, ties going
 * to the first of them; then the place on the curve itself that is square to the way there, or its end, or a corner.
 */
export function nearestOnCurves(curves: Curves): NearestOnCurves {
  const tracks = tracksOf(curves);
  const { index, owners, starts } = segmentsOf(curves);
  let last = -1;
  const search: NearestOnCurves = {
    place: emptyPlace(),
    along: 0,
    fraction: 0,
    distance: 0,
    find(x, y, z) {
      const found = index.nearest(x, y, z, Infinity, last);
      last = found;
      if (found < 0) return -1;
      const spline = owners[found];
      const track = tracks[spline];
      // How far along is not known where a point of the spline is not finite.
      if (!Number.isFinite(track.length)) return -1;
      const along = track.length > 0 ? squareTo(track, found - starts[spline], x, y, z) : 0;
      // A closed spline ends where it begins, and that place is its beginning.
      search.along = track.closed && along >= track.length ? 0 : along;
      search.fraction = track.length > 0 ? search.along / track.length : 0;
      placeInto(search.place, track, search.along);
      const [px, py, pz] = search.place.position;
      search.distance = Math.sqrt((px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2);
      return spline;
    },
  };
  return search;
}

/** Rounds within which a place is found to the last digits. */
const ROUNDS = 60;
/** A share of a segment that does not matter. */
const CLOSE = 1e-13;

/**
 * Where a track is square to the way to a place, metres along, beginning at the segment after a sample. How far the place
 * is ahead falls through 0 there: found between brackets by chords (the Illinois method). Where the place is beyond an
 * end of the segment, the neighbour is tried, unless there is a corner or an end of the track between them.
 */
function squareTo(track: Track, nearest: number, x: number, y: number, z: number): number {
  const { lengths, count, closed, corners } = track;
  const segments = count - 1;
  if (segments < 1) return 0;
  let i = nearest;
  let side = 0;
  // A straight piece that is nearest is beside the place on the curve, or has it: two steps are enough.
  for (let tries = 0; tries < 3; tries++) {
    const isBefore = aheadOn(track, i, 0, x, y, z) <= 0;
    const isBeyond = !isBefore && aheadOn(track, i, 1, x, y, z) >= 0;
    if (!isBefore && !isBeyond) return rootOn(track, i, x, y, z);
    const way = isBeyond ? 1 : -1;
    const end = isBeyond ? i + 1 : i;
    const isEnd = !closed && (end === 0 || end === segments);
    // Coming back from the neighbour, the place is the sample between them.
    if (isEnd || corners?.[end] === 1 || side === -way) return lengths[end];
    side = way;
    i = (i + way + segments) % segments;
  }
  return lengths[i];
}

/** Where on the segment after a sample the place is neither ahead nor behind, metres along. */
function rootOn(track: Track, i: number, x: number, y: number, z: number): number {
  let from = 0;
  let to = 1;
  let a = aheadOn(track, i, from, x, y, z);
  let b = aheadOn(track, i, to, x, y, z);
  let part = 0;
  let before = 0;
  for (let round = 0; round < ROUNDS && to - from > CLOSE; round++) {
    part = from + ((to - from) * a) / (a - b);
    if (!(part > from && part < to)) part = (from + to) / 2;
    const here = aheadOn(track, i, part, x, y, z);
    if (here === 0) break;
    if (here > 0) {
      from = part;
      a = here;
      if (before > 0) b /= 2;
    } else {
      to = part;
      b = here;
      if (before < 0) a /= 2;
    }
    before = here;
  }
  return track.lengths[i] + part * (track.lengths[i + 1] - track.lengths[i]);
}

/** How far a place is ahead of `part` of the way from a sample to the next, times how fast the track runs there. */
function aheadOn(track: Track, i: number, part: number, x: number, y: number, z: number): number {
  const { positions: p, tangents: t, lengths } = track;
  const step = lengths[i + 1] - lengths[i];
  const e = 1 - part;
  const h1 = part * part * (3 - 2 * part);
  const h2 = part * e * e * step;
  const h3 = part * part * e * step;
  const d1 = 6 * part * e;
  const d2 = e * (1 - 3 * part) * step;
  const d3 = part * (2 - 3 * part) * step;
  let ahead = 0;
  for (let axis = 0; axis < 3; axis++) {
    const a = i * 3 + axis;
    const chord = p[a + 3] - p[a];
    const at = p[a] + chord * h1 + t[a] * h2 - t[a + 3] * h3;
    ahead += ((axis === 0 ? x : axis === 1 ? y : z) - at) * (chord * d1 + t[a] * d2 - t[a + 3] * d3);
  }
  return ahead;
}
