import { inverseOf } from '../constraints/index.ts';
import { multiply, product, translation, type Matrix } from '../maths/matrix.ts';
import { decompose } from '../maths/factors.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Vec3 } from '../maths/vector.ts';
import { channelsMatrix } from './world.ts';

/** Channels found for a matrix, and how much of it they cannot hold. */
export interface FoundChannels {
  readonly values: Readonly<Record<string, number>>;
  /** The largest entry that is left over (shear), as a share of the matrix's size; 0 when they hold all of it. */
  readonly residual: number;
}

/**
 * The channels with which an object's own matrix is `local`, about its pivot and in its order of turns. Turns are those
 * nearest to `near` (degrees), so that no full turn is ever written (DECISIONS 10).
 */
export function channelsFor(object: ObjectRecord, local: Readonly<Matrix>, near: Vec3 = object.channels.rotate): FoundChannels {
  const { pivot } = object;
  const { order } = object.channels;
  const d = decompose(product(translation([-pivot[0], -pivot[1], -pivot[2]]), local, translation(pivot)), order);
  const rotate = unrolled(d.anglesInRadians.map((a) => (a * 180) / Math.PI) as unknown as Vec3, near, order);
  const translate = d.translate;
  const found = channelsMatrix({ translate, rotate, order, scale: d.scale }, pivot);
  const size = Math.max(1e-12, ...Array.from(local, Math.abs));
  const residual = Math.max(...Array.from(local, (v, i) => Math.abs(v - found[i]))) / size;
  const values: Record<string, number> = {};
  (['x', 'y', 'z'] as const).forEach((axis, i) => {
    values[`translate.${axis}`] = translate[i];
    values[`rotate.${axis}`] = rotate[i];
    values[`scale.${axis}`] = d.scale[i];
  });
  return { values, residual: residual < 1e-9 ? 0 : residual };
}

/** A number without the dust of computing. */
export const tidy = (v: number): number => Number(v.toFixed(9)) + 0;

/** A quarter turn about the middle axis, but for this many degrees: the two others cannot be told apart there. */
const LOCKED = 1e-6;

/**
 * The same rotation by turns nearest to others: whole turns added, or the other way round the middle axis. At a quarter
 * turn about the middle axis only the sum or the difference of the other two is known, and both share what it changes.
 */
export function unrolled(degrees: Vec3, near: Vec3, order: string): Vec3 {
  const [first, middle, last] = [0, 1, 2].map((i) => 'xyz'.indexOf(order[i]));
  const quarter = (((degrees[middle] % 180) + 180) % 180) - 90;
  if (Math.abs(quarter) < LOCKED) {
    const isCyclic = (middle - first + 3) % 3 === 1;
    const side = isCyclic === Math.sin((degrees[middle] * Math.PI) / 180) > 0 ? 1 : -1;
    // first − side · last is what is known of them.
    const off = degrees[first] - side * degrees[last] - (near[first] - side * near[last]);
    const half = (off - 360 * Math.round(off / 360)) / 2;
    const out: [number, number, number] = [...degrees];
    out[first] = near[first] + half;
    out[last] = near[last] - side * half;
    out[middle] += 360 * Math.round((near[middle] - out[middle]) / 360);
    return out;
  }
  const other = degrees.map((v, i) => (i === middle ? 180 - v : v + 180)) as unknown as Vec3;
  const nearest = (v: Vec3) => v.map((a, i) => a + 360 * Math.round((near[i] - a) / 360)) as unknown as Vec3;
  const away = (v: Vec3) => v.reduce((sum, a, i) => sum + (a - near[i]) ** 2, 0);
  const [a, b] = [nearest(degrees), nearest(other)];
  return away(b) < away(a) - 1e-9 ? b : a;
}

/**
 * Channels with which an object stands at `world` in a space (`P × C`); undefined where the space cannot be inverted.
 */
export function channelsToStandAt(
  object: ObjectRecord,
  world: Readonly<Matrix>,
  space: Readonly<Matrix>,
  near?: Vec3,
): FoundChannels | undefined {
  const inverse = inverseOf(space);
  return inverse && channelsFor(object, multiply(inverse, inverse, world), near);
}
