import { memoize } from '../memo.ts';
import type { Chain } from './chain.ts';
import { skinDual, skinLinear, type SkinPose } from './skin.ts';
import type { PackedWeights } from './skin-weights.ts';

/**
 * The middle of the limb at each point: of every bone that moves it the nearest place at rest, mixed by weights. A joint's
 * bones are those from it to the joints under it; one without any is a place. xyz × points; points without weights have their
 * own place. @param source where points rest, xyz each
 */
export function boneCentres(
  chain: Pick<Chain, 'count' | 'parents' | 'rest'>,
  { starts, joints, weights }: PackedWeights,
  source: Readonly<Float32Array>,
): Float32Array {
  const { count, parents, rest } = chain;
  const children: number[][] = Array.from({ length: count }, () => []);
  for (let j = 0; j < count; j++) if (parents[j] >= 0) children[parents[j]].push(j);
  const out = new Float32Array(source.length);
  const near = [0, 0, 0];
  for (let p = 0, o = 0; o < source.length; p++, o += 3) {
    if (starts[p] === starts[p + 1]) {
      out.set(source.subarray(o, o + 3), o);
      continue;
    }
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      nearestOnBones(near, rest, joints[k], children[joints[k]], source, o);
      for (let axis = 0; axis < 3; axis++) out[o + axis] += weights[k] * near[axis];
    }
  }
  return out;
}

/** The nearest place to a point on the bones that begin at a joint. */
function nearestOnBones(
  near: number[],
  rest: Readonly<Float64Array>,
  joint: number,
  under: readonly number[],
  source: Readonly<Float32Array>,
  o: number,
): void {
  const a = joint * 16 + 12;
  let least = Infinity;
  const take = (t: number, b: number) => {
    let d = 0;
    for (let k = 0; k < 3; k++) d += (rest[a + k] + (rest[b + k] - rest[a + k]) * t - source[o + k]) ** 2;
    if (!(d < least)) return;
    least = d;
    for (let k = 0; k < 3; k++) near[k] = rest[a + k] + (rest[b + k] - rest[a + k]) * t;
  };
  for (const child of under) {
    const b = child * 16 + 12;
    let along = 0;
    let square = 0;
    for (let k = 0; k < 3; k++) {
      const e = rest[b + k] - rest[a + k];
      along += e * (source[o + k] - rest[a + k]);
      square += e * e;
    }
    take(square > 0 ? Math.min(1, Math.max(0, along / square)) : 0, b);
  }
  if (under.length === 0) take(0, a);
}

const known = memoize((_: PackedWeights) => new WeakMap<Readonly<Float32Array>, { rest: Float64Array; centres: Float32Array }>());

/**
 * Draws a skin by dual quaternions in towards the bones. They take the middle of a limb along with it, out of a bend; linear
 * skin leaves it between the bones. Each point goes along with its middle, from the one place towards the other, so that the
 * limb stays as thick. @param out what `skinDual` made of `source`; changed. @param share 0 to 1
 */
export function drawIn(
  out: Float32Array,
  chain: Chain,
  packed: PackedWeights,
  source: Readonly<Float32Array>,
  pose: SkinPose,
  share: number,
): void {
  const before = known(packed).get(source);
  const isKnown = before?.rest.every((v, i) => v === chain.rest[i]);
  const centres = before && isKnown ? before.centres : boneCentres(chain, packed, source);
  if (!isKnown) known(packed).set(source, { rest: chain.rest.slice(), centres });
  const dual = skinDual(new Float32Array(centres.length), centres, packed, pose);
  const linear = skinLinear(new Float32Array(centres.length), centres, packed, pose.matrices);
  for (let i = 0; i < out.length; i++) out[i] += share * (linear[i] - dual[i]);
}
