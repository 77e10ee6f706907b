import { turnBetween, turnOnto } from '../maths/aim.ts';
import { matrixAt, multiply, translation } from '../maths/matrix.ts';
import { add, cross, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { blendPoses } from './blend-poses.ts';
import { jointPlace, moveWith, pathBetween, withPosed, type Chain } from './chain.ts';
import { fold, type Folding } from './fold.ts';
import { solve, type ReachTarget, type Solved } from './solve.ts';
import { turnTip, type TipOptions } from './tip-turn.ts';
import { softDistance } from './soft-reach.ts';
import { aboutPlace, boneFrame, rotationOf, squarePart, stretchAlong, turnAboutAxis, turned } from './turns.ts';
import { rollAlong, twistOver } from './spread-roll.ts';

export interface ReachOptions extends TipOptions {
  readonly root: number;
  readonly target: Vec3;
  /** A place that the chain bows towards. */
  readonly rollTarget: Vec3 | undefined;
  readonly roll: number;
  /** Targets of joints between, besides that of the tip. */
  readonly others: readonly ReachTarget[];
  readonly soft: number;
  readonly stretch: number;
  readonly longest: number;
  /** Evenly: all joints bend by the same share until the distance is right. Least: each turns as little as it can. */
  readonly shape: 'even' | 'least';
  /** The share of the tip's roll that a joint takes, by how far along it is (0 root, 1 tip); undefined: none. */
  readonly rollShare: ((along: number) => number) | undefined;
  readonly rounds: number;
  readonly tolerance: number;
  readonly blend: number;
}

export type ReachTrouble =
  'no-descendant' | 'no-length' | 'target-at-root' | 'straight' | 'roll-on-line' | 'out-of-reach' | 'not-reached' | 'not-finite';

export interface ReachResult {
  readonly posed: Float64Array;
  readonly residual: number;
  readonly rounds: number;
  readonly held: readonly number[];
  readonly trouble: readonly ReachTrouble[];
}

/**
 * Bends the joints from a root to a tip so that the tip comes to a target. First in closed form but for one number: all
 * joints straighten by one share, or curl by one angle, until root and tip are as far apart as root and target, and the
 * root aims the whole; then rounds of damped least squares (`solve`) for what limits, stiffness and targets between ask.
 * It begins from the incoming pose at every frame, so that it never depends on the one before.
 */
export function reach(chain: Chain, o: ReachOptions): ReachResult {
  const incoming = chain.posed as Float64Array;
  const stay = (...trouble: ReachTrouble[]): ReachResult => ({
    posed: incoming,
    residual: length(subtract(jointPlace(incoming, o.tip), o.target)),
    rounds: 0,
    held: [],
    trouble,
  });
  const path = o.root === o.tip ? undefined : pathBetween(chain, o.root, o.tip);
  if (!path) return stay('no-descendant');
  const numbers = [...o.target, ...(o.rollTarget ?? []), ...o.others.flatMap((t) => t.place)];
  if (!numbers.every(Number.isFinite)) return stay('not-finite');
  // Dials without a number leave the pose; whoever reads them tells.
  if (![o.roll, o.soft, o.stretch, o.longest, o.blend].every(Number.isFinite)) return stay();
  const places = path.map((j) => jointPlace(incoming, j));
  const whole = places.reduce((sum, p, i) => sum + (i > 0 ? length(subtract(p, places[i - 1])) : 0), 0);
  if (!(whole > 0)) return stay('no-length');
  const toTarget = subtract(o.target, places[0]);
  const distance = length(toTarget);
  if (!(distance > 1e-9 * whole)) return stay('target-at-root');
  const trouble: ReachTrouble[] = [];

  let posed: Float64Array = incoming.slice();
  const soft = softDistance(distance, whole, o.soft);
  const factor = distance > soft ? 1 + (Math.min(distance / soft, Math.max(1, o.longest)) - 1) * o.stretch : 1;
  const goes = factor > 1 ? Math.min(distance, soft * factor) : soft;
  if (goes < distance - 1e-9 * whole && o.soft === 0) trouble.push('out-of-reach');
  const along = scale(toTarget, 1 / distance);
  const goal = add(places[0], scale(along, goes));
  if (factor > 1) lengthenPath(chain, posed, path, factor);

  const normal = bowNormal(chain, o, path, along, places[0], trouble);
  const stiff = path.map((j) => chain.traits[j].stiffness);
  if (o.shape === 'even' || isStraight(places, whole)) {
    const folding = fold(chain, posed, path, goes, normal, stiff);
    if (folding === 'no-plane') return stay(...trouble, 'straight');
    aim(chain, posed, o, path, along, normal, folding);
  }
  const targets: ReachTarget[] = [{ joint: o.tip, place: goal, placeWeight: 1, turn: undefined, turnWeight: 0 }, ...o.others];
  const solved: Solved = solve(withPosed(chain, posed), {
    joints: path.slice(0, -1),
    targets,
    centre: undefined,
    rootMoves: 0,
    useLimits: true,
    rounds: o.rounds,
    tolerance: o.tolerance * whole,
  });
  posed = solved.posed;
  // What rounds left over is closed as at the beginning, where nothing forbids it.
  const isFree = o.others.length === 0 && path.every((j) => !chain.traits[j].limit);
  if (isFree && solved.residuals[0] > o.tolerance * whole) {
    const folding = fold(chain, posed, path, goes, ownNormal(posed, path) ?? normal, stiff);
    aim(chain, posed, { ...o, rollTarget: undefined }, path, along, normal, folding);
  }
  turnTip(chain, posed, incoming, o);
  if (o.rollShare && o.tipTurn !== 'carried') {
    const share = o.rollShare;
    const twist = twistOver(chain, posed, path);
    rollAlong(chain, posed, path, (i) => twist * share(i / (path.length - 1)));
  }
  const residual = length(subtract(jointPlace(posed, o.tip), o.target));
  const left = Math.max(isFree ? length(subtract(jointPlace(posed, o.tip), goal)) : 0, ...(isFree ? [] : solved.residuals));
  if (left > Math.max(10 * o.tolerance, 1e-4) * whole) trouble.push('not-reached');
  const w = o.blend;
  const blended = w === 1 ? posed : blendPoses(chain.parents, [incoming, posed], (k) => (k === 0 ? 1 - w : w));
  return { posed: blended, residual, rounds: solved.rounds, held: solved.held, trouble };
}

/** Whether all joints are on one line, to a hundred-thousandth: least turns would not bend it. */
function isStraight(places: readonly Vec3[], whole: number): boolean {
  return length(subtract(places[places.length - 1], places[0])) > whole * (1 - 1e-9);
}

/**
 * The normal of the plane that a chain bows in: that of the roll target; without one, of its own bows as they come in;
 * where it comes in straight, of its bows at rest, carried by the root.
 */
function bowNormal(
  chain: Chain,
  o: ReachOptions,
  path: readonly number[],
  along: Vec3,
  root: Vec3,
  trouble: ReachTrouble[],
): Vec3 | undefined {
  let normal: Vec3 | undefined;
  if (o.rollTarget) {
    const to = subtract(o.rollTarget, root);
    const flat = squarePart(to, along);
    if (length(flat) > 1e-6 * length(to)) normal = normalize(cross(along, flat));
    else trouble.push('roll-on-line');
  }
  normal ??= ownNormal(chain.posed, path);
  if (!normal) {
    const rest = ownNormal(chain.rest, path);
    const [now, then] = [rotationOf(matrixAt(chain.posed, o.root)), rotationOf(matrixAt(chain.rest, o.root))];
    normal = rest && turned(turnOnto(now, then), rest);
  }
  return normal && o.roll !== 0 ? turned(turnAboutAxis([0, 0, 0], along, o.roll), normal) : normal;
}

/** The sum of the turns from bone to bone, as a direction; undefined where they are next to nothing, or cancel out. */
function ownNormal(worlds: Readonly<Float64Array>, path: readonly number[]): Vec3 | undefined {
  let sum: Vec3 = [0, 0, 0];
  let before: Vec3 | undefined;
  for (let i = 1; i < path.length; i++) {
    const bone = normalize(subtract(jointPlace(worlds, path[i]), jointPlace(worlds, path[i - 1])));
    if (length(bone) === 0) continue;
    if (before) sum = add(sum, cross(before, bone));
    before = bone;
  }
  return length(sum) > 1e-5 ? normalize(sum) : undefined;
}

/** Turns the whole so that the tip lies towards the target, in the plane it bows in where that is asked for. */
function aim(
  chain: Chain,
  posed: Float64Array,
  o: ReachOptions,
  path: readonly number[],
  along: Vec3,
  normal: Vec3 | undefined,
  folding: Folding,
): void {
  const root = jointPlace(posed, o.root);
  const line = subtract(jointPlace(posed, o.tip), root);
  if (!(length(line) > 0)) return;
  let turn = turnBetween(line, along);
  if (o.rollTarget && normal && folding !== 'no-plane') {
    const own = ownNormal(posed, path);
    const [from, to] = [own && boneFrame(line, own), boneFrame(along, normal)];
    if (from && to) turn = turnOnto(to, from);
  }
  moveWith(chain, posed, o.root, aboutPlace(turn, root));
}

/** All bones of a path longer by a factor, drawn out along themselves; what hangs beside it goes along. */
function lengthenPath(chain: Chain, worlds: Float64Array, path: readonly number[], factor: number): void {
  for (let i = 0; i < path.length - 1; i++) {
    const [from, to] = [path[i], path[i + 1]];
    const start = jointPlace(worlds, from);
    const bone = subtract(jointPlace(worlds, to), start);
    if (!(length(bone) > 0)) continue;
    const m = matrixAt(worlds, from);
    multiply(m, stretchAlong(normalize(bone), factor, start), m);
    moveWith(chain, worlds, to, translation(scale(bone, factor - 1)));
  }
}
