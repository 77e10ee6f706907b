import { transformPoint, type Matrix } from '../maths/matrix.ts';
import { distanceOf } from './distance.ts';
import type { Falloff } from './falloff.ts';
import { gaugeAt } from './gauge.ts';

/**
 * How far beyond the outer end of a falloff points begin, metres: of a shape along the line to its centre, of geometry by
 * the distance to it. Undefined where a point is within, and of falloffs without an outer end (mixes, noise, turned round).
 * @param positions xyz × points, world space; those that are not finite are left out
 */
export function beyondReach(f: Falloff, positions: Readonly<Float32Array>): number | undefined {
  const beyond = beyondOf(f);
  if (!beyond) return undefined;
  let least = Infinity;
  for (let o = 0; o < positions.length; o += 3) {
    const [x, y, z] = [positions[o], positions[o + 1], positions[o + 2]];
    if ((x + y + z) * 0 === 0) least = Math.min(least, beyond(x, y, z));
  }
  return least > 0 && Number.isFinite(least) ? least : undefined;
}

type Beyond = (x: number, y: number, z: number) => number;

function beyondOf(f: Falloff): Beyond | undefined {
  if (f.type !== 'shape' && f.type !== 'surface' && f.type !== 'curve') return undefined;
  const { inner, outer, invert } = f.fade;
  if (invert || inner > outer) return undefined;
  if (f.type === 'shape') return f.shape === 'plane' ? beyondPlane(f.inverse, outer) : beyondShape(f, outer);
  // In widths of a curve, an end has no one distance.
  if (f.type === 'curve' && f.useWidth) return undefined;
  const distance = distanceOf(f);
  return (x, y, z) => distance(x, y, z, Infinity) - outer;
}

function beyondShape({ shape, rounding, world, inverse }: Extract<Falloff, { type: 'shape' }>, outer: number): Beyond {
  return (x, y, z) => {
    const gauge = gaugeAt(shape, rounding, ...transformPoint(inverse, [x, y, z]));
    // The gauge grows evenly along a line from the centre.
    return Math.hypot(x - world[12], y - world[13], z - world[14]) * (1 - outer / gauge);
  };
}

/** Along the normal of the plane, which its height grows along. */
function beyondPlane(m: Readonly<Matrix>, outer: number): Beyond {
  const slope = Math.hypot(m[1], m[5], m[9]);
  return (x, y, z) => (m[1] * x + m[5] * y + m[9] * z + m[13] - outer) / slope;
}
