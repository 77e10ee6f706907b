import { trianglesOf } from '../geometry/triangles.ts';
import { boundsOf } from '../geometry/bounds.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { randomFrom } from '../maths/random.ts';
import { indexOf } from '../nearest/shared.ts';
import { makeSign } from '../nearest/signed.ts';

/** Scattered places with the way the surface faces there (0 inside a volume). */
export interface Scattered {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** Why there are fewer than asked for: no area or room inside was found, or no room at the spacing. */
  readonly lacks?: 'place' | 'spacing';
}

/** Gives a place and its normal, six numbers; undefined when it finds none. */
type Draw = () => readonly number[] | undefined;

/** How often a place is tried again for a spacing before it is given up. */
const TRIES = 30;

/**
 * Places on the faces of a mesh, as many on each as its area asks for, or inside it. The same seed gives the same
 * places; more of them keep the first ones.
 * @param spacing no two places are nearer than this; 0 does not look. Then there may be fewer than `count`.
 * @param inside within the closed mesh instead of on it.
 */
export function scatter(
  mesh: Mesh,
  count: number,
  seed: number,
  spacing: number,
  inside: boolean,
  checkpoint: () => void = () => {},
): Scattered {
  const random = randomFrom(seed);
  const draw = inside ? drawInside(mesh, random, checkpoint) : drawOnFaces(mesh, random);
  const positions: number[] = [];
  const normals: number[] = [];
  const taken = spacing > 0 ? new Map<string, number[]>() : undefined;
  const key = (p: readonly number[], dx = 0, dy = 0, dz = 0) =>
    `${Math.floor(p[0] / spacing) + dx},${Math.floor(p[1] / spacing) + dy},${Math.floor(p[2] / spacing) + dz}`;
  const isFree = (p: readonly number[]) => {
    for (let d = 0; d < 27; d++) {
      const near = taken?.get(key(p, (d % 3) - 1, (Math.floor(d / 3) % 3) - 1, Math.floor(d / 9) - 1));
      for (const i of near ?? []) {
        const distance = Math.hypot(p[0] - positions[i * 3], p[1] - positions[i * 3 + 1], p[2] - positions[i * 3 + 2]);
        if (distance < spacing) return false;
      }
    }
    return true;
  };
  let lacks: Scattered['lacks'];
  for (let i = 0; i < count && !lacks; i++) {
    if ((i & 1023) === 0) checkpoint();
    let place: readonly number[] | undefined;
    for (let t = 0; t < TRIES && !place && !lacks; t++) {
      const drawn = draw();
      if (!drawn) lacks = 'place';
      else if (!taken || isFree(drawn)) place = drawn;
    }
    if (!place) {
      lacks ??= 'spacing';
      break;
    }
    if (taken) taken.set(key(place), [...(taken.get(key(place)) ?? []), positions.length / 3]);
    positions.push(place[0], place[1], place[2]);
    normals.push(place[3], place[4], place[5]);
  }
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), lacks };
}

/** A place and normal on a face, chosen by area. */
function drawOnFaces(mesh: Mesh, random: () => number): Draw {
  const { points, count } = trianglesOf(mesh.topology);
  const p = mesh.positions;
  const sums = new Float64Array(count + 1);
  const cross = (t: number) => {
    const [a, b, c] = [0, 1, 2].map((k) => points[t * 3 + k] * 3);
    const [ux, uy, uz] = [0, 1, 2].map((axis) => p[b + axis] - p[a + axis]);
    const [vx, vy, vz] = [0, 1, 2].map((axis) => p[c + axis] - p[a + axis]);
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  };
  for (let t = 0; t < count; t++) sums[t + 1] = sums[t] + areaOf(cross(t));
  if (!(sums[count] > 0)) return () => undefined;
  return () => {
    const at = random() * sums[count];
    let [low, high] = [0, count - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (sums[middle] <= at) low = middle;
      else high = middle - 1;
    }
    const root = Math.sqrt(random());
    const second = random();
    const w = [1 - root, root * (1 - second), root * second];
    const place = [0, 1, 2].map((axis) => w.reduce((sum, v, k) => sum + v * p[points[low * 3 + k] * 3 + axis], 0));
    const n = cross(low);
    const l = Math.hypot(...n) || 1;
    return [...place, n[0] / l, n[1] / l, n[2] / l];
  };
}

/** Twice the area of a triangle by the product of its sides; one that is not finite has none. */
function areaOf(product: readonly number[]): number {
  const area = Math.hypot(...product);
  return area < Infinity ? area : 0;
}

/** How often a place in the bounds is tried before it is looked for where there is an inside. */
const BLIND = 30;
/** How often one is tried there. */
const AIMED = 20_000;

/** A place inside, anywhere with the same chance: tried in the bounds, and for thin meshes in boxes that hold all of its inside. */
function drawInside(mesh: Mesh, random: () => number, checkpoint: () => void): Draw {
  const index = indexOf(mesh, 'faces');
  const sign = makeSign(mesh, index);
  const { low, high } = boundsOf(mesh.positions);
  const isInside = (place: readonly number[]) => {
    const found = index.nearest(place[0], place[1], place[2]);
    return found >= 0 && sign(found, place[0], place[1], place[2]) < 0;
  };
  const within = (from: readonly number[], size: readonly number[]) => from.map((v, axis) => v + size[axis] * random());
  const whole = high.map((v, axis) => v - low[axis]);
  let boxes: readonly Box[] | undefined;
  return () => {
    for (let t = 0; t < BLIND; t++) {
      const place = within(low, whole);
      if (isInside(place)) return [...place, 0, 0, 0];
    }
    boxes ??= boxesInside(low, whole, (p) => signedAt(p));
    if (boxes.length === 0) return undefined;
    for (let t = 0; t < AIMED; t++) {
      if ((t & 255) === 0) checkpoint();
      const box = boxes[Math.floor(random() * boxes.length)];
      const place = within(box.low, box.size);
      if (isInside(place)) return [...place, 0, 0, 0];
    }
    return undefined;
  };

  function signedAt(p: readonly number[]): number {
    const found = index.nearest(p[0], p[1], p[2]);
    return found < 0 ? Infinity : Math.sqrt(index.distanceSquared) * sign(found, p[0], p[1], p[2]);
  }
}

interface Box {
  readonly low: readonly number[];
  readonly size: readonly number[];
}

/** Most boxes that the bounds are cut into. */
const MOST_BOXES = 40_000;

/** Boxes of one size that together hold all of the inside: those that the surface keeps out of are left out, halving by halving. */
function boxesInside(low: readonly number[], whole: readonly number[], signed: (p: readonly number[]) => number): Box[] {
  let boxes: Box[] = [{ low, size: whole }];
  for (let level = 0; level < 30 && boxes.length > 0 && boxes.length * 2 <= MOST_BOXES; level++) {
    const next: Box[] = [];
    for (const box of boxes) {
      // Across the longest side.
      const axis = box.size.indexOf(Math.max(...box.size));
      const size = box.size.map((v, k) => (k === axis ? v / 2 : v));
      for (const half of [0, 1]) {
        const from = box.low.map((v, k) => (k === axis ? v + size[k] * half : v));
        if (signed(from.map((v, k) => v + size[k] / 2)) <= Math.hypot(...size) / 2) next.push({ low: from, size });
      }
    }
    boxes = next;
  }
  return boxes;
}
