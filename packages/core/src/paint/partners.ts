import { boundsCentre, boundsOf, boundsSize } from '../geometry/bounds.ts';
import { SpatialIndex } from '../nearest/spatial-index.ts';

/** A partner may be off by this share of the size. */
const NEAR = 2e-3;

/** Which points are partners across a plane, and on which side of it each lies: 1 where the axis goes on, −1, or 0 in it. */
export interface Partners {
  readonly partners: Int32Array;
  readonly sides: Int8Array;
}

/**
 * For every point the one on the other side of the plane through the middle, square to an axis; −1 where none is near
 * enough. @param positions at rest, xyz each
 */
export function partnersAcross(positions: Readonly<Float32Array>, axis: 0 | 1 | 2): Partners {
  const count = positions.length / 3;
  const out = new Int32Array(count).fill(-1);
  const sides = new Int8Array(count);
  if (count === 0) return { partners: out, sides };
  const bounds = boundsOf(positions);
  const twice = boundsCentre(bounds)[axis] * 2;
  const near = (Math.max(...boundsSize(bounds)) * NEAR) ** 2;
  const index = new SpatialIndex(positions, 1);
  const at: [number, number, number] = [0, 0, 0];
  for (let p = 0; p < count; p++) {
    for (let k = 0; k < 3; k++) at[k] = positions[p * 3 + k];
    sides[p] = Math.sign(2 * at[axis] - twice);
    at[axis] = twice - at[axis];
    const q = index.nearest(at[0], at[1], at[2]);
    if (q >= 0 && index.distanceSquared <= near) out[p] = q;
    // A partner of its own lies in the plane.
    if (out[p] === p) sides[p] = 0;
  }
  return { partners: out, sides };
}
