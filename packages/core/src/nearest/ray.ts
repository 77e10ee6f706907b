import { LINKS } from './slots.ts';
import type { SpatialIndex } from './spatial-index.ts';
import { ROUNDING } from './ties.ts';
import { leafCount, leafStart } from './tree.ts';

const STACK = 128;
const stack = new Int32Array(STACK);

/**
 * The triangle that a ray meets first, −1 for none (Woop, Benthin and Wald, Watertight Ray/Triangle Intersection, 2013);
 * the lowest number where it passes through the edge or point of several. Afterwards the index's `rayDistance` tells
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
  const { records, links, packed, ties } = index;
  const { order } = index.tree;
  index.rayDistance = Infinity;
  const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
  if (records.length === 0 || index.size !== 3 || !(length > 0 && x - x === 0 && y - y === 0 && z - z === 0)) return -1;
  const ix = 1 / dx,
    iy = 1 / dy,
    iz = 1 / dz;
  // 1. Axes in the order in which the ray's longest is the third, so turned that none mirrors; then all is sheared along it.
  const [ax, ay, az] = [Math.abs(dx), Math.abs(dy), Math.abs(dz)];
  const w = ax > ay ? (ax > az ? 0 : 2) : ay > az ? 1 : 2;
  const u = (w + 1) % 3;
  const v = (w + 2) % 3;
  const along = w === 0 ? dx : w === 1 ? dy : dz;
  const su = (u === 0 ? dx : u === 1 ? dy : dz) / along;
  const sv = (v === 0 ? dx : v === 1 ? dy : dz) / along;
  const ou = u === 0 ? x : u === 1 ? y : z;
  const ov = v === 0 ? x : v === 1 ? y : z;
  const ow = w === 0 ? x : w === 1 ? y : z;
  const facing = along < 0 ? -1 : 1;
  const wide = (index.reach + Math.abs(x) + Math.abs(y) + Math.abs(z)) * ROUNDING;
  const rounding = wide / length;
  let least = Infinity;
  let limit = to;
  let best = -1;
  let noted = 0;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top];
    if (node >= 0) {
      for (let child = 1; child >= 0; child--) if (meetsBox(node + child * 6)) stack[top++] = links[node + LINKS + child];
      continue;
    }
    for (let i = leafStart(node), end = i + leafCount(node); i < end; i++) {
      const p = i * 9;
      const aw = packed[p + w] - ow,
        bw = packed[p + 3 + w] - ow,
        cw = packed[p + 6 + w] - ow;
      const au = packed[p + u] - ou - su * aw,
        av = packed[p + v] - ov - sv * aw;
      const bu = packed[p + 3 + u] - ou - su * bw,
        bv = packed[p + 3 + v] - ov - sv * bw;
      const cu = packed[p + 6 + u] - ou - su * cw,
        cv = packed[p + 6 + v] - ov - sv * cw;
      // 2. On which side of each edge the ray passes. Both triangles at an edge make the same two products of it, so that
      // no ray slips between them; what may be nothing but rounding is nothing.
      const sizeA = Math.abs(au) + Math.abs(av),
        sizeB = Math.abs(bu) + Math.abs(bv),
        sizeC = Math.abs(cu) + Math.abs(cv);
      let a = bu * cv - bv * cu;
      let b = cu * av - cv * au;
      let c = au * bv - av * bu;
      if (Math.abs(a) <= (sizeB + sizeC) * wide) a = 0;
      if (Math.abs(b) <= (sizeC + sizeA) * wide) b = 0;
      if (Math.abs(c) <= (sizeA + sizeB) * wide) c = 0;
      if ((a < 0 || b < 0 || c < 0) && (a > 0 || b > 0 || c > 0)) continue;
      const all = a + b + c;
      if (!(all !== 0) || (sides === 'front' && all * facing > 0)) continue;
      // 3. How far, in lengths of the direction.
      const t = (a * aw + b * bw + c * cw) / (all * along);
      if (!(t >= from && t <= limit)) continue;
      const number = order[i];
      if (t < least || (t === least && number < best)) {
        if (least > t + rounding) noted = 0;
        best = number;
        least = t;
        limit = Math.min(to, t + rounding);
      } else if (number > best) continue;
      if (noted === ties.numbers.length) ties.grow();
      ties.values[noted * 3] = t;
      ties.values[noted * 3 + 1] = b / all;
      ties.values[noted * 3 + 2] = c / all;
      ties.numbers[noted++] = number;
    }
  }
  const at = ties.lowest(noted, limit);
  if (at < 0) return -1;
  index.rayDistance = ties.values[at * 3];
  index.weightB = ties.values[at * 3 + 1];
  index.weightC = ties.values[at * 3 + 2];
  return ties.numbers[at];

  /** Whether the ray passes the box at a word of the records, no further than the best so far. */
  function meetsBox(o: number): boolean {
    let near = from;
    let far = limit;
    // A direction of 0 along an axis may make 0 · ∞, which is no number: such a slab holds by its place alone.
    for (let axis = 0; axis < 3; axis++) {
      const at = axis === 0 ? x : axis === 1 ? y : z;
      const by = axis === 0 ? dx : axis === 1 ? dy : dz;
      if (Math.abs(by) < 1e-300) {
        if (at < records[o + axis] || at > records[o + 3 + axis]) return false;
        continue;
      }
      const inverse = axis === 0 ? ix : axis === 1 ? iy : iz;
      const a = (records[o + axis] - at) * inverse;
      const b = (records[o + 3 + axis] - at) * inverse;
      near = Math.max(near, Math.min(a, b));
      far = Math.min(far, Math.max(a, b) * (1 + 1e-15));
    }
    return near <= far;
  }
}
