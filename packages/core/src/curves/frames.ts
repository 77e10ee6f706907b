import type { Vec3 } from '../maths/vector.ts';
import type { Track } from './track.ts';
import { angleAbout, carryAlong, square, turnAbout, turnOnto } from './transport.ts';
import { beside, closingAngle, upTwist } from './up-twist.ts';

/**
 * How a cross-section lies at each sample of a track: its first axis along the normal, its second along the binormal,
 * turned by the twist. Both are of length 1 and square to the tangent; at corners they are drawn out into the plane that
 * halves the corner (a mitre), so that what is swept keeps its thickness.
 */
export interface Frames {
  readonly normals: Float64Array;
  readonly binormals: Float64Array;
  /** Radians at each sample, on top of the roll; between samples it goes straight. Undefined is none. */
  readonly twist: Float64Array | undefined;
  /** Whether a turn could as well have gone the other way round, since it is half a turn. */
  readonly isArbitrary: boolean;
}

/** A track with its frames. */
export interface Rail {
  readonly track: Track;
  readonly frames: Frames;
}

/** How the frames of a track are chosen. */
export interface FrameOptions {
  /** `least`: from the first on they turn only as the curve does. `up`: each is turned towards `up`. */
  readonly by: 'least' | 'up';
  /** Where normals point, or the first of them. */
  readonly up: Vec3;
  /** Whole turns added over the length. */
  readonly turns?: number;
  /** The curve at rest, with its frames: then the first normal is that of rest, turned as little as can be. */
  readonly rest?: { readonly track: Track; readonly frames: Frames };
  /** `piece`: up to a corner frames belong to the piece before, and after it to the next. Else both share one there. */
  readonly corners?: 'shared' | 'piece';
}

/** Corners whose half angle has a larger tangent (about 150°) are cut off. */
const SHARPEST = 3.8;

/**
 * Rotation-minimising frames. On a closed track the angle that is missing where it meets itself is spread over the length;
 * with a rest curve, each rest frame is turned onto the tangent of now by the least angle instead (DECISIONS 22), which
 * depends on nothing but the two curves. Frames towards up are these, turned: where the curve itself goes up or down
 * they turn on evenly from where up begins to tell nothing to where it tells something again (DECISIONS 32).
 */
export function framesOf(track: Track, options: FrameOptions): Frames {
  const { count, tangents, corners } = track;
  const normals = new Float64Array(count * 3);
  const { rest } = options;
  const isBound = rest !== undefined && track.closed && rest.track.count > 0;
  // Where a twist follows, it is on top of the same carried normals as at rest, so that an unchanged curve has equal frames.
  if (rest) normals.set(isBound || options.by === 'up' ? carriedNormal(rest, 0) : restNormal(rest, 0));
  if (rest) turnOnto(normals, 0, rest.track.tangents, 0, tangents, 0);
  if (!rest || !square(normals, 0, tangents, 0)) startUp(normals, tangents, options.up);
  carryAlong(normals, track);
  let twist: Float64Array | undefined;
  let isArbitrary = false;
  if (isBound) twist = restTwist(normals, track, rest);
  else {
    const up = options.by === 'up' ? upTwist(track, normals, options.up) : undefined;
    if (up) ({ twist, isArbitrary } = up);
    else if (track.closed) twist = evenTwist(track, closingAngle(normals, track));
  }
  if (options.turns) {
    const more = evenTwist(track, options.turns * 2 * Math.PI);
    twist = twist ? twist.map((a, i) => a + more[i]) : more;
  }
  // A twist that grows slowly is put into the normals themselves, which saves turning every point of a section.
  if (twist && !corners && isSlow(twist)) {
    for (let i = 0; i < count; i++) turnAbout(normals, i * 3, tangents, i * 3, twist[i]);
    twist = undefined;
  }
  if (twist && corners && options.corners !== 'piece') shareCorners(twist, track, closingAngle(normals, track));
  const binormals = new Float64Array(count * 3);
  for (let i = 0; i < count * 3; i += 3) {
    const tx = tangents[i],
      ty = tangents[i + 1],
      tz = tangents[i + 2];
    const nx = normals[i],
      ny = normals[i + 1],
      nz = normals[i + 2];
    binormals[i] = ty * nz - tz * ny;
    binormals[i + 1] = tz * nx - tx * nz;
    binormals[i + 2] = tx * ny - ty * nx;
  }
  if (corners && options.corners !== 'piece') mitre(normals, binormals, track);
  return { normals, binormals, twist, isArbitrary };
}

/** The first normal: up, made square. Straight up itself it is x, and along x it is z: the same at every frame. */
function startUp(normals: Float64Array, tangents: Readonly<Float64Array>, up: Vec3): void {
  for (const direction of [up, [1, 0, 0], [0, 0, 1]] as const) {
    normals.set(direction, 0);
    if (square(normals, 0, tangents, 0)) return;
  }
}

/** The normal of a frame at a sample, not drawn out to a mitre. */
function carriedNormal({ track, frames }: { track: Track; frames: Frames }, i: number): Float64Array {
  const n = frames.normals.slice(i * 3, i * 3 + 3);
  square(n, 0, track.tangents, i * 3);
  return n;
}

/** The same, turned by the twist. */
function restNormal(rest: { track: Track; frames: Frames }, i: number): Float64Array {
  const n = carriedNormal(rest, i);
  const { track, frames } = rest;
  if (frames.twist) turnAbout(n, 0, track.tangents, i * 3, frames.twist[i]);
  return n;
}

/** The sample of a rest track that belongs to one of now: the same of the same segment; else by share of the samples. */
function restSamples(now: Track, rest: Track): Int32Array {
  const out = new Int32Array(now.count);
  const segments = now.knots.length - 1;
  const alike = segments === rest.knots.length - 1;
  for (let i = 0, g = 0; i < now.count; i++) {
    if (!alike) {
      out[i] = now.count > 1 ? Math.round((i / (now.count - 1)) * (rest.count - 1)) : 0;
      continue;
    }
    while (g + 1 < segments && i >= now.knots[g + 1]) g++;
    const end = g + 1 < segments ? rest.knots[g + 1] - 1 : rest.count - 1;
    out[i] = Math.min(rest.knots[g] + i - now.knots[g], Math.max(end, rest.knots[g]));
  }
  return out;
}

/** The twist that takes carried normals to those of rest, each turned onto the tangent of now. */
function restTwist(normals: Readonly<Float64Array>, track: Track, rest: { track: Track; frames: Frames }): Float64Array {
  const from = restSamples(track, rest.track);
  const twist = new Float64Array(track.count);
  for (let i = 0; i < track.count; i++) {
    const n = restNormal(rest, from[i]);
    turnOnto(n, 0, rest.track.tangents, from[i] * 3, track.tangents, i * 3);
    const angle = square(n, 0, track.tangents, i * 3) ? angleAbout(normals, i * 3, n, 0, track.tangents, i * 3) : 0;
    twist[i] = i > 0 ? beside(twist[i - 1], angle) : angle;
  }
  return twist;
}

/** A twist that grows with the length to an angle. */
function evenTwist({ count, lengths, length }: Track, angle: number): Float64Array {
  const out = new Float64Array(count);
  for (let i = 0; i < count; i++) out[i] = angle * (length > 0 ? lengths[i] / length : i / Math.max(1, count - 1));
  return out;
}

/** Whether neighbours differ by less than what a straight line between their normals still tells well. */
function isSlow(twist: Readonly<Float64Array>): boolean {
  for (let i = 1; i < twist.length; i++) if (Math.abs(twist[i] - twist[i - 1]) > 0.25) return false;
  return true;
}

/** Gives both sides of each corner the mean of their twists. @param closing what normals miss where a closed track meets itself */
function shareCorners(twist: Float64Array, track: Track, closing: number): void {
  for (let i = 0; i < track.count; i++) {
    const j = otherSide(track, i);
    if (j < 0) continue;
    const half = (beside(twist[i], twist[j] + (j < i ? closing : 0)) - twist[i]) / 2;
    twist[i] += half;
    twist[j] -= half;
  }
}

/** The other side of a corner that a sample is the first side of, −1 for none: on a closed track also its first sample. */
export function otherSide({ count, corners, closed, lengths }: Track, i: number): number {
  if (!corners?.[i]) return -1;
  const j = i + 1 < count ? i + 1 : 0;
  return corners[j] && (j === 0 ? closed : lengths[j] === lengths[i]) ? j : -1;
}

/** How a track turns at a corner: `axis` of the turn, the middle of both tangents, and the tangent of half the angle. */
interface Corner {
  readonly axis: readonly number[];
  readonly middle: readonly number[];
  readonly half: number;
}

/** Undefined where a track goes straight on, or straight back: then no plane lies between. */
function cornerAt({ tangents: t }: Track, i: number, j: number): Corner | undefined {
  const [a, b] = [t.subarray(i * 3, i * 3 + 3), t.subarray(j * 3, j * 3 + 3)];
  const axis = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const middle = [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
  const [sine, twice] = [Math.hypot(...axis), Math.hypot(...middle)];
  if (!(sine > 1e-12 && twice > 1e-6)) return undefined;
  return { axis: axis.map((v) => v / sine), middle: middle.map((v) => v / twice), half: sine / ((twice * twice) / 2) };
}

/**
 * Draws frames out along their tangents into the plane that halves their corner. The part square to the tangent stays, so
 * that a section keeps its thickness; at corners that are too sharp the two sides part again.
 */
function mitre(normals: Float64Array, binormals: Float64Array, track: Track): void {
  const { count, tangents: t, lengths, corners } = track;
  for (let i = 0; i < count; i++) {
    const j = otherSide(track, i);
    const corner = j < 0 ? undefined : cornerAt(track, i, j);
    if (!corner) continue;
    const { axis, half } = corner;
    const by = half <= SHARPEST ? half : SHARPEST ** 2 / half;
    for (const at of [i, j]) {
      const o = at * 3;
      // Across the axis, square to the tangent: what is on the outside is drawn out, what is on the inside in.
      const e = [
        axis[1] * t[o + 2] - axis[2] * t[o + 1],
        axis[2] * t[o] - axis[0] * t[o + 2],
        axis[0] * t[o + 1] - axis[1] * t[o],
      ];
      for (const v of [normals, binormals]) {
        const along = (v[o] * e[0] + v[o + 1] * e[1] + v[o + 2] * e[2]) * by * (at === i ? -1 : 1);
        for (let k = 0; k < 3; k++) v[o + k] += along * t[o + k];
      }
    }
    // Doubled points there lie as it does.
    for (let k = i; k > 0 && lengths[k - 1] === lengths[i] && !corners?.[k - 1]; k--)
      for (const v of [normals, binormals]) v.copyWithin(k * 3 - 3, k * 3, k * 3 + 3);
  }
}

/** Normal and binormal of the one ring that a sweep has at a sample: at a corner in the plane that halves it. */
export function ringFrame(track: Track, { normals, binormals }: Frames, i: number): [Float64Array, Float64Array] {
  const frame: [Float64Array, Float64Array] = [normals.slice(i * 3, i * 3 + 3), binormals.slice(i * 3, i * 3 + 3)];
  const j = otherSide(track, i);
  const corner = j < 0 ? undefined : cornerAt(track, i, j);
  if (!corner || corner.half <= SHARPEST) return frame;
  // Sharper ones are cut off at a length.
  const { axis, middle: m } = corner;
  const t = track.tangents.subarray(i * 3, i * 3 + 3);
  const across = (d: ArrayLike<number>) => [
    axis[1] * d[2] - axis[2] * d[1],
    axis[2] * d[0] - axis[0] * d[2],
    axis[0] * d[1] - axis[1] * d[0],
  ];
  const [before, between] = [across(t), across(m)];
  const longest = Math.hypot(1, SHARPEST);
  for (const v of frame) {
    const along = v[0] * axis[0] + v[1] * axis[1] + v[2] * axis[2];
    const out = (v[0] * before[0] + v[1] * before[1] + v[2] * before[2]) * longest;
    for (let k = 0; k < 3; k++) v[k] = axis[k] * along + between[k] * out;
  }
  return frame;
}
