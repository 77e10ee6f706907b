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
}

/** How often a place is tried again for a spacing or an inside before it is given up. */
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
  const draw = inside ? drawInside(mesh, random) : drawOnFaces(mesh, random);
  const positions: number[] = [];
  const normals: number[] = [];
  const taken = spacing > 0 ? new Map<string, number[]>() : undefined;
  const key = (p: readonly number[], dx = 0, dy = 0, dz = 0) =>
    `${Math.floor(p[0] / spacing) + dx},${Math.floor(p[1] / spacing) + dy},${Math.floor(p[2] / spacing) + dz}`;
  const isFree = (p: readonly number[]) => {
    for (let d = 0; d < 27; d++) {
      const near = taken?.get(key(p, (d % 3) - 1, (Math.floor(d / 3) % 3) - 1, Math.floor(d / 9) - 1));
      for (const i of near ?? []) {
        const distance = Math.hypot(
          p[0] - positions[i * 3],
          p[1] - positions[i * 3 + 1],
          p[2] - positions[i * 3 + 2],
        );
        if (distance < spacing) return false;
      }
    }
    return true;
  };
  for (let i = 0; i < count; i++) {
    if ((i & 1023) === 0) checkpoint();
    let place: readonly number[] | undefined;
    for (let t = 0; t < TRIES && !place; t++) {
      const drawn = draw();
      if (drawn && (!taken || isFree(drawn))) place = drawn;
    }
    if (!place) {
      if (taken) break;
      continue;
    }
    if (taken) taken.set(key(place), [...(taken.get(key(place)) ?? []), positions.length / 3]);
    positions.push(place[0], place[1], place[2]);
    normals.push(place[3], place[4], place[5]);
  }
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals) };
}

/** A place and normal on a face, chosen by area. */
function drawOnFaces(mesh: Mesh, random: () => number): () => readonly number[] {
  const { points, count } = trianglesOf(mesh.topology);
  const p = mesh.positions;
  const sums = new Float64Array(count + 1);
  const cross = (t: number) => {
    const [a, b, c] = [0, 1, 2].map((k) => points[t * 3 + k] * 3);
    const [ux, uy, uz] = [0, 1, 2].map((axis) => p[b + axis] - p[a + axis]);
    const [vx, vy, vz] = [0, 1, 2].map((axis) => p[c + axis] - p[a + axis]);
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  };
  for (let t = 0; t < count; t++) sums[t + 1] = sums[t] + (Math.hypot(...cross(t)) || 0);
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
    const place = [0, 1, 2].map((axis) =>
      w.reduce((sum, v, k) => sum + v * p[points[low * 3 + k] * 3 + axis], 0),
    );
    const n = cross(low);
    const l = Math.hypot(...n) || 1;
    return [...place, n[0] / l, n[1] / l, n[2] / l];
  };
}

function drawInside(mesh: Mesh, random: () => number): () => readonly number[] | undefined {
  const index = indexOf(mesh, 'faces');
  const sign = makeSign(mesh, index);
  const { low, high } = boundsOf(mesh.positions);
  return () => {
    const place = low.map((v, axis) => v + (high[axis] - v) * random());
    const found = index.nearest(place[0], place[1], place[2]);
    return found >= 0 && sign(found, place[0], place[1], place[2]) < 0 ? [...place, 0, 0, 0] : undefined;
  };
}
