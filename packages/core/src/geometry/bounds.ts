import type { Vec3 } from '../maths/vector.ts';

/** An axis-aligned box. An empty one has low = +∞ and high = −∞. */
export interface Bounds {
  low: Vec3;
  high: Vec3;
}

/** Bounds of packed xyz positions; places that are not finite are left out. */
export function boundsOf(positions: Readonly<Float32Array>): Bounds {
  let lx = Infinity,
    ly = Infinity,
    lz = Infinity,
    hx = -Infinity,
    hy = -Infinity,
    hz = -Infinity;
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i],
      y = positions[i + 1],
      z = positions[i + 2];
    if ((x + y + z) * 0 !== 0) continue;
    if (x < lx) lx = x;
    if (x > hx) hx = x;
    if (y < ly) ly = y;
    if (y > hy) hy = y;
    if (z < lz) lz = z;
    if (z > hz) hz = z;
  }
  return { low: [lx, ly, lz], high: [hx, hy, hz] };
}

/** The mean of packed xyz positions that are finite; undefined when none is. */
export function averageOf(positions: Readonly<Float32Array>): Vec3 | undefined {
  let sx = 0,
    sy = 0,
    sz = 0,
    n = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i],
      y = positions[i + 1],
      z = positions[i + 2];
    if ((x + y + z) * 0 !== 0) continue;
    sx += x;
    sy += y;
    sz += z;
    n++;
  }
  return n > 0 ? [sx / n, sy / n, sz / n] : undefined;
}

/** Centre of a box; (0, 0, 0) when it is empty. */
export function boundsCentre(b: Bounds): Vec3 {
  if (b.low[0] > b.high[0]) return [0, 0, 0];
  return [(b.low[0] + b.high[0]) / 2, (b.low[1] + b.high[1]) / 2, (b.low[2] + b.high[2]) / 2];
}

/** Lengths of a box along x, y, z; (0, 0, 0) when it is empty. */
export function boundsSize(b: Bounds): Vec3 {
  if (b.low[0] > b.high[0]) return [0, 0, 0];
  return [b.high[0] - b.low[0], b.high[1] - b.low[1], b.high[2] - b.low[2]];
}
