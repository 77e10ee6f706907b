import type { Attribute } from '../geometry/attributes.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { memoize } from '../memo.ts';
import type { Chain } from './chain.ts';

/** What weights of joints are called: number attributes on points, one for each joint that moves any. */
export const WEIGHT_PREFIX = 'weight_';

const isLetter = (character: string | undefined) => character !== undefined && /[\p{L}\p{M}\p{N}]/u.test(character);

/**
 * The attribute of a joint's weights. Formulas can name it, so it has letters, digits and _ only; joints of other names
 * have other attributes, whatever script they are in. A space between letters is _, a _ between letters is __, and
 * anything else its code point: three _, the number in hexadecimal, one _.
 */
export function weightName(joint: string): string {
  const characters = [...joint];
  const parts = characters.map((c, i) => {
    if (isLetter(c)) return c;
    const isBetween = isLetter(characters[i - 1]) && isLetter(characters[i + 1]);
    if (isBetween && c === ' ') return '_';
    if (isBetween && c === '_') return '__';
    return `___${(c.codePointAt(0) as number).toString(16)}_`;
  });
  return WEIGHT_PREFIX + parts.join('');
}

/** What the attribute was called up to format 11 of projects, where joints of several names could share one. */
const formerWeightName = (joint: string): string => WEIGHT_PREFIX + joint.replace(/[^A-Za-z0-9_]/g, '_');

/**
 * Attributes of weights as they were called, and as they are called now, where that differs. One that several joints
 * shared is that of the first: the others had none.
 * @param joints names, in the order of the scene
 */
export function renamedWeights(joints: readonly string[]): ReadonlyMap<string, string> {
  const present = new Set(joints.map(weightName));
  const renamed = new Map<string, string>();
  for (const joint of joints) {
    const former = formerWeightName(joint);
    if (!present.has(former) && !renamed.has(former)) renamed.set(former, weightName(joint));
  }
  return renamed;
}

/** A mesh whose weights are called as they are now. */
export function withRenamedWeights(mesh: Mesh, renamed: ReadonlyMap<string, string>): Mesh {
  if (!mesh.attributes.some((a) => renamed.has(a.name))) return mesh;
  return { ...mesh, attributes: mesh.attributes.map((a) => ({ ...a, name: renamed.get(a.name) ?? a.name })) };
}

/** The attributes of weights that a mesh has. */
export const weightsOf = (mesh: Mesh): readonly Attribute[] =>
  mesh.attributes.filter((a) => a.on === 'point' && a.type === 'number' && a.name.startsWith(WEIGHT_PREFIX));

/**
 * Weights point by point: those of point `p` are `starts[p]` to `starts[p + 1] − 1`, of joints of the chain, as shares that
 * sum to 1. A point without any has none.
 */
export interface PackedWeights {
  readonly starts: Int32Array;
  readonly joints: Int32Array;
  readonly weights: Float32Array;
  readonly most: number;
  /** Points without weights; points whose weights did not sum to 1, and by how much at most. */
  readonly without: number;
  readonly off: number;
  readonly offBy: number;
  /** Attributes of weights that no joint has. */
  readonly unknown: readonly string[];
}

const packs = memoize((_: readonly Attribute[]) => new Map<string, PackedWeights>());

/** The weights of a mesh for a chain, worked out once for its attributes. Negative ones and those not finite count as 0. */
export function packWeights(mesh: Mesh, chain: Pick<Chain, 'id' | 'names' | 'traits'>): PackedWeights {
  const known = packs(mesh.attributes);
  const key = `${chain.id} ${chain.traits.map((t) => t.also?.join(',') ?? '').join(';')}`;
  const found = known.get(key);
  if (found) return found;
  const made = pack(weightsOf(mesh), mesh.topology.pointCount, jointsByWeight(chain));
  known.set(key, made);
  return made;
}

/** Which joint takes the weights of an attribute: the one that is called so, else one that takes them too. */
function jointsByWeight({ names, traits }: Pick<Chain, 'names' | 'traits'>): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  const add = (name: string, joint: number) => {
    if (!found.has(weightName(name))) found.set(weightName(name), joint);
  };
  names.forEach(add);
  traits.forEach((t, joint) => t.also?.forEach((name) => add(name, joint)));
  return found;
}

/** Every attribute of weights that a joint of the chain takes. */
export const weightNamesOf = (chain: Pick<Chain, 'names' | 'traits'>): ReadonlySet<string> =>
  new Set(jointsByWeight(chain).keys());

function pack(attributes: readonly Attribute[], count: number, byWeight: ReadonlyMap<string, number>): PackedWeights {
  const joints = attributes.map((a) => byWeight.get(a.name) ?? -1);
  const used = attributes.map((a, i) => ({ data: a.data as Float32Array, joint: joints[i] })).filter((u) => u.joint >= 0);
  used.sort((a, b) => a.joint - b.joint);
  const starts = new Int32Array(count + 1);
  for (const { data } of used) for (let p = 0; p < count; p++) if (data[p] > 0 && data[p] < Infinity) starts[p + 1]++;
  let most = 0;
  for (let p = 0; p < count; p++) {
    if (starts[p + 1] > most) most = starts[p + 1];
    starts[p + 1] += starts[p];
  }
  const all = new Int32Array(starts[count]);
  const weights = new Float32Array(starts[count]);
  const next = starts.slice(0, count);
  for (const { data, joint } of used)
    for (let p = 0; p < count; p++) {
      if (!(data[p] > 0 && data[p] < Infinity)) continue;
      all[next[p]] = joint;
      weights[next[p]++] = data[p];
    }
  let without = 0;
  let off = 0;
  let offBy = 0;
  for (let p = 0; p < count; p++) {
    let sum = 0;
    for (let k = starts[p]; k < starts[p + 1]; k++) sum += weights[k];
    if (sum === 0) {
      without++;
      continue;
    }
    const by = Math.abs(sum - 1);
    if (by > 1e-3) off++;
    if (by > offBy) offBy = by;
    for (let k = starts[p]; k < starts[p + 1]; k++) weights[k] /= sum;
  }
  const unknown = attributes.filter((_, i) => joints[i] < 0).map((a) => a.name);
  return { starts, joints: all, weights, most, without, off, offBy, unknown };
}

/** The weights of some points only, in their order. */
export function weightsOfPoints(packed: PackedWeights, points: readonly number[]): PackedWeights {
  const starts = new Int32Array(points.length + 1);
  points.forEach((p, i) => (starts[i + 1] = starts[i] + packed.starts[p + 1] - packed.starts[p]));
  const joints = new Int32Array(starts[points.length]);
  const weights = new Float32Array(starts[points.length]);
  points.forEach((p, i) => {
    joints.set(packed.joints.subarray(packed.starts[p], packed.starts[p + 1]), starts[i]);
    weights.set(packed.weights.subarray(packed.starts[p], packed.starts[p + 1]), starts[i]);
  });
  return { ...packed, starts, joints, weights };
}

/** Weights as attributes: one for each joint that has any, in the place of all that the chain's joints had. */
export function withWeights(mesh: Mesh, chain: Pick<Chain, 'names' | 'traits'>, columns: readonly Float32Array[]): Mesh {
  const mine = weightNamesOf(chain);
  const others = mesh.attributes.filter((a) => !(a.on === 'point' && mine.has(a.name)));
  const added = columns.flatMap((data, j): Attribute[] =>
    data.some((w) => w > 0) ? [{ name: weightName(chain.names[j]), on: 'point', type: 'number', role: 'plain', data }] : [],
  );
  return { ...mesh, attributes: [...others, ...added] };
}
