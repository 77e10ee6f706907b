import { turnBetween, turnOnto } from '../maths/aim.ts';
import { identity, invert, matrixAt, multiply, positionOf, product, translation, type Matrix } from '../maths/matrix.ts';
import { add, cross, dot, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { blendPoses } from './blend-poses.ts';
import { jointPlace, moveWith, pathBetween, type Chain } from './chain.ts';
import { turnTip, type TipOptions } from './tip-turn.ts';
import { softDistance } from './soft-reach.ts';
import { aboutPlace, boneFrame, rotationOf, squarePart, stretchAlong, turnAboutAxis, turned } from './turns.ts';

export interface BendOptions extends TipOptions {
  /** Joints: the middle hangs under the root, the tip under the middle, at any depth. */
  readonly root: number;
  readonly middle: number;
  /** Where the tip should be, and how it should be turned; only with a turn can the tip take one. */
  readonly target: Vec3;
  /** A place that the middle bends towards; without one the bend of the rest counts, carried by the root. */
  readonly rollTarget: Vec3 | undefined;
  /** Turns the bend about the line from root to target, radians. */
  readonly roll: number;
  /** The last share of the length, 0..1, over which the limb straightens ever more slowly. */
  readonly soft: number;
  /** 0..1: how much of what is missing to the target is made up by length, and no longer than `longest` times. */
  readonly stretch: number;
  readonly longest: number;
  /** 0..1: how much of what the target comes nearer is made up by length, and no shorter than `shortest` times. */
  readonly squash: number;
  readonly shortest: number;
  /** The root turns as little as it can, instead of following the plane of the bend. */
  readonly keepRootRoll: boolean;
  /** 0: the incoming pose, 1: the solved one; turns are mixed joint by joint. */
  readonly blend: number;
}

/** What stands in the way; the pose is then the incoming one, or as said. */
export type BendTrouble =
  | 'no-descendant'
  | 'no-length'
  | 'straight-rest'
  | 'target-at-root'
  | 'roll-on-line'
  | 'out-of-reach'
  | 'too-near'
  | 'not-finite';

export interface BendResult {
  readonly posed: Float64Array;
  /** From the tip to the target in the pose that comes out, metres. */
  readonly residual: number;
  /** How much longer the limb was made. */
  readonly lengthened: number;
  readonly trouble: readonly BendTrouble[];
}

/**
 * A limb of two bones bent so that its tip is at a target, in closed form by the law of cosines. The bones are those
 * between the places of root, middle and tip as they come in; joints between them go along. All moves are rigid and
 * made in the world, so that sizes, shears and mirrors above the chain stay what they are.
 *
 * With `a`, `b` the lengths and `d` the distance to the target, the middle is `(a² + d² − b²) / 2d` along the line to the
 * target, and bends away from the line in the plane of the roll target. Within reach, without softness, the tip is at the
 * target. Where mathematics gives no answer (a target at the root, a limb without length) the incoming pose is left.
 */
export function bendChain(chain: Chain, o: BendOptions): BendResult {
  const incoming = chain.posed as Float64Array;
  const stay = (...trouble: BendTrouble[]): BendResult => ({
    posed: incoming,
    residual: length(subtract(jointPlace(incoming, o.tip), o.target)),
    lengthened: 1,
    trouble,
  });
  const upperPath = pathBetween(chain, o.root, o.middle);
  const lowerPath = pathBetween(chain, o.middle, o.tip);
  if (!upperPath || !lowerPath || o.root === o.middle || o.middle === o.tip) return stay('no-descendant');
  if (!o.target.every(Number.isFinite) || !(o.rollTarget ?? o.target).every(Number.isFinite)) return stay('not-finite');
  // Dials without a number leave the pose; whoever reads them tells.
  if (![o.roll, o.soft, o.stretch, o.longest, o.squash, o.shortest, o.blend].every(Number.isFinite)) return stay();
  const [a, b, c] = [o.root, o.middle, o.tip].map((j) => jointPlace(incoming, j));
  const upper = length(subtract(b, a));
  const lower = length(subtract(c, b));
  const whole = upper + lower;
  if (!(upper > 1e-9 * whole && lower > 1e-9 * whole)) return stay('no-length');
  const toTarget = subtract(o.target, a);
  const distance = length(toTarget);
  if (!(distance > 1e-9 * whole)) return stay('target-at-root');
  const along = scale(toTarget, 1 / distance);
  const trouble: BendTrouble[] = [];

  // How long the limb is made, and how far its tip then goes.
  const { factor, reach } = lengthsFor(distance, whole, Math.abs(upper - lower), length(subtract(c, a)), o);
  if (reach < distance - 1e-9 * whole && o.soft === 0) trouble.push('out-of-reach');
  if (reach > distance + 1e-9 * whole) trouble.push('too-near');
  const [la, lb] = [upper * factor, lower * factor];

  // Which way it bends.
  const carried = restPlane(chain, o);
  const bend = bendDirection(o, along, a, carried, trouble);
  if (!bend) return stay(...trouble, 'straight-rest');
  const out = bend.out;
  const cos = Math.max(-1, Math.min(1, (la * la + reach * reach - lb * lb) / (2 * la * reach)));
  const sin = Math.sqrt(1 - cos * cos);
  const middle = add(a, add(scale(along, la * cos), scale(out, la * sin)));
  const tip = add(a, scale(along, reach));
  const normal = cross(along, out);

  const posed = incoming.slice();
  // Root: its bone and the normal of the bend as the root carries it, onto the new ones.
  const normalIn = carried?.normal ?? fixedNormal(chain, o);
  const rootTurn = o.keepRootRoll
    ? turnBetween(subtract(b, a), subtract(middle, a))
    : turnOfBone(subtract(b, a), normalIn, subtract(middle, a), normal);
  moveWith(chain, posed, o.root, aboutPlace(rootTurn, a));
  lengthen(chain, posed, upperPath, factor);
  // The middle, from where that put it; where the root kept its roll, the bend's normal came along differently.
  const tipNow = jointPlace(posed, o.tip);
  const middleNow = jointPlace(posed, o.middle);
  const normalNow = turned(rotationOnly(rootTurn), normalIn);
  const lowerTurn = turnOfBone(
    subtract(tipNow, middleNow),
    normalNow,
    subtract(tip, middleNow),
    o.keepRootRoll ? normalNow : normal,
  );
  moveWith(chain, posed, o.middle, aboutPlace(lowerTurn, middleNow));
  lengthen(chain, posed, lowerPath, factor);
  turnTip(chain, posed, incoming, o);
  const w = o.blend;
  const blended = w === 1 ? posed : blendPoses(chain.parents, [incoming, posed], (k) => (k === 0 ? 1 - w : w));
  const residual = length(subtract(jointPlace(blended, o.tip), o.target));
  return { posed: blended, residual, lengthened: factor, trouble };
}

function rotationOnly(m: Matrix): Matrix {
  const out = Float64Array.from(m);
  out.fill(0, 12, 15);
  return out;
}

/**
 * The factor of both bones, and how far the tip goes from the root. How far it goes is for softness and stretch alone:
 * squash only says how much of the way back is made by length instead of bending, so that it changes no place of the tip.
 * The bones are long enough for it, since they shorten by no more than the target comes nearer than the tip came in.
 */
function lengthsFor(distance: number, whole: number, folded: number, incoming: number, o: BendOptions) {
  const soft = softDistance(distance, whole, o.soft);
  const longer = 1 + (Math.min(distance / soft, Math.max(1, o.longest)) - 1) * o.stretch;
  const shorter = distance < incoming ? Math.max(Math.min(1, o.shortest), 1 - o.squash * (1 - distance / incoming)) : 1;
  const factor = longer * shorter;
  return { factor, reach: Math.max(Math.min(distance, soft * longer), folded * factor) };
}

/** The rest's bend as the root carries it, as directions; undefined where the rest is straight. */
function restPlane(chain: Chain, o: BendOptions): { normal: Vec3; out: Vec3; along: Vec3 } | undefined {
  const [a, b, c] = [o.root, o.middle, o.tip].map((j) => jointPlace(chain.rest, j));
  const line = subtract(c, a);
  const size = length(subtract(b, a)) + length(subtract(c, b));
  if (!(length(line) > 1e-9 * size)) return undefined;
  const d = normalize(line);
  const away = squarePart(subtract(b, a), d);
  if (!(length(away) > 1e-5 * size)) return undefined;
  const carry = carriedBy(chain, o.root);
  const along = normalize(turned(carry, d));
  const out = normalize(squarePart(turned(carry, normalize(away)), along));
  return length(out) > 0 ? { normal: cross(along, out), out, along } : undefined;
}

/** What took a joint from its rest to where it is: for directions, mirrored where the joint was. */
function carriedBy(chain: Chain, joint: number): Matrix {
  const [now, rest] = [matrixAt(chain.posed, joint), matrixAt(chain.rest, joint)];
  const back = identity();
  return invert(back, rest) ? multiply(back, now, back) : turnOnto(rotationOf(now), rotationOf(rest));
}

/** Of a straight rest: the root's own axis that is most square to its bone there, which is the same at every frame. */
function fixedNormal(chain: Chain, o: BendOptions): Vec3 {
  const rotation = rotationOf(matrixAt(chain.rest, o.root));
  const bone = normalize(subtract(jointPlace(chain.rest, o.middle), jointPlace(chain.rest, o.root)));
  const axes = [0, 1, 2].map((k): Vec3 => [rotation[k * 4], rotation[k * 4 + 1], rotation[k * 4 + 2]]);
  const best = axes.reduce((x, y) => (Math.abs(dot(y, bone)) < Math.abs(dot(x, bone)) - 1e-6 ? y : x));
  return turned(carriedBy(chain, o.root), normalize(squarePart(best, bone)));
}

/** The direction, square to the line, that the middle bends to. Undefined where nothing tells it. */
function bendDirection(
  o: BendOptions,
  along: Vec3,
  root: Vec3,
  carried: { out: Vec3; along: Vec3 } | undefined,
  trouble: BendTrouble[],
): { out: Vec3 } | undefined {
  let out: Vec3 | undefined;
  if (o.rollTarget) {
    const to = subtract(o.rollTarget, root);
    const flat = squarePart(to, along);
    if (length(flat) > 1e-6 * length(to)) out = normalize(flat);
    else trouble.push('roll-on-line');
  }
  if (!out && carried) out = turned(turnBetween(carried.along, along), carried.out);
  if (!out) return undefined;
  // Square again, since turns are right to a few places only.
  const flat = normalize(squarePart(out, along));
  return { out: o.roll === 0 ? flat : turned(turnAboutAxis([0, 0, 0], along, o.roll), flat) };
}

/** The turn of a bone and its normal onto others; the least one where the normal runs along a bone. */
function turnOfBone(from: Vec3, normalFrom: Vec3, to: Vec3, normalTo: Vec3): Matrix {
  const [was, is] = [boneFrame(from, normalFrom), boneFrame(to, normalTo)];
  return was && is ? turnOnto(is, was) : turnBetween(from, to);
}

/** Makes the bone of a path longer by a factor: its joints are drawn out along it, what hangs at its end keeps its size. */
function lengthen(chain: Chain, worlds: Float64Array, path: readonly number[], factor: number): void {
  if (factor === 1) return;
  const [from, to] = [path[0], path[path.length - 1]];
  const start = jointPlace(worlds, from);
  const bone = subtract(jointPlace(worlds, to), start);
  const stretch = stretchAlong(normalize(bone), factor, start);
  const onPath = new Set(path.slice(0, -1));
  const end = translation(scale(bone, factor - 1));
  for (let j = from; j < chain.ends[from]; j++) {
    const m = matrixAt(worlds, j);
    if (j >= to && j < chain.ends[to]) multiply(m, end, m);
    else if (onPath.has(j)) multiply(m, stretch, m);
    else {
      const place = positionOf(m);
      const moved = subtract(positionOf(product(stretch, translation(place))), place);
      multiply(m, translation(moved), m);
    }
  }
}
