import { blendMatrices, normalisedWeights } from '../maths/blend.ts';
import { identity, invert, multiply, positionOf, product, transformPoint, translation, type Matrix } from '../maths/matrix.ts';
import { add, length, scale, subtract, type Vec3 } from '../maths/vector.ts';
import type { Snapshot } from '../project/fields.ts';
import { aimRotation, turnBetween, turnOnto, type AimAxes } from '../maths/aim.ts';

/**
 * Constraints: each gives the carrier `C` that goes under an object's own channels, so that `world = P × C × L`
 * (DECISIONS 1–4). Matrices are 4×4, column by column, on column vectors; `A × B` applies B first. `D` are the drivers'
 * world matrices now, `D₀` those of the snapshot; `P` is the world matrix of the object's parent now, `P₀` that of the
 * snapshot; `S₀ = P₀ · C₀` the space its channels were in then, and `L₀` those channels, about its pivot `p`.
 *
 * All give undefined when a matrix they need cannot be inverted; then the object stays at rest (DECISIONS 10).
 */
export interface TakenSnapshot {
  readonly drivers: readonly Readonly<Matrix>[];
  readonly parent: Readonly<Matrix>;
  readonly space: Readonly<Matrix>;
  readonly child: Readonly<Matrix>;
  readonly pivot: Vec3;
}

/** A snapshot of a document as matrices. */
export const takenSnapshot = (s: Snapshot): TakenSnapshot => ({
  drivers: s.drivers.map((d) => Float64Array.from(d)),
  parent: Float64Array.from(s.parent),
  space: product(Float64Array.from(s.parent), Float64Array.from(s.carrier)),
  child: Float64Array.from(s.child),
  pivot: s.pivot,
});

/** `M⁻¹`, or undefined. */
export function inverseOf(m: Readonly<Matrix>): Matrix | undefined {
  const out = identity();
  return invert(out, m) ? out : undefined;
}

/** Follow: the object keeps its place to a driver. `C = P⁻¹ · D · D₀⁻¹ · S₀`. */
export function follow(driver: Readonly<Matrix>, s: TakenSnapshot, parent: Readonly<Matrix>): Matrix | undefined {
  const intoParent = inverseOf(parent);
  const back = inverseOf(s.drivers[0]);
  return intoParent && back && product(intoParent, driver, back, s.space);
}

/** The object's pivot frame in the world when the snapshot was taken: `A₀ = S₀ · L₀ · Tp`. */
export const pivotFrame = (s: TakenSnapshot): Matrix => product(s.space, s.child, translation(s.pivot));

/**
 * Hand-Over: the object keeps its place to each driver, and goes from one to another with the weights.
 * `Bᵢ = Dᵢ · Dᵢ₀⁻¹ · A₀`, `C = P⁻¹ · blend(Bᵢ) · A₀⁻¹ · S₀`: blended where the object's pivot is.
 * @param weights one per driver; when all are 0, the object stays as it was in the snapshot. One with a weight must have
 * a size.
 */
export function handOver(
  drivers: readonly Readonly<Matrix>[],
  weights: ArrayLike<number>,
  s: TakenSnapshot,
  parent: Readonly<Matrix>,
): Matrix | undefined {
  const intoParent = inverseOf(parent);
  const frame = pivotFrame(s);
  const fromFrame = inverseOf(frame);
  const shares = normalisedWeights(weights);
  const places = drivers.map((d, i) => {
    const back = inverseOf(s.drivers[i]);
    // What has no size has no turn either, that could be mixed with others.
    const isFlat = shares !== undefined && shares[i] > 0 && !inverseOf(d);
    return isFlat ? undefined : back && product(d, back, frame);
  });
  if (!intoParent || !fromFrame || places.some((p) => !p)) return undefined;
  const blended = blendMatrices(places as Matrix[], weights) ?? frame;
  return product(intoParent, blended, fromFrame, s.space);
}

/**
 * Between: the object moves with the weighted mean of its drivers' moves.
 * `W = T(Σ wᵢ (dᵢ − dᵢ₀)) · W₀`, `C = P⁻¹ · W · L₀⁻¹`.
 * @param aims turns it with the direction from the first driver to the last, by the least turn about its pivot.
 */
export function between(
  drivers: readonly Readonly<Matrix>[],
  weights: ArrayLike<number>,
  s: TakenSnapshot,
  parent: Readonly<Matrix>,
  aims = false,
): Matrix | undefined {
  const intoParent = inverseOf(parent);
  if (!intoParent) return undefined;
  const shares = normalisedWeights(weights) ?? drivers.map(() => 0);
  let move: Vec3 = [0, 0, 0];
  drivers.forEach((d, i) => {
    move = add(move, scale(subtract(positionOf(d), positionOf(s.drivers[i])), shares[i]));
  });
  let world = product(translation(move), s.space);
  if (aims && drivers.length > 1) {
    const last = drivers.length - 1;
    const then = subtract(positionOf(s.drivers[last]), positionOf(s.drivers[0]));
    const now = subtract(positionOf(drivers[last]), positionOf(drivers[0]));
    const at = add(positionOf(pivotFrame(s)), move);
    world = product(translation(at), turnBetween(then, now), translation(scale(at, -1)), world);
  }
  return multiply(world, intoParent, world);
}

/** Where the pivot of an object is now that its parent carries it, before it is turned; undefined where it was flat. */
export function carriedPivot(s: TakenSnapshot, parent: Readonly<Matrix>): Vec3 | undefined {
  const intoRest = inverseOf(s.parent);
  return intoRest && transformPoint(parent, transformPoint(intoRest, positionOf(pivotFrame(s))));
}

/** What Aim At turns towards. */
export interface AimTarget {
  readonly target: Vec3;
  /** The direction that is kept up, or a place that is kept above; with neither, the object turns as little as it can. */
  readonly up?: Vec3;
  readonly above?: Vec3;
}

/**
 * Aim At: the object is carried by its parent, and turned about its pivot as the target moves.
 * `C = P⁻¹ · T(a) · R · R₀⁻¹ · T(−a₀) · S₀`, `a` its pivot now. Nothing moves while nothing has changed.
 * @param then the target when the snapshot was taken. @param rollInRadians added about the line to the target.
 */
export function aimWith(
  now: AimTarget,
  then: AimTarget,
  s: TakenSnapshot,
  parent: Readonly<Matrix>,
  axes: AimAxes,
  rollInRadians = 0,
): Matrix | undefined {
  const intoParent = inverseOf(parent);
  const a = carriedPivot(s, parent);
  if (!intoParent || !a) return undefined;
  const a0 = positionOf(pivotFrame(s));
  // A target that is where the object is, or was, is no direction: nothing turns.
  if (length(subtract(now.target, a)) === 0 || length(subtract(then.target, a0)) === 0)
    return product(intoParent, translation(subtract(a, a0)), s.space);
  const [up, upThen] = [upOf(now, a), upOf(then, a0)];
  const rotation =
    up && upThen
      ? turnOnto(
          aimRotation(subtract(now.target, a), up, axes, rollInRadians),
          aimRotation(subtract(then.target, a0), upThen, axes, 0),
        )
      : turnBetween(subtract(then.target, a0), subtract(now.target, a), rollInRadians);
  return product(intoParent, translation(a), rotation, translation(scale(a0, -1)), s.space);
}

/** Which way is up for something at a place. */
const upOf = ({ up, above }: AimTarget, place: Vec3): Vec3 | undefined => (above ? subtract(above, place) : up);
