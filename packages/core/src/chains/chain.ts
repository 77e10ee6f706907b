import { hashText } from '../hash.ts';
import { identity, invertAt, matrixAt, multiplyPacked, type Matrix } from '../maths/matrix.ts';
import type { Vec3 } from '../maths/vector.ts';

/** Where a joint may turn to, from its rest, as its parent sees it. Angles in degrees; axes are the joint's own at rest. */
export type JointLimit =
  /** About one own axis only. */
  | { readonly kind: 'hinge'; readonly axis: 0 | 1 | 2; readonly from: number; readonly to: number }
  /** Its own axis leans within a cone about where it rests, and turns about itself within a range. */
  | { readonly kind: 'cone'; readonly axis: 0 | 1 | 2; readonly lean: number; readonly from: number; readonly to: number };

/** What solvers ask of a joint, besides where it is. */
export interface JointTraits {
  /** 0 turns freely, 1 not at all. */
  readonly stiffness: number;
  /** Kilograms, or any unit: only shares matter. */
  readonly mass: number;
  readonly limit: JointLimit | null;
  /** Names, besides its own, whose weights it takes: those it had, and of joints that were removed below it. */
  readonly also?: readonly string[];
}

export const PLAIN_TRAITS: JointTraits = { stiffness: 0, mass: 1, limit: null };

/**
 * Joints with where they rest and where they are. Immutable. They are in the order of what hangs under what: each is
 * followed by all that hangs under it, so that what moves with joint `i` is `i` to `ends[i] − 1`.
 */
export interface Chain {
  readonly kind: 'chain';
  /** Equal for chains of the same names and parents: their columns belong together. */
  readonly id: string;
  readonly count: number;
  readonly names: readonly string[];
  /** The number of the joint each hangs under; −1 for none. */
  readonly parents: Readonly<Int32Array>;
  readonly ends: Readonly<Int32Array>;
  /** Worlds at rest and now: 16 numbers a joint, column by column. */
  readonly rest: Readonly<Float64Array>;
  readonly posed: Readonly<Float64Array>;
  readonly traits: readonly JointTraits[];
}

/** A joint as `makeChain` takes it. */
export interface JointParts {
  readonly name: string;
  /** The place in the list of the one it hangs under; −1 for none. It may come later in the list. */
  readonly parent: number;
  readonly rest: Readonly<Matrix>;
  readonly posed: Readonly<Matrix>;
  readonly traits?: JointTraits;
}

/** What is wrong with joints that make no chain. */
export class ChainError extends Error {}

/**
 * A chain of joints, put into the order of what hangs under what; those under the same one stay in the order given.
 * @throws ChainError when a parent is not in the list, or joints hang under each other in a ring
 */
export function makeChain(joints: readonly JointParts[]): { chain: Chain; order: number[] } {
  const under = new Map<number, number[]>();
  joints.forEach(({ parent, name }, i) => {
    if (parent < -1 || parent >= joints.length) throw new ChainError(`The joint "${name}" hangs under one that is not there.`);
    const mine = under.get(parent);
    if (mine) mine.push(i);
    else under.set(parent, [i]);
  });
  const order: number[] = [];
  const stack = [...(under.get(-1) ?? [])].reverse();
  while (stack.length > 0) {
    const at = stack.pop() as number;
    order.push(at);
    const mine = under.get(at) ?? [];
    for (let i = mine.length - 1; i >= 0; i--) stack.push(mine[i]);
  }
  if (order.length < joints.length) {
    const lost = joints.findIndex((_, i) => !order.includes(i));
    throw new ChainError(`The joint "${joints[lost].name}" hangs under itself.`);
  }
  const place = new Map(order.map((from, to) => [from, to]));
  const count = order.length;
  const rest = new Float64Array(count * 16);
  const posed = new Float64Array(count * 16);
  order.forEach((from, to) => {
    rest.set(joints[from].rest, to * 16);
    posed.set(joints[from].posed, to * 16);
  });
  const parents = Int32Array.from(order, (from) => place.get(joints[from].parent) ?? -1);
  const names = order.map((from) => joints[from].name);
  const traits = order.map((from) => joints[from].traits ?? PLAIN_TRAITS);
  return {
    chain: { kind: 'chain', id: idOf(names, parents), count, names, parents, ends: endsOf(parents), rest, posed, traits },
    order,
  };
}

function idOf(names: readonly string[], parents: Int32Array): string {
  return `chain-${names.length}-${hashText(`${names.join('\n')} ${parents.join()}`)}`;
}

function endsOf(parents: Int32Array): Int32Array {
  const ends = Int32Array.from(parents, (_, i) => i + 1);
  for (let i = parents.length - 1; i >= 0; i--) {
    const p = parents[i];
    if (p >= 0 && ends[i] > ends[p]) ends[p] = ends[i];
  }
  return ends;
}

/** The same joints elsewhere (16 numbers each, taken over). */
export const withPosed = (chain: Chain, posed: Float64Array): Chain => ({ ...chain, posed });

/** The number of the joint of that name, −1 for none; of several with one name the first. */
export const jointNamed = (chain: Chain, name: string): number => chain.names.indexOf(name);

/**
 * Joints as their parents see them: `P⁻¹ · W`, of roots `W`. Under one that cannot be inverted, a joint is told from the
 * world. @param worlds 16 numbers a joint.
 */
export function localsOf(parents: Readonly<Int32Array>, worlds: Readonly<Float64Array>): Float64Array {
  const out = new Float64Array(worlds.length);
  const inverse = identity();
  for (let i = 0; i < parents.length; i++) {
    const p = parents[i];
    if (p >= 0 && invertAt(inverse, 0, worlds, p * 16)) multiplyPacked(out, i * 16, inverse, 0, 0, worlds, i * 16, 16, 1);
    else out.set(worlds.subarray(i * 16, i * 16 + 16), i * 16);
  }
  return out;
}

/** The forward pass: worlds from what parents see. @param out may be `locals`. */
export function forwardPass(parents: Readonly<Int32Array>, locals: Readonly<Float64Array>, out: Float64Array): Float64Array {
  for (let i = 0; i < parents.length; i++) {
    const p = parents[i];
    if (p >= 0) multiplyPacked(out, i * 16, out, p * 16, 16, locals, i * 16, 16, 1);
    else if (out !== locals) out.set(locals.subarray(i * 16, i * 16 + 16), i * 16);
  }
  return out;
}

/** Moves a joint and all that hangs under it by a matrix that is applied in the world. */
export function moveWith(chain: Pick<Chain, 'ends'>, worlds: Float64Array, joint: number, by: Readonly<Matrix>): void {
  multiplyPacked(worlds, joint * 16, by, 0, 0, worlds, joint * 16, 16, chain.ends[joint] - joint);
}

/** The joints from one down to another that hangs under it, both included; undefined where it does not. */
export function pathBetween({ parents }: Pick<Chain, 'parents'>, root: number, tip: number): number[] | undefined {
  const path = [tip];
  for (let at = tip; at !== root;) {
    at = parents[at];
    if (at < 0) return undefined;
    path.push(at);
  }
  return path.reverse();
}

/** Where joints stand: xyz × count, as Float32 columns are. */
export function jointPlaces(chain: Chain, worlds: Readonly<Float64Array> = chain.posed): Float32Array {
  const out = new Float32Array(chain.count * 3);
  for (let i = 0; i < chain.count; i++) for (let axis = 0; axis < 3; axis++) out[i * 3 + axis] = worlds[i * 16 + 12 + axis];
  return out;
}

/** Where a joint is. */
export const jointPlace = (worlds: Readonly<Float64Array>, joint: number): Vec3 => [
  worlds[joint * 16 + 12],
  worlds[joint * 16 + 13],
  worlds[joint * 16 + 14],
];

/** The world of a joint, shared with the chain. */
export const jointWorld = (chain: Chain, joint: number): Readonly<Matrix> => matrixAt(chain.posed, joint);

/** Joints whose names fit a pattern, where * stands for any letters; several patterns by commas; empty: all. */
export function jointsFitting(chain: Pick<Chain, 'names'>, pattern: string): number[] {
  const parts = pattern
    .split(',')
    .map((p) => p.trim())
    .filter(Boolean);
  if (parts.length === 0) return chain.names.map((_, i) => i);
  const tests = parts.map((p) => fitsPattern(p.toLowerCase()));
  return chain.names.flatMap((name, i) => (tests.some((t) => t(name.toLowerCase())) ? [i] : []));
}

/** A test without regular expressions, so that no pattern makes it slow. */
function fitsPattern(pattern: string): (text: string) => boolean {
  const pieces = pattern.split('*');
  if (pieces.length === 1) return (text) => text === pattern;
  const [first, ...others] = pieces;
  const last = others.pop() as string;
  return (text) => {
    if (!text.startsWith(first)) return false;
    let at = first.length;
    for (const piece of others) {
      const found = text.indexOf(piece, at);
      if (found < 0) return false;
      at = found + piece.length;
    }
    return text.length - last.length >= at && text.endsWith(last);
  };
}
