import type { Track } from './track.ts';

/** A closing step shorter than this share of the length has no direction of its own. */
const NO_STEP = 1e-10;

/** Takes the part of a normal along the tangent away and brings it to length 1; false when nothing is left. */
export function square(normals: Float64Array, o: number, tangents: Readonly<Float64Array>, t: number): boolean {
  const along = normals[o] * tangents[t] + normals[o + 1] * tangents[t + 1] + normals[o + 2] * tangents[t + 2];
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

/** Turns a vector by the least rotation that takes the tangent `a` onto `b`; opposite ones leave it. */
export function turnOnto(
  v: Float64Array,
  o: number,
  from: Readonly<Float64Array>,
  a: number,
  to: Readonly<Float64Array>,
  b: number,
): void {
  const ax = from[a],
    ay = from[a + 1],
    az = from[a + 2];
  const bx = to[b],
    by = to[b + 1],
    bz = to[b + 2];
  const cosine = ax * bx + ay * by + az * bz;
  if (!(cosine > -1 + 1e-12)) return;
  const cx = ay * bz - az * by,
    cy = az * bx - ax * bz,
    cz = ax * by - ay * bx;
  const x = v[o],
    y = v[o + 1],
    z = v[o + 2];
  const f = (cx * x + cy * y + cz * z) / (1 + cosine);
  v[o] = x * cosine + (cy * z - cz * y) + cx * f;
  v[o + 1] = y * cosine + (cz * x - cx * z) + cy * f;
  v[o + 2] = z * cosine + (cx * y - cy * x) + cz * f;
}

/** Turns a unit vector that is square to a tangent about it. */
export function turnAbout(v: Float64Array, o: number, t: Readonly<Float64Array>, a: number, angleInRadians: number): void {
  const c = Math.cos(angleInRadians);
  const s = Math.sin(angleInRadians);
  const x = v[o],
    y = v[o + 1],
    z = v[o + 2];
  v[o] = x * c + (t[a + 1] * z - t[a + 2] * y) * s;
  v[o + 1] = y * c + (t[a + 2] * x - t[a] * z) * s;
  v[o + 2] = z * c + (t[a] * y - t[a + 1] * x) * s;
}

/** The angle about a tangent from one vector square to it to another, −π to π. */
export function angleAbout(
  from: Readonly<Float64Array>,
  a: number,
  to: Readonly<Float64Array>,
  b: number,
  t: Readonly<Float64Array>,
  o: number,
): number {
  const ax = from[a],
    ay = from[a + 1],
    az = from[a + 2];
  const bx = to[b],
    by = to[b + 1],
    bz = to[b + 2];
  const cx = ay * bz - az * by,
    cy = az * bx - ax * bz,
    cz = ax * by - ay * bx;
  return Math.atan2(cx * t[o] + cy * t[o + 1] + cz * t[o + 2], ax * bx + ay * by + az * bz);
}

/**
 * Carries the first normal along a track by double reflection (Wang, Jüttler, Zheng and Liu 2008): reflected by the step,
 * then by the change of tangent. One reflection alone would mirror: where there is no step (a corner, a doubled point),
 * or nothing is left for the second, the normal is turned by the least rotation between the tangents instead.
 */
export function carryAlong(normals: Float64Array, track: Track): void {
  const { count, positions: p, tangents: t, length } = track;
  const short = (length * NO_STEP) ** 2;
  for (let i = 0, o = 0; i + 1 < count; i++, o += 3) {
    const q = o + 3;
    const vx = p[q] - p[o],
      vy = p[q + 1] - p[o + 1],
      vz = p[q + 2] - p[o + 2];
    const c1 = vx * vx + vy * vy + vz * vz;
    let nx = normals[o],
      ny = normals[o + 1],
      nz = normals[o + 2];
    let isCarried = false;
    if (c1 > short) {
      const twice = 2 / c1;
      const fn = twice * (vx * nx + vy * ny + vz * nz);
      const ft = twice * (vx * t[o] + vy * t[o + 1] + vz * t[o + 2]);
      const wx = t[q] - t[o] + ft * vx,
        wy = t[q + 1] - t[o + 1] + ft * vy,
        wz = t[q + 2] - t[o + 2] + ft * vz;
      const c2 = wx * wx + wy * wy + wz * wz;
      if (c2 > 1e-12) {
        nx -= fn * vx;
        ny -= fn * vy;
        nz -= fn * vz;
        const f = (2 / c2) * (wx * nx + wy * ny + wz * nz);
        nx -= f * wx;
        ny -= f * wy;
        nz -= f * wz;
        isCarried = true;
      }
    }
    normals[q] = nx;
    normals[q + 1] = ny;
    normals[q + 2] = nz;
    if (!isCarried) turnOnto(normals, q, t, o, t, q);
    // Square to the tangent and of length 1, as it is already but for rounding.
    if (!square(normals, q, t, q)) normals.copyWithin(q, o, o + 3);
  }
}
