import { identity, matrixAt, multiply, positionOf, type Matrix } from '../maths/matrix.ts';
import { cross, dot, length, normalize, subtract, type Vec3 } from '../maths/vector.ts';
import { moveWith, type Chain } from './chain.ts';
import { turnAboutAxis, turned } from './turns.ts';

export type Folding = 'folded' | 'no-plane';

/** How often a distance is tried; each costs a pass over the bones. */
const TRIES = 40;

/**
 * Brings the ends of a path as far apart as asked, as evenly as can be: to make it longer every joint undoes the same share
 * of its bend, all of it where the path is straight; to make it shorter every joint bends by the same angle about one
 * normal. Stiff joints do less. Where no share gives the distance, the nearest is taken.
 * @param worlds written to. @param normal square to the plane it curls in; needed where it must become shorter.
 */
export function fold(
  chain: Chain,
  worlds: Float64Array,
  path: readonly number[],
  distance: number,
  normal: Vec3 | undefined,
  stiffness: readonly number[],
): Folding {
  const places = path.map((j) => positionOf(matrixAt(worlds, j)));
  const bones = path.slice(1).map((_, i) => subtract(places[i + 1], places[i]));
  const free = stiffness.map((s) => Math.max(0, 1 - s));
  const now = length(subtract(places[places.length - 1], places[0]));
  const size = bones.reduce((sum, b) => sum + length(b), 0);
  if (Math.abs(now - distance) <= 1e-12 * size) return 'folded';
  const isLonger = distance > now;
  if (!isLonger && !normal) return 'no-plane';
  // For each joint but the first: about what it turns, and by how much at a share of 1.
  const axes: Vec3[] = [];
  const angles: number[] = [];
  const joints = bones.length;
  for (let i = 1; i < joints; i++) {
    if (!isLonger) {
      axes.push(normal as Vec3);
      angles.push((free[i] * 2 * Math.PI) / joints);
      continue;
    }
    const [a, b] = [normalize(bones[i - 1]), normalize(bones[i])];
    const across = cross(b, a);
    axes.push(length(across) > 1e-12 ? normalize(across) : (normal ?? [0, 0, 1]));
    angles.push(free[i] * Math.atan2(length(across), dot(a, b)));
  }
  const gap = (share: number) => length(endOf(bones, axes, angles, share)) - distance;
  const share = findShare(gap, isLonger);
  for (let i = joints - 1; i >= 1; i--)
    moveWith(chain, worlds, path[i], turnAboutAxis(places[i], axes[i - 1], angles[i - 1] * share));
  return 'folded';
}

/** Where the tip is from the root, when each joint has turned its share. */
function endOf(bones: readonly Vec3[], axes: readonly Vec3[], angles: readonly number[], share: number): Vec3 {
  const turn: Matrix = identity();
  let [x, y, z] = bones[0];
  for (let i = 1; i < bones.length; i++) {
    multiply(turn, turn, turnAboutAxis([0, 0, 0], axes[i - 1], angles[i - 1] * share));
    const b = turned(turn, bones[i]);
    x += b[0];
    y += b[1];
    z += b[2];
  }
  return [x, y, z];
}

/** The first share from 0 on at which the gap closes: by steps, then by regula falsi (Illinois). 1 where it never does. */
function findShare(gap: (share: number) => number, isLonger: boolean): number {
  const steps = isLonger ? 4 : 8;
  let low = 0;
  let atLow = gap(0);
  for (let k = 1; k <= steps; k++) {
    let high = k / steps;
    let atHigh = gap(high);
    if (atLow * atHigh <= 0) {
      let side = 0;
      for (let i = 0; i < TRIES && high - low > 1e-15; i++) {
        const at = (low * atHigh - high * atLow) / (atHigh - atLow);
        const g = gap(at);
        if (g === 0) return at;
        if (g * atHigh > 0) {
          high = at;
          atHigh = g;
          if (side === 1) atLow /= 2;
          side = 1;
        } else {
          low = at;
          atLow = g;
          if (side === -1) atHigh /= 2;
          side = -1;
        }
        if (Math.abs(g) < 1e-13) return at;
      }
      return (low * atHigh - high * atLow) / (atHigh - atLow);
    }
    low = high;
    atLow = atHigh;
  }
  return 1;
}
