import { LINKS, type SpatialIndex } from './spatial-index.ts';
import { leafCount, leafStart } from './tree.ts';

const STACK = 128;
const stack = new Int32Array(STACK);

/**
 * The triangle that a ray meets first (Möller and Trumbore 1997), −1 for none. Afterwards the index's `rayDistance` tells
 * how far, in lengths of the direction, and its weights tell where on it. Only for indices of triangles.
 * @param from least and `to` greatest distance. @param sides `front` passes through faces seen from behind.
 */
export function rayHit(
  index: SpatialIndex,
  x: number,
  y: number,
  z: number,
  dx: number,
  dy: number,
  dz: number,
  from = 0,
  to = Infinity,
  sides: 'both' | 'front' = 'both',
): number {
  const { records, links, packed } = index;
  const { order } = index.tree;
  let best = -1;
  let least = to;
  index.rayDistance = Infinity;
  const length = dx * dx + dy * dy + dz * dz;
  if (records.length === 0 || index.size !== 3 || !(length > 0 && x - x === 0 && y - y === 0 && z - z === 0))
    return -1;
  const ix = 1 / dx, iy = 1 / dy, iz = 1 / dz; // prettier-ignore
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top];
    if (node >= 0) {
      for (let child = 1; child >= 0; child--)
        if (meetsBox(node + child * 6)) stack[top++] = links[node + LINKS + child];
      continue;
    }
    for (let i = leafStart(node), end = i + leafCount(node); i < end; i++) {
      const p = i * 9;
      const ax = packed[p], ay = packed[p + 1], az = packed[p + 2]; // prettier-ignore
      const ux = packed[p + 3] - ax, uy = packed[p + 4] - ay, uz = packed[p + 5] - az; // prettier-ignore
      const vx = packed[p + 6] - ax, vy = packed[p + 7] - ay, vz = packed[p + 8] - az; // prettier-ignore
      const hx = dy * vz - dz * vy, hy = dz * vx - dx * vz, hz = dx * vy - dy * vx; // prettier-ignore
      const a = ux * hx + uy * hy + uz * hz;
      if (a === 0 || (sides === 'front' && a < 0)) continue;
      const sx = x - ax, sy = y - ay, sz = z - az; // prettier-ignore
      const b = (sx * hx + sy * hy + sz * hz) / a;
      if (!(b >= 0 && b <= 1)) continue;
      const qx = sy * uz - sz * uy, qy = sz * ux - sx * uz, qz = sx * uy - sy * ux; // prettier-ignore
      const c = (dx * qx + dy * qy + dz * qz) / a;
      if (!(c >= 0 && b + c <= 1)) continue;
      const t = (vx * qx + vy * qy + vz * qz) / a;
      if (!(t >= from) || t > least || (t === least && best >= 0 && order[i] > best)) continue;
      best = order[i];
      least = t;
      index.weightB = b;
      index.weightC = c;
    }
  }
  if (best >= 0) index.rayDistance = least;
  return best;

  /** Whether the ray passes the box at a word of the records, no further than the best so far. */
  function meetsBox(o: number): boolean {
    let near = from;
    let far = least;
    // A direction of 0 along an axis makes 0 · ∞, which is no number: such a slab holds by its place alone.
    for (let axis = 0; axis < 3; axis++) {
      const at = axis === 0 ? x : axis === 1 ? y : z;
      const by = axis === 0 ? dx : axis === 1 ? dy : dz;
      if (by === 0) {
        if (at < records[o + axis] || at > records[o + 3 + axis]) return false;
        continue;
      }
      const inverse = axis === 0 ? ix : axis === 1 ? iy : iz;
      const a = (records[o + axis] - at) * inverse;
      const b = (records[o + 3 + axis] - at) * inverse;
      near = Math.max(near, Math.min(a, b));
      far = Math.min(far, Math.max(a, b) * (1 + 4e-16));
    }
    return near <= far;
  }
}
