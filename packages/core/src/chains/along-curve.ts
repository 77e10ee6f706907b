import type { Rail } from '../curves/frames.ts';
import { placeOn } from '../curves/on-track.ts';
import type { Track } from '../curves/track.ts';
import { rotationMatrix } from '../maths/aim.ts';
import { identity, matrixAt, multiply, positionOf, type Matrix } from '../maths/matrix.ts';
import { add, cross, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import type { Chain } from './chain.ts';
import { squarePart, turned } from './turns.ts';

/** How joints are spread: bones keep their length, metres along the curve, or the whole curve. */
export type LaySpacing = 'bones' | 'along' | 'fit';

/** Where on a track joints of bones with these lengths come to lie, metres along it; beyond the ends they go on straight. */
export function placesAlong(
  track: Track,
  bones: ArrayLike<number>,
  spacing: LaySpacing,
  start: number,
  stretch: number,
): number[] {
  const from = start * track.length;
  const whole = Array.from(bones).reduce((a, b) => a + b, 0);
  const factor = (spacing === 'fit' && whole > 0 ? track.length / whole : 1) * stretch;
  const places = [from];
  for (let i = 0; i < bones.length; i++) {
    const bone = bones[i] * factor;
    const at = places[i];
    places.push(spacing === 'bones' ? chordEnd(track, at, bone) : at + bone);
  }
  return places;
}

/** The first place beyond another that is as far from it as a bone is long, in a straight line. */
function chordEnd(track: Track, from: number, bone: number): number {
  if (!(bone > 0)) return from;
  const start = pointAt(track, from);
  const far = (at: number) => length(subtract(pointAt(track, at), start)) - bone;
  // A chord is never longer than its arc; by how much it is shorter, steps find out.
  let low = from;
  let high = from + bone;
  let step = bone / 8;
  // On a closed curve, or one that turns back, a bone may be too long to end anywhere: it then ends as far as was looked.
  for (let i = 0; i < 200 && far(high) < 0; i++) {
    low = high;
    high += step;
    if (i > 100) step *= 1.5;
  }
  for (let i = 0; i < 60 && high - low > 1e-13 * (1 + Math.abs(high)); i++) {
    const middle = (low + high) / 2;
    if (far(middle) < 0) low = middle;
    else high = middle;
  }
  return high;
}

/** A place on a track, straight on beyond its ends; a closed one goes round. */
export function pointAt(track: Track, along: number): Vec3 {
  if (track.closed) {
    const at = ((along % track.length) + track.length) % track.length;
    return placeOn(track, at).position as unknown as Vec3;
  }
  const at = Math.min(Math.max(along, 0), track.length);
  const place = placeOn(track, at);
  const p = place.position as unknown as Vec3;
  return along === at ? [p[0], p[1], p[2]] : add(p as Vec3, scale(place.tangent as unknown as Vec3, along - at));
}

/** The normal of a rail there, turned by the roll of the curve. */
function normalAt({ track, frames }: Rail, along: number): Vec3 {
  const inside = track.closed
    ? ((along % track.length) + track.length) % track.length
    : Math.min(Math.max(along, 0), track.length);
  const place = placeOn(track, inside);
  const { sample: i, part } = place;
  const j = Math.min(i + 1, track.count - 1);
  const mixed = (data: Float64Array, axis: number) => data[i * 3 + axis] * (1 - part) + data[j * 3 + axis] * part;
  const n = normalize([0, 1, 2].map((a) => mixed(frames.normals, a)) as unknown as Vec3);
  const t = place.tangent as unknown as Vec3;
  const angle = place.roll + (frames.twist ? frames.twist[i] * (1 - part) + frames.twist[j] * part : 0);
  const b = cross([t[0], t[1], t[2]], n);
  return add(scale(n, Math.cos(angle)), scale(b, Math.sin(angle)));
}

/** Frames of bones between places on a rail: x along the bone, y the rail's normal, as far as that is square to it. */
export function boneFrames(rail: Rail, places: readonly number[], rollOf: (i: number) => number): Matrix[] {
  const points = places.map((p) => pointAt(rail.track, p));
  const frames: Matrix[] = [];
  for (let i = 0; i < points.length; i++) {
    const [a, b] = i + 1 < points.length ? [points[i], points[i + 1]] : [points[i - 1], points[i]];
    let along = normalize(subtract(b, a));
    const tangent = placeOn(rail.track, Math.min(Math.max(places[i], 0), rail.track.length)).tangent as unknown as Vec3;
    if (length(along) === 0) along = [tangent[0], tangent[1], tangent[2]];
    const n = normalAt(rail, places[i]);
    let y = normalize(squarePart(n, along));
    // A chord along the normal itself: the tangent tells what is beside it.
    if (length(y) < 0.5) y = normalize(squarePart([tangent[0], tangent[1], tangent[2]], along));
    const roll = rollOf(i);
    const z = cross(along, y);
    const yr = add(scale(y, Math.cos(roll)), scale(z, Math.sin(roll)));
    const frame = rotationMatrix(Float64Array.of(...along, ...yr, ...cross(along, yr)));
    frame.set(points[i], 12);
    frames.push(frame);
  }
  return frames;
}

/**
 * Lays the joints of a path on frames, by what those changed since others: `W = F · F₀⁻¹ · W₀`. What hangs beside the path
 * goes along with its joint, and what hangs below with the last.
 * @param from worlds that the frames of before belong to. @param worlds written to; the same as `from` at first.
 */
export function layOnFrames(
  chain: Chain,
  worlds: Float64Array,
  path: readonly number[],
  before: readonly Matrix[],
  now: readonly Matrix[],
): void {
  const from = worlds.slice();
  path.forEach((joint, i) => {
    const next = path[i + 1];
    const turn = identity();
    // F · F₀⁻¹ of two rigid frames: the rotation, then from the old place to the new.
    for (let c = 0; c < 3; c++)
      for (let r = 0; r < 3; r++)
        turn[c * 4 + r] = now[i][r] * before[i][c] + now[i][4 + r] * before[i][4 + c] + now[i][8 + r] * before[i][8 + c];
    const old = positionOf(before[i]);
    const put = positionOf(now[i]);
    const at = turned(turn, old);
    for (let k = 0; k < 3; k++) turn[12 + k] = put[k] - at[k];
    for (let j = joint; j < chain.ends[joint]; j++) {
      if (next !== undefined && j >= next && j < chain.ends[next]) continue;
      multiply(matrixAt(worlds, j), turn, matrixAt(from, j));
    }
  });
}

/** Straight distances from joint to joint of a path. */
export function bonesOf(worlds: Readonly<Float64Array>, path: readonly number[]): Float64Array {
  return Float64Array.from(path.slice(1), (j, i) =>
    length(subtract(positionOf(matrixAt(worlds, j)), positionOf(matrixAt(worlds, path[i])))),
  );
}
