import { segmentsOf } from '../curves/nearest-on.ts';
import { largest } from '../maths/extremes.ts';
import { indexOf } from '../nearest/shared.ts';
import { isClosed, makeSign } from '../nearest/signed.ts';
import type { Falloff } from './falloff.ts';

/** A falloff by the distance to geometry. */
export type DistanceFalloff = Extract<Falloff, { type: 'surface' | 'curve' }>;

/** How far a place is; what is farther than `within` may be given as Infinity, where that is quicker. */
export type Distance = (x: number, y: number, z: number, within: number) => number;

/**
 * How far places are from the geometry of a falloff, metres, as its fade counts it: negative inside a closed surface
 * when it is signed, in widths of a curve when those count. Infinity where nothing is near.
 */
export function distanceOf(f: DistanceFalloff): Distance {
  let last = -1;
  if (f.type === 'surface') {
    const index = indexOf(f.mesh, f.on);
    const sign = f.signed && f.on === 'faces' && isClosed(f.mesh) ? makeSign(f.mesh, index) : undefined;
    return (x, y, z, within) => {
      // Which side a place is on is known by what it is nearest to, however far.
      const found = index.nearest(x, y, z, sign ? Infinity : within, last);
      last = found;
      const d = found < 0 ? Infinity : Math.sqrt(index.distanceSquared);
      return sign && found >= 0 && sign(found, x, y, z) < 0 ? -d : d;
    };
  }
  const { index, ends, width } = segmentsOf(f.curves);
  return (x, y, z) => {
    const found = index.nearest(x, y, z, Infinity, last);
    last = found;
    const d = found < 0 ? Infinity : Math.sqrt(index.distanceSquared);
    if (!f.useWidth || found < 0) return d;
    const [a, b] = [width[ends[found * 2]], width[ends[found * 2 + 1]]];
    const w = a + (b - a) * index.weightB;
    return w > 0 ? d / w : Infinity;
  };
}

/** The places that a distance falloff is about, packed; and the largest width that counts, 1 where none does. */
export function placesOf(f: DistanceFalloff): { positions: Readonly<Float32Array>; widest: number } {
  if (f.type === 'surface') return { positions: f.mesh.positions, widest: 1 };
  const { positions, width } = segmentsOf(f.curves);
  return { positions, widest: f.useWidth ? largest(width, 0) : 1 };
}
