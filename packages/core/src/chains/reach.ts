import { turnBetween, turnOnto } from '../maths/aim.ts';
import { identity, invert, matrixAt, multiply, product, translation, type Matrix } from '../maths/matrix.ts';
import { add, cross, dot, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { blendPoses } from './blend-poses.ts';
import { jointPlace, moveWith, pathBetween, withPosed, type Chain } from './chain.ts';
import { fold } from './fold.ts';
import { holdLimits } from './hold-limits.ts';
import { solve, type ReachTarget, type Solved } from './solve.ts';
import { turnTip, type TipOptions } from './tip-turn.ts';
import { softDistance } from './soft-reach.ts';
import { aboutPlace, rotationOf, squarePart, stretchAlong, turnAboutAxis, turned } from './turns.ts';
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
  | 'no-descendant'
  | 'no-length'
  | 'target-at-root'
  | 'straight'
  | 'roll-on-line'
  | 'out-of-reach'
  | 'not-reached'
  | 'limits-won'
  | 'not-finite';

export interface ReachResult {
  readonly posed: Float64Array;
  /** From the tip to the target in the pose that comes out, metres. */
  readonly residual: number;
  readonly rounds: number;
  readonly held: readonly number[];
  /** Joints whose limits held back the tip's turn or its roll. */
  readonly won: readonly number[];
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
    won: [],
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

  const bow = bowOf(chain, o, path, along, places[0], trouble);
  const stiff = path.map((j) => chain.traits[j].stiffness);
  const turnAlong = path.slice(0, -1);
  // Nothing forbids the whole to be turned about the line from root to target.
  const isFree = o.others.length === 0 && path.every((j) => !chain.traits[j].limit);
  const isEven = o.shape === 'even' || isStraight(places, whole);
  if (isEven) {
    const curl = bow.own ?? bow.back;
    if (fold(chain, posed, path, goes, curl, stiff) === 'no-plane') return stay(...trouble, 'straight');
    aim(chain, posed, o, path, along, bow);
  } else if (!isFree) turnBow(chain, posed, o, path, along, bow);
  const targets: ReachTarget[] = [{ joint: o.tip, place: goal, placeWeight: 1, turn: undefined, turnWeight: 0 }, ...o.others];
  const solved: Solved = solve(withPosed(chain, posed), {
    joints: turnAlong,
    targets,
    centre: undefined,
    rootMoves: 0,
    useLimits: true,
    rounds: o.rounds,
    tolerance: o.tolerance * whole,
  });
  posed = solved.posed;
  // What rounds left over is closed as at the beginning, where nothing forbids it.
  if (isFree && solved.residuals[0] > o.tolerance * whole) {
    fold(chain, posed, path, goes, ownNormal(posed, path) ?? bow.own ?? bow.back, stiff);
    aim(chain, posed, o, path, along, undefined);
  }
  if (isFree && !isEven) aim(chain, posed, o, path, along, bow);
  const reached = isFree ? length(subtract(jointPlace(posed, o.tip), goal)) : Math.max(...solved.residuals);
  turnTip(chain, posed, incoming, o);
  const turnsTip = o.tipTurn !== 'carried' && (o.tipTurn !== 'target' || o.targetTurn !== undefined);
  if (o.rollShare && turnsTip) {
    const share = o.rollShare;
    const twist = twistOver(chain, posed, path);
    rollAlong(chain, posed, path, (i) => twist * share(i / (path.length - 1)));
  }
  // Limits count last (DECISIONS 49): they hold back what the tip's turn or its roll asks for.
  const won = turnsTip ? holdLimits(chain, posed, path) : [];
  if (reached > Math.max(10 * o.tolerance, 1e-4) * whole) trouble.push('not-reached');
  if (won.length > 0) trouble.push('limits-won');
  const w = o.blend;
  const blended = w === 1 ? posed : blendPoses(chain.parents, [incoming, posed], (k) => (k === 0 ? 1 - w : w));
  const held = [...new Set([...solved.held, ...won])].sort((a, b) => a - b);
  const residual = length(subtract(jointPlace(blended, o.tip), o.target));
  return { posed: blended, residual, rounds: solved.rounds, held: w === 0 ? [] : held, won, trouble };
}

/** Whether all joints are on one line, to a hundred-thousandth: least turns would not bend it. */
function isStraight(places: readonly Vec3[], whole: number): boolean {
  return length(subtract(places[places.length - 1], places[0])) > whole * (1 - 1e-9);
}

/** Which way a chain bows. Normals are square to the plane it bows in, turning with its bones from root to tip. */
interface Bow {
  /** How its root was turned as it came in. */
  readonly root: Matrix;
  /** Of its own bows as they come in; where it comes in straight, of its bows at rest, carried by the root. */
  readonly own: Vec3 | undefined;
  /** The direction that the roll target asks for, square to the line from root to target. */
  readonly toward: Vec3 | undefined;
  /** For a chain without bows of its own: the normal of a bow that way, as it is before the chain is aimed. */
  readonly back: Vec3 | undefined;
}

function bowOf(chain: Chain, o: ReachOptions, path: readonly number[], along: Vec3, root: Vec3, trouble: ReachTrouble[]): Bow {
  const turnOfRoot = rotationOf(matrixAt(chain.posed, o.root));
  let own = ownNormal(chain.posed, path);
  if (!own) {
    const rest = ownNormal(chain.rest, path);
    own = rest && turned(turnOnto(turnOfRoot, rotationOf(matrixAt(chain.rest, o.root))), rest);
  }
  const asItIs: Bow = { root: turnOfRoot, own, toward: undefined, back: undefined };
  if (!o.rollTarget) return asItIs;
  const to = subtract(o.rollTarget, root);
  const flat = squarePart(to, along);
  if (!(length(flat) > 1e-6 * length(to))) {
    trouble.push('roll-on-line');
    return asItIs;
  }
  // Bowing towards it, the bones turn from it to the line.
  const toward = normalize(flat);
  const normal = cross(toward, along);
  const line = subtract(jointPlace(chain.posed, o.tip), root);
  const back = length(line) > 0 ? turned(turnBetween(along, line), normal) : normal;
  return { ...asItIs, toward, back };
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

/** How far its joints are on the mean off the line from root to tip. */
function offLine(worlds: Readonly<Float64Array>, path: readonly number[]): Vec3 {
  const root = jointPlace(worlds, path[0]);
  const line = normalize(subtract(jointPlace(worlds, path[path.length - 1]), root));
  const sum = path.reduce((v: Vec3, j) => add(v, squarePart(subtract(jointPlace(worlds, j), root), line)), [0, 0, 0]);
  return scale(sum, 1 / path.length);
}

/** What takes the tip onto the line to the target by the least turn, and then the bow to where it is asked for. */
function aimTurns(
  posed: Readonly<Float64Array>,
  o: ReachOptions,
  path: readonly number[],
  along: Vec3,
  bow: Bow | undefined,
): { least: Matrix; roll: Matrix } | undefined {
  const line = subtract(jointPlace(posed, o.tip), jointPlace(posed, o.root));
  if (!(length(line) > 0)) return undefined;
  const least = turnBetween(line, along);
  let angle = bow ? o.roll : 0;
  if (bow?.toward) {
    // Where it straightens out, the bow it came in with takes over.
    const carry = turnOnto(rotationOf(matrixAt(posed, o.root)), bow.root);
    const side = normalize(cross(line, turned(carry, bow.own ?? (bow.back as Vec3))));
    const now = turned(least, add(offLine(posed, path), scale(side, 1e-5 * length(line))));
    const flat = squarePart(now, along);
    if (length(flat) > 1e-9 * length(line)) angle += Math.atan2(dot(cross(flat, bow.toward), along), dot(flat, bow.toward));
  }
  return { least, roll: turnAboutAxis([0, 0, 0], along, angle) };
}

/** Turns the whole so that the tip lies towards the target, and bows to where it is asked to. */
function aim(
  chain: Chain,
  posed: Float64Array,
  o: ReachOptions,
  path: readonly number[],
  along: Vec3,
  bow: Bow | undefined,
): void {
  const turns = aimTurns(posed, o, path, along, bow);
  if (turns) moveWith(chain, posed, o.root, aboutPlace(product(turns.roll, turns.least), jointPlace(posed, o.root)));
}

/** Turns the whole about the line from its root to its tip, so that it will bow to where it is asked to when it is aimed. */
function turnBow(chain: Chain, posed: Float64Array, o: ReachOptions, path: readonly number[], along: Vec3, bow: Bow): void {
  const turns = aimTurns(posed, o, path, along, bow);
  if (!turns) return;
  const back = identity();
  if (!invert(back, turns.least)) return;
  const turn = product(product(back, turns.roll), turns.least);
  moveWith(chain, posed, o.root, aboutPlace(turn, jointPlace(posed, o.root)));
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
