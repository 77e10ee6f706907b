import type { Vec3 } from '../maths/vector.ts';

/** An axis-aligned box. An empty one has low = +∞ and high = −∞. */
export interface Bounds {
  low: Vec3;
  high: Vec3;
}

/** Bounds of packed xyz positions; values that are not finite are left out. */
export function boundsOf(positions: Readonly<Float32Array>): Bounds {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let axis = 0; axis < 3; axis++) {
    let l = Infinity;
    let h = -Infinity;
    for (let i = axis; i < positions.length; i += 3) {
      const v = positions[i];
      if (v < l && v > -Infinity) l = v;
      if (v > h && v < Infinity) h = v;
    }
    low[axis] = l;
    high[axis] = h;
  }
  return { low, high };
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
