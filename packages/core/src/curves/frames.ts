import type { Vec3 } from '../maths/vector.ts';
import type { Track } from './track.ts';

/** Two directions square to the tangent at each sample of a track: normal, and binormal = tangent × normal; unit. */
export interface Frames {
  readonly normals: Float64Array;
  readonly binormals: Float64Array;
}

/** How the frames of a track are chosen. */
export interface FrameOptions {
  /** `turning least`: from the first on they turn only as the curve does. `up`: each is turned towards `up`. */
  readonly by: 'least' | 'up';
  /** Where normals point, or the first of them. */
  readonly up: Vec3;
  /** Whole turns added over the length. */
  readonly turns?: number;
  /** The curve at rest, with its frames: then the first normal is that of rest, turned as little as can be. */
  readonly rest?: { readonly track: Track; readonly frames: Frames };
}

/**
 * Rotation-minimising frames by double reflection (Wang, Jüttler, Zheng and Liu 2008). On a closed track the angle that
 * is missing where it meets itself is spread over the length; with a rest curve, each rest frame is turned onto the
 * tangent of now by the least angle instead (DECISIONS 22), which depends on nothing but the two curves.
 */
export function framesOf(track: Track, options: FrameOptions): Frames {
  const { count, tangents } = track;
  const normals = new Float64Array(count * 3);
  const binormals = new Float64Array(count * 3);
  const { rest } = options;
  if (rest && track.closed && rest.track.count > 0) followRest(normals, track, rest);
  else {
    if (rest) startLikeRest(normals, track, rest);
    else startUp(normals, tangents, options.up);
    if (options.by === 'up') allUp(normals, track, options.up);
    else reflect(normals, track);
    if (track.closed && options.by === 'least')
      spread(normals, track, closingAngle(normals, tangents, count));
  }
  if (options.turns) spread(normals, track, options.turns * 2 * Math.PI);
  for (let i = 0; i < count * 3; i += 3) {
    const tx = tangents[i], ty = tangents[i + 1], tz = tangents[i + 2]; // prettier-ignore
    const nx = normals[i], ny = normals[i + 1], nz = normals[i + 2]; // prettier-ignore
    binormals[i] = ty * nz - tz * ny;
    binormals[i + 1] = tz * nx - tx * nz;
    binormals[i + 2] = tx * ny - ty * nx;
  }
  return { normals, binormals };
}

/** Takes the part of a normal along the tangent away and brings it to length 1; false when nothing is left. */
function square(normals: Float64Array, o: number, tangents: Readonly<Float64Array>, t: number): boolean {
  const along =
    normals[o] * tangents[t] + normals[o + 1] * tangents[t + 1] + normals[o + 2] * tangents[t + 2];
  const x = normals[o] - along * tangents[t];
  const y = normals[o + 1] - along * tangents[t + 1];
  const z = normals[o + 2] - along * tangents[t + 2];
  const l = Math.sqrt(x * x + y * y + z * z);
  if (!(l > 1e-9)) return false;
  normals[o] = x / l;
  normals[o + 1] = y / l;
  normals[o + 2] = z / l;
  return true;
}

/** The first normal: up, made square. Straight up itself it is x, and along x it is z: the same at every frame. */
function startUp(normals: Float64Array, tangents: Readonly<Float64Array>, up: Vec3): void {
  for (const direction of [up, [1, 0, 0], [0, 0, 1]] as const) {
    normals.set(direction, 0);
    if (square(normals, 0, tangents, 0)) return;
  }
}

function startLikeRest(normals: Float64Array, track: Track, rest: { track: Track; frames: Frames }): void {
  normals.set(rest.frames.normals.subarray(0, 3), 0);
  turnOnto(normals, 0, rest.track.tangents, 0, track.tangents, 0);
  if (!square(normals, 0, track.tangents, 0)) startUp(normals, track.tangents, [0, 1, 0]);
}

/** Turns a vector by the least rotation that takes the tangent `a` onto `b`; opposite ones leave it. */
function turnOnto(
  v: Float64Array,
  o: number,
  from: Readonly<Float64Array>,
  a: number,
  to: Readonly<Float64Array>,
  b: number,
): void {
  const ax = from[a], ay = from[a + 1], az = from[a + 2]; // prettier-ignore
  const bx = to[b], by = to[b + 1], bz = to[b + 2]; // prettier-ignore
  const cosine = ax * bx + ay * by + az * bz;
  if (!(cosine > -1 + 1e-12)) return;
  const cx = ay * bz - az * by, cy = az * bx - ax * bz, cz = ax * by - ay * bx; // prettier-ignore
  const x = v[o], y = v[o + 1], z = v[o + 2]; // prettier-ignore
  const f = (cx * x + cy * y + cz * z) / (1 + cosine);
  v[o] = x * cosine + (cy * z - cz * y) + cx * f;
  v[o + 1] = y * cosine + (cz * x - cx * z) + cy * f;
  v[o + 2] = z * cosine + (cx * y - cy * x) + cz * f;
}

function followRest(normals: Float64Array, track: Track, rest: { track: Track; frames: Frames }): void {
  const { count } = track;
  for (let i = 0; i < count; i++) {
    // Curves with as many samples match one to one; others by their share.
    const j = count > 1 ? Math.round((i / (count - 1)) * (rest.track.count - 1)) : 0;
    for (let axis = 0; axis < 3; axis++) normals[i * 3 + axis] = rest.frames.normals[j * 3 + axis];
    turnOnto(normals, i * 3, rest.track.tangents, j * 3, track.tangents, i * 3);
    if (!square(normals, i * 3, track.tangents, i * 3) && i > 0) normals.copyWithin(i * 3, i * 3 - 3, i * 3);
  }
}

/** Carries the first normal along: reflected by the step, then by the change of tangent. */
function reflect(normals: Float64Array, track: Track): void {
  const { count, positions: p, tangents: t } = track;
  for (let i = 0, o = 0; i + 1 < count; i++, o += 3) {
    const q = o + 3;
    const vx = p[q] - p[o], vy = p[q + 1] - p[o + 1], vz = p[q + 2] - p[o + 2]; // prettier-ignore
    const c1 = vx * vx + vy * vy + vz * vz;
    let nx = normals[o], ny = normals[o + 1], nz = normals[o + 2]; // prettier-ignore
    let sx = t[o], sy = t[o + 1], sz = t[o + 2]; // prettier-ignore
    if (c1 > 0) {
      const twice = 2 / c1;
      const fn = twice * (vx * nx + vy * ny + vz * nz);
      const ft = twice * (vx * sx + vy * sy + vz * sz);
      nx -= fn * vx;
      ny -= fn * vy;
      nz -= fn * vz;
      sx -= ft * vx;
      sy -= ft * vy;
      sz -= ft * vz;
    }
    const wx = t[q] - sx, wy = t[q + 1] - sy, wz = t[q + 2] - sz; // prettier-ignore
    const c2 = wx * wx + wy * wy + wz * wz;
    if (c2 > 0) {
      const f = (2 / c2) * (wx * nx + wy * ny + wz * nz);
      nx -= f * wx;
      ny -= f * wy;
      nz -= f * wz;
    }
    // Square to the tangent and of length 1, as it is already but for rounding.
    const along = nx * t[q] + ny * t[q + 1] + nz * t[q + 2];
    nx -= along * t[q];
    ny -= along * t[q + 1];
    nz -= along * t[q + 2]; // prettier-ignore
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (l > 1e-9) {
      const one = 1 / l;
      normals[q] = nx * one;
      normals[q + 1] = ny * one;
      normals[q + 2] = nz * one;
      continue;
    }
    // Where the curve turns straight back there is no least turn: the normal before is kept.
    normals.copyWithin(q, o, o + 3);
    square(normals, q, t, q);
  }
}

function allUp(normals: Float64Array, track: Track, up: Vec3): void {
  const { count, tangents } = track;
  for (let i = 0; i < count; i++) {
    normals.set(up, i * 3);
    if (square(normals, i * 3, tangents, i * 3) || i === 0) continue;
    normals.copyWithin(i * 3, i * 3 - 3, i * 3);
    square(normals, i * 3, tangents, i * 3);
  }
  if (count > 0 && !square(normals, 0, tangents, 0)) startUp(normals, tangents, [1, 0, 0]);
}

/** The angle about the tangent from the last normal to the first. */
function closingAngle(n: Readonly<Float64Array>, t: Readonly<Float64Array>, count: number): number {
  const l = (count - 1) * 3;
  const cosine = n[0] * n[l] + n[1] * n[l + 1] + n[2] * n[l + 2];
  const cx = n[l + 1] * n[2] - n[l + 2] * n[1], cy = n[l + 2] * n[0] - n[l] * n[2], cz = n[l] * n[1] - n[l + 1] * n[0]; // prettier-ignore
  return Math.atan2(cx * t[0] + cy * t[1] + cz * t[2], cosine);
}

/** Turns normals about their tangents by an angle that grows with the length to `angle`. */
function spread(normals: Float64Array, track: Track, angle: number): void {
  const { count, tangents: t, lengths, length } = track;
  for (let i = 0, o = 0; i < count; i++, o += 3) {
    const a = angle * (length > 0 ? lengths[i] / length : i / Math.max(1, count - 1));
    const c = Math.cos(a);
    const s = Math.sin(a);
    const x = normals[o], y = normals[o + 1], z = normals[o + 2]; // prettier-ignore
    normals[o] = x * c + (t[o + 1] * z - t[o + 2] * y) * s;
    normals[o + 1] = y * c + (t[o + 2] * x - t[o] * z) * s;
    normals[o + 2] = z * c + (t[o] * y - t[o + 1] * x) * s;
  }
}
