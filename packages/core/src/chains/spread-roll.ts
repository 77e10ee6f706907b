import { matrixAt, multiply, positionOf } from '../maths/matrix.ts';
import { multiplyQuaternions, type Quaternion } from '../maths/rotation.ts';
import { length, normalize, subtract, type Vec3 } from '../maths/vector.ts';
import { turnBetween } from '../maths/aim.ts';
import type { Chain } from './chain.ts';
import { turnOf } from './limits.ts';
import { rotationOf, turnAboutAxis } from './turns.ts';

const conjugate = (q: Quaternion): Quaternion => [-q[0], -q[1], -q[2], q[3]];

/**
 * How much more the end of a path is rolled about its bones than its beginning, compared with rest, radians in −π..π: what
 * is left of the end's turn from rest when it is carried back to the beginning along the bones without any roll.
 */
export function twistOver(chain: Chain, worlds: Readonly<Float64Array>, path: readonly number[]): number {
  const carry = (at: Readonly<Float64Array>): Quaternion => {
    let q: Quaternion = [0, 0, 0, 1];
    for (let i = 1; i < path.length - 1; i++)
      q = multiplyQuaternions(turnOf(turnBetween(boneOf(at, path, i - 1), boneOf(at, path, i))), q);
    return q;
  };
  const first = path[0];
  const last = path[path.length - 1];
  const relative = (at: Readonly<Float64Array>): Quaternion => {
    const [a, b] = [turnOf(matrixAt(at, first)), turnOf(matrixAt(at, last))];
    // The end as the beginning would see it, had the bones between been straight.
    return multiplyQuaternions(conjugate(a), multiplyQuaternions(conjugate(carry(at)), b));
  };
  // Both in the beginning's own axes; the axis is its bone at rest, in those axes.
  const change = multiplyQuaternions(relative(worlds), conjugate(relative(chain.rest)));
  const rotation = rotationOf(matrixAt(chain.rest, first));
  const bone = boneOf(chain.rest, path, 0);
  const own = [0, 1, 2].map((c) => rotation[c * 4] * bone[0] + rotation[c * 4 + 1] * bone[1] + rotation[c * 4 + 2] * bone[2]);
  const along = change[0] * own[0] + change[1] * own[1] + change[2] * own[2];
  const angle = 2 * Math.atan2(along, change[3]);
  return angle > Math.PI ? angle - 2 * Math.PI : angle <= -Math.PI ? angle + 2 * Math.PI : angle;
}

/** The direction of a path's bone; of one without length the next that has one, else the last before. */
function boneOf(worlds: Readonly<Float64Array>, path: readonly number[], i: number): Vec3 {
  const at = (k: number) => subtract(positionOf(matrixAt(worlds, path[k + 1])), positionOf(matrixAt(worlds, path[k])));
  for (let k = i; k < path.length - 1; k++) if (length(at(k)) > 0) return normalize(at(k));
  for (let k = i - 1; k >= 0; k--) if (length(at(k)) > 0) return normalize(at(k));
  return [0, 0, 0];
}

/**
 * Rolls joints of a path about their own bones, each but the last by its own angle; where the joints are does not change,
 * and what hangs beside the path goes along.
 */
export function rollAlong(chain: Chain, worlds: Float64Array, path: readonly number[], angleOf: (place: number) => number): void {
  for (let i = 0; i < path.length - 1; i++) {
    const angle = angleOf(i);
    const [joint, next] = [path[i], path[i + 1]];
    const place = positionOf(matrixAt(worlds, joint));
    const bone = subtract(positionOf(matrixAt(worlds, next)), place);
    if (angle === 0 || !(length(bone) > 0)) continue;
    const turn = turnAboutAxis(place, normalize(bone), angle);
    for (let j = joint; j < chain.ends[joint]; j++) {
      if (j >= next && j < chain.ends[next]) continue;
      const m = matrixAt(worlds, j);
      multiply(m, turn, m);
    }
  }
}
