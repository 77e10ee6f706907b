import { normalsOf } from '../geometry/derived.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { aimRotation, turnBetween, turnOnto } from '../maths/aim.ts';
import { matrixAt, positionOf, transformPoint, translation, type Matrix } from '../maths/matrix.ts';
import { add, cross, dot, length, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { indexOf } from '../nearest/shared.ts';
import { rayHit } from '../nearest/ray.ts';
import { isClosed, makeSign } from '../nearest/signed.ts';
import { moveWith, type Chain } from './chain.ts';
import { turnOf } from './limits.ts';
import type { PackedWeights } from './skin-weights.ts';
import { squarePart, turnAboutAxis } from './turns.ts';

/** What is under a place: how far above the ground it is (negative: inside), the way out, and where the ground faces. */
export interface Under {
  readonly height: number;
  readonly out: Vec3;
  readonly normal: Vec3;
}
export type Ground = (place: Vec3) => Under | undefined;

/**
 * The ground along a direction: what a line through the place meets first, coming from the other side. `search` is how far
 * back the line begins, metres: deeper than that nothing is pushed out. Undefined where it meets nothing.
 */
export function groundAlong(mesh: Mesh, direction: Vec3, search: number): Ground {
  const index = indexOf(mesh, 'faces');
  const { points } = trianglesOf(mesh.topology);
  const normals = normalsOf(mesh);
  const d = normalize(direction);
  const out = scale(d, -1);
  return (p) => {
    const found = rayHit(index, p[0] - d[0] * search, p[1] - d[1] * search, p[2] - d[2] * search, d[0], d[1], d[2]);
    if (found < 0) return undefined;
    const height = index.rayDistance - search;
    const n = smoothNormal(normals, points, found, index.weightB, index.weightC);
    return { height, out, normal: dot(n, out) < 0 ? scale(n, -1) : n };
  };
}

/** The nearest place of the ground: outside of a closed mesh, on the front side of an open one. */
export function groundNearest(mesh: Mesh): Ground {
  const index = indexOf(mesh, 'faces');
  const { points } = trianglesOf(mesh.topology);
  const normals = normalsOf(mesh);
  const sign = isClosed(mesh) ? makeSign(mesh, index) : undefined;
  const at = mesh.positions;
  return (p) => {
    const found = index.nearest(p[0], p[1], p[2], Infinity, -1);
    if (found < 0) return undefined;
    const [wb, wc] = [index.weightB, index.weightC];
    const corner = (k: number): Vec3 => {
      const o = points[found * 3 + k] * 3;
      return [at[o], at[o + 1], at[o + 2]];
    };
    const q = add(scale(corner(0), 1 - wb - wc), add(scale(corner(1), wb), scale(corner(2), wc)));
    const normal = smoothNormal(normals, points, found, wb, wc);
    const away = subtract(p, q);
    const far = length(away);
    const side = sign ? sign(found, p[0], p[1], p[2]) : dot(away, normal) < 0 ? -1 : 1;
    return { height: far * side, out: far > 1e-9 ? scale(away, side / far) : normal, normal };
  };
}

function smoothNormal(normals: Readonly<Float32Array>, points: Readonly<Int32Array>, t: number, wb: number, wc: number): Vec3 {
  const [a, b, c] = [points[t * 3] * 3, points[t * 3 + 1] * 3, points[t * 3 + 2] * 3];
  const wa = 1 - wb - wc;
  return normalize([0, 1, 2].map((k) => normals[a + k] * wa + normals[b + k] * wb + normals[c + k] * wc) as unknown as Vec3);
}

/** How a place comes down: only pushed out, or drawn in too while it is within the band. */
export type Landing = 'push' | 'draw';

/**
 * Where a height above the clearance goes, so that nothing sinks in and the first derivative is continuous. Drawn in:
 * `t² (2b − t) / b²` within the band `0..b`, the clearance exactly below it, the height itself above. Only pushed:
 * `(t + b)² / 4b` from `−b` to `b`, so that it is lifted by a quarter of the band at most before it touches.
 */
export function land(t: number, band: number, landing: Landing): number {
  if (!(band > 0)) return Math.max(0, t);
  if (landing === 'draw') return t <= 0 ? 0 : t >= band ? t : (t * t * (2 * band - t)) / (band * band);
  return t <= -band ? 0 : t >= band ? t : (t + band) ** 2 / (4 * band);
}

/** How near the ground a height is: 1 at the clearance and below, 0 above the band, smooth between. */
export function nearness(t: number, band: number): number {
  if (!(band > 0)) return t <= 0 ? 1 : 0;
  const s = Math.min(1, Math.max(0, 1 - t / band));
  return s * s * (3 - 2 * s);
}

/** What is told of one place that may touch. */
export interface Touch {
  /** How deep it was in the ground, and is now, metres; negative: above it. With its clearance. */
  readonly before: number;
  readonly after: number;
  readonly touching: boolean;
  /** Degrees between the ground there and level. */
  readonly slope: number;
}

/** Nearer than this it touches, metres. */
const TOUCHING = 1e-4;

export const touchOf = (ground: Under | undefined, after: Under | undefined, clearance: number, up: Vec3): Touch => {
  const slope = ground ? (Math.acos(Math.min(1, Math.max(-1, dot(ground.normal, up)))) * 180) / Math.PI : 0;
  const before = ground ? clearance - ground.height : -Infinity;
  const now = after ? clearance - after.height : before;
  return { before, after: now, touching: now >= -TOUCHING, slope };
};

/** A point brought out of the ground. Undefined where there is none. */
export function landPoint(p: Vec3, ground: Ground, clearance: number, band: number, landing: Landing): Vec3 | undefined {
  const under = ground(p);
  if (!under) return undefined;
  const t = under.height - clearance;
  return add(p, scale(under.out, land(t, band, landing) - t));
}

/** A place that may touch: of which contact, where it is, and how far above the ground it is to come. */
export interface Probe {
  readonly contact: number;
  readonly place: Vec3;
  readonly clearance: number;
}

export interface FootOptions {
  /** The joint that is moved as a whole, and the ones that may touch, which hang under it or are it. */
  readonly foot: number;
  readonly contacts: readonly number[];
  /** What really may touch: the contacts themselves, or points of the skin on them, where they are. */
  readonly probes: readonly Probe[];
  readonly up: Vec3;
  readonly band: number;
  readonly landing: Landing;
  /** How much of the slope it takes over, 0..1, and the most degrees. */
  readonly align: number;
  readonly mostInRadians: number;
  /** The foot's own up and forward, as they are in the world; undefined: its turn is changed by how the ground is tilted. */
  readonly axes: { readonly up: Vec3; readonly forward: Vec3 } | undefined;
}

/**
 * A foot set down: first tilted to the plane under its contacts, as far as asked and the nearer to the ground the more; then
 * lifted (or lowered within the band) along up, until the deepest probe is at its clearance. It is moved as one.
 * @param worlds written to. @returns how many contacts have no ground under them.
 */
export function landFoot(chain: Chain, worlds: Float64Array, ground: Ground, o: FootOptions): { missing: number } {
  const probes = o.probes.map((p) => ({ ...p, place: p.place }));
  const placeOf = (j: number): Vec3 => positionOf(matrixAt(worlds, j));
  const under = () => probes.map((p) => ground(p.place));
  const move = (m: Matrix) => {
    moveWith(chain, worlds, o.foot, m);
    for (const p of probes) p.place = transformPoint(m, p.place);
  };
  const before = under();
  const heights = before.flatMap((u, i) => (u ? [u.height - probes[i].clearance] : []));
  const below = o.contacts.flatMap((j) => {
    const u = ground(placeOf(j));
    return u ? [{ place: subtract(placeOf(j), scale(u.out, u.height)), normal: u.normal }] : [];
  });
  if (below.length > 0 && heights.length > 0 && o.align > 0) {
    const near = nearness(Math.min(...heights), o.band);
    const turn = tilt(
      planeNormal(
        below.map((b) => b.place),
        below.map((b) => b.normal),
        o.up,
      ),
      o,
    );
    const angle = Math.min(turn.angle * o.align, o.mostInRadians) * near;
    const middle = scale(o.contacts.map(placeOf).reduce(add), 1 / o.contacts.length);
    if (angle > 0) move(turnAboutAxis(middle, turn.axis, angle));
  }
  let lift = -Infinity;
  under().forEach((u, i) => {
    if (!u) return;
    const t = u.height - probes[i].clearance;
    lift = Math.max(lift, (land(t, o.band, o.landing) - t) / Math.max(0.05, dot(u.out, o.up)));
  });
  if (Number.isFinite(lift) && lift !== 0) move(translation(scale(o.up, lift)));
  const found = o.contacts.map(() => false);
  probes.forEach((p, i) => {
    if (before[i]) found[p.contact] = true;
  });
  return { missing: found.filter((f, i) => !f && probes.some((p) => p.contact === i)).length };
}

/**
 * What is told of each contact of a foot: its deepest probe, before it was moved and as it comes out.
 * @param probes where they were. @param moved what the foot was moved by
 */
export function footTouches(
  worlds: Readonly<Float64Array>,
  ground: Ground,
  contacts: readonly number[],
  probes: readonly Probe[],
  moved: Readonly<Matrix>,
  up: Vec3,
): Touch[] {
  const told: (Touch | undefined)[] = contacts.map(() => undefined);
  for (const p of probes) {
    const touch = touchOf(ground(p.place), ground(transformPoint(moved, p.place)), p.clearance, up);
    const known = told[p.contact];
    if (!known || touch.after > known.after)
      told[p.contact] = { ...touch, before: Math.max(touch.before, known?.before ?? -Infinity) };
    else if (touch.before > known.before) told[p.contact] = { ...known, before: touch.before };
  }
  return contacts.map((j, i) => {
    const under = told[i] ? undefined : ground(positionOf(matrixAt(worlds, j)));
    return told[i] ?? touchOf(under, under, 0, up);
  });
}

/** The turn that tilts a foot onto a plane, as an axis and an angle. */
function tilt(normal: Vec3, o: FootOptions): { axis: Vec3; angle: number } {
  let turn: Matrix;
  if (o.axes) {
    const forward = squarePart(o.axes.forward, normal);
    const frame = { aim: 'z', up: 'y' } as const;
    turn =
      length(forward) > 1e-6
        ? turnOnto(
            aimRotation(forward, normal, frame, 0),
            aimRotation(squarePart(o.axes.forward, o.axes.up), o.axes.up, frame, 0),
          )
        : turnBetween(o.axes.up, normal);
  } else turn = turnBetween(o.up, normal);
  const q = turnOf(turn);
  const s = Math.hypot(q[0], q[1], q[2]);
  if (s < 1e-12) return { axis: [1, 0, 0], angle: 0 };
  const sign = q[3] < 0 ? -1 : 1;
  return { axis: [(sign * q[0]) / s, (sign * q[1]) / s, (sign * q[2]) / s], angle: 2 * Math.atan2(s, Math.abs(q[3])) };
}

/** The plane through places on the ground; where they are fewer than three, or in line, what the ground faces there. */
function planeNormal(places: readonly Vec3[], normals: readonly Vec3[], up: Vec3): Vec3 {
  const mean = normalize(normals.reduce(add));
  if (places.length < 2) return mean;
  const middle = scale(places.reduce(add), 1 / places.length);
  let sum: Vec3 = [0, 0, 0];
  let size = 0;
  for (let i = 0; i < places.length; i++) {
    const [a, b] = [subtract(places[i], middle), subtract(places[(i + 1) % places.length], middle)];
    sum = add(sum, cross(a, b));
    size = Math.max(size, dot(a, a));
  }
  if (length(sum) > 0.02 * size) return dot(sum, up) < 0 ? normalize(scale(sum, -1)) : normalize(sum);
  // In line: tilted along it as the places are, across it as the ground faces.
  const line = normalize(subtract(places[places.length - 1], places[0]));
  const flat = squarePart(mean, line);
  return length(flat) > 1e-6 ? normalize(flat) : mean;
}

/**
 * Bends a joint until a place under it is out of the ground: about the axis across its bone and up, by the angle that lifts
 * the place to its clearance; a few times, since the ground under the place changes.
 */
export function bendOut(
  chain: Chain,
  worlds: Float64Array,
  joint: number,
  tip: number,
  ground: Ground,
  clearance: number,
  up: Vec3,
  band: number,
  landing: Landing,
): void {
  for (let round = 0; round < 6; round++) {
    const at = positionOf(matrixAt(worlds, joint));
    const place = positionOf(matrixAt(worlds, tip));
    const under = ground(place);
    if (!under) break;
    const t = under.height - clearance;
    const lift = (round === 0 ? land(t, band, landing) : Math.max(0, t)) - t;
    if (Math.abs(lift) < 1e-9) break;
    const bone = subtract(place, at);
    const far = length(bone);
    const axis = cross(bone, up);
    if (!(far > 0) || !(length(axis) > 1e-9 * far)) break;
    const rise = dot(bone, up);
    const wanted = Math.min(far * 0.9999, Math.max(-far * 0.9999, rise + lift));
    const angle = Math.asin(wanted / far) - Math.asin(Math.min(1, Math.max(-1, rise / far)));
    moveWith(chain, worlds, joint, turnAboutAxis(at, normalize(axis), angle));
  }
}

/**
 * Points of the skin that belong to contacts: those of which the joints that hang on a contact's foot have more than half.
 * @param places where they are, skinned; xyz each. @returns for each point that counts, its number and its contact: the
 * one of the contacts with the greatest weight, else the first.
 */
export function pointsOnContacts(
  packed: PackedWeights,
  contacts: readonly number[],
  belongs: (joint: number) => boolean,
): { point: number; contact: number }[] {
  const found: { point: number; contact: number }[] = [];
  const count = packed.starts.length - 1;
  for (let p = 0; p < count; p++) {
    let sum = 0;
    let contact = 0;
    let most = 0;
    for (let k = packed.starts[p]; k < packed.starts[p + 1]; k++) {
      if (!belongs(packed.joints[k])) continue;
      sum += packed.weights[k];
      const i = contacts.indexOf(packed.joints[k]);
      if (i >= 0 && packed.weights[k] > most) {
        most = packed.weights[k];
        contact = i;
      }
    }
    if (sum > 0.5) found.push({ point: p, contact });
  }
  return found;
}
