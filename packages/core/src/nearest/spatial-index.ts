import { closest, toPoint, toSegment, toTriangle } from './closest.ts';
import { allFinite } from '../maths/finite.ts';
import { LINKS, RECORD, slotsOf, type Slots } from './slots.ts';
import { ROUNDING, Ties } from './ties.ts';
import { boxesOf, buildTree, isFinitePrimitive, leafCount, leafStart, type Tree } from './tree.ts';

/** Points, edges or triangles. */
export type PrimitiveSize = 1 | 2 | 3;

const STACK = 128;
/** Leads nowhere: it is neither a record nor a leaf. */
const NOWHERE = 0x7fffffff;

const NO_SLOTS = new Int32Array(0);

/**
 * A tree of boxes over points, edges or triangles, laid out flat. Nearest queries are exact; ties go to the lowest
 * number (DECISIONS 16), also where distances to the same place differ by rounding. Every primitive is in the tree, and
 * those with a coordinate that is not finite at the present positions are not found, whatever they were before.
 */
export class SpatialIndex {
  readonly tree: Tree;
  /**
   * A record for each inner node, as numbers and as links: what a query asks at a node lies together in memory, which
   * is what its time depends on. Float32 is exact, since positions are.
   */
  readonly records: Float32Array;
  readonly links: Int32Array;
  /** Corners of the primitives in the order of the leaves: 3 × size numbers each. */
  readonly packed: Float32Array;
  private readonly stackNode = new Int32Array(STACK);
  private readonly stackSquared = new Float64Array(STACK);
  /** For hints, when one was given. */
  private slots: Slots | undefined;
  readonly ties = new Ties();
  /** Area of the inner boxes when the tree was built, as a share of the outermost. */
  private readonly builtArea: number;
  /** The largest coordinate, without its sign: what the rounding of distances goes by. */
  reach = 0;

  /** Of the last query: squared distance, and the weights of the second and third corner at the closest point. */
  distanceSquared = Infinity;
  weightB = 0;
  weightC = 0;
  /** Of the last ray: how many of its directions' lengths away it hit. */
  rayDistance = Infinity;

  /**
   * @param positions xyz × points. @param size corners of a primitive.
   * @param corners `size` points per primitive; left out, every point is one.
   * @param like an index over the same primitives at other positions, whose tree is used.
   */
  constructor(
    positions: Readonly<Float32Array>,
    readonly size: PrimitiveSize,
    private readonly corners?: Readonly<Int32Array>,
    like?: SpatialIndex,
  ) {
    const count = corners ? corners.length / size : positions.length / 3;
    this.tree = like ? like.tree : buildTree(boxesOf(positions, size, corners, count));
    this.packed = new Float32Array(this.tree.order.length * size * 3);
    const { links } = this.tree;
    this.records = new Float32Array(links.length * (RECORD / 2));
    this.links = new Int32Array(this.records.buffer);
    for (let i = 0; i < links.length; i++)
      this.links[(i >> 1) * RECORD + LINKS + (i & 1)] = links[i] < 0 ? links[i] : links[i] * RECORD;
    this.refit(positions);
    this.builtArea = like ? like.builtArea : this.area();
  }

  /** Takes over moved positions; the tree keeps its shape. */
  refit(positions: Readonly<Float32Array>): void {
    const { records, links, packed, size, corners } = this;
    const { order } = this.tree;
    const stride = size * 3;
    const clean = allFinite(positions, 0, positions.length);
    // From the last box to the first, so that children come before their parents; two boxes in a record.
    for (let box = (records.length / RECORD) * 2 - 1; box >= 0; box--) {
      const record = (box >> 1) * RECORD;
      const o = record + (box & 1) * 6;
      const link = links[record + LINKS + (box & 1)];
      let lx = Infinity,
        ly = Infinity,
        lz = Infinity,
        hx = -Infinity,
        hy = -Infinity,
        hz = -Infinity;
      if (link < 0) {
        const first = ~link >> 3;
        let out = first * stride;
        for (let i = first, last = first + (~link & 7); i < last; i++) {
          const from = order[i] * size;
          if (!clean && !isFinitePrimitive(positions, corners, from, size)) {
            packed.fill(NaN, out, (out += stride));
            continue;
          }
          for (let k = from, end = from + size; k < end; k++) {
            const p = (corners ? corners[k] : k) * 3;
            const x = positions[p],
              y = positions[p + 1],
              z = positions[p + 2];
            packed[out] = x;
            packed[out + 1] = y;
            packed[out + 2] = z;
            out += 3;
            lx = x < lx ? x : lx;
            ly = y < ly ? y : ly;
            lz = z < lz ? z : lz;
            hx = x > hx ? x : hx;
            hy = y > hy ? y : hy;
            hz = z > hz ? z : hz;
          }
        }
      } else {
        lx = records[link] < records[link + 6] ? records[link] : records[link + 6];
        ly = records[link + 1] < records[link + 7] ? records[link + 1] : records[link + 7];
        lz = records[link + 2] < records[link + 8] ? records[link + 2] : records[link + 8];
        hx = records[link + 3] > records[link + 9] ? records[link + 3] : records[link + 9];
        hy = records[link + 4] > records[link + 10] ? records[link + 4] : records[link + 10];
        hz = records[link + 5] > records[link + 11] ? records[link + 5] : records[link + 11];
      }
      records[o] = lx;
      records[o + 1] = ly;
      records[o + 2] = lz;
      records[o + 3] = hx;
      records[o + 4] = hy;
      records[o + 5] = hz;
    }
    this.reach = 0;
    for (let o = 0; o < 12 && o < records.length; o++)
      if (Math.abs(records[o]) < Infinity) this.reach = Math.max(this.reach, Math.abs(records[o]));
  }

  /** How much larger the boxes are than when the tree was built: above about 2, building anew pays. */
  get wear(): number {
    const area = this.area();
    return area > 0 ? area / this.builtArea : 1;
  }

  /**
   * Number of the nearest primitive within a distance, −1 when there is none.
   * @param hint a primitive that is probably near, such as the last one found; it never changes the result.
   */
  nearest(x: number, y: number, z: number, within = Infinity, hint = -1): number {
    const { records, links, packed, stackNode, stackSquared, size, ties } = this;
    const { order } = this.tree;
    let { numbers, values } = ties;
    // The least so far and its number; `limit` is up to where others are as near.
    let best = -1;
    let least = Infinity;
    const most = within * within;
    let limit = most;
    this.distanceSquared = Infinity;
    if (records.length === 0 || !(x - x === 0 && y - y === 0 && z - z === 0)) return -1;
    const rounding = (this.reach + Math.abs(x) + Math.abs(y) + Math.abs(z)) * ROUNDING;
    let noted = 0;
    let top = 0;
    let node = 0;
    // With a hint from its leaf upwards: at each box above, its sibling is next. Else from the top down.
    const slots = hint >= 0 ? (this.slots ??= slotsOf(this.tree)) : undefined;
    let up = slots?.primitives[hint] ?? -1;
    const above = slots ? slots.nodes : NO_SLOTS;
    if (up >= 0) node = links[(up & ~(RECORD - 1)) + LINKS + (up & 1)];
    for (;;) {
      // Down to a leaf: the nearer child is gone into, the other waits.
      while (node >= 0) {
        const lx = records[node],
          ly = records[node + 1],
          lz = records[node + 2];
        const hx = records[node + 3],
          hy = records[node + 4],
          hz = records[node + 5];
        let dx = x < lx ? lx - x : x > hx ? x - hx : 0;
        let dy = y < ly ? ly - y : y > hy ? y - hy : 0;
        let dz = z < lz ? lz - z : z > hz ? z - hz : 0;
        const left = dx * dx + dy * dy + dz * dz;
        const rlx = records[node + 6],
          rly = records[node + 7],
          rlz = records[node + 8];
        const rhx = records[node + 9],
          rhy = records[node + 10],
          rhz = records[node + 11];
        dx = x < rlx ? rlx - x : x > rhx ? x - rhx : 0;
        dy = y < rly ? rly - y : y > rhy ? y - rhy : 0;
        dz = z < rlz ? rlz - z : z > rhz ? z - rhz : 0;
        const right = dx * dx + dy * dy + dz * dz;
        const second = left <= right ? 1 : 0;
        const near = left <= right ? left : right;
        const far = left <= right ? right : left;
        if (far <= limit) {
          stackNode[top] = links[node + LINKS + second];
          stackSquared[top++] = far;
        }
        if (near > limit) {
          node = NOWHERE;
          break;
        }
        node = links[node + LINKS + 1 - second];
      }
      const first = ~node >> 3;
      const last = node === NOWHERE ? first : first + (~node & 7);
      for (let i = first; i < last; i++) {
        let d = 0;
        let b = 0;
        let c = 0;
        if (size === 3) {
          // `toTriangle`, written out: called, it gives back a number on the heap for each triangle, which takes as long
          // as the rest of the query.
          const o = i * 9;
          const ax = packed[o],
            ay = packed[o + 1],
            az = packed[o + 2];
          const ux = packed[o + 3] - ax,
            uy = packed[o + 4] - ay,
            uz = packed[o + 5] - az;
          const vx = packed[o + 6] - ax,
            vy = packed[o + 7] - ay,
            vz = packed[o + 8] - az;
          const px = x - ax,
            py = y - ay,
            pz = z - az;
          const d1 = ux * px + uy * py + uz * pz;
          const d2 = vx * px + vy * py + vz * pz;
          if (d1 > 0 || d2 > 0) {
            const uu = ux * ux + uy * uy + uz * uz;
            const uv = ux * vx + uy * vy + uz * vz;
            const vv = vx * vx + vy * vy + vz * vz;
            const d3 = d1 - uu;
            const d4 = d2 - uv;
            const d5 = d1 - uv;
            const d6 = d2 - vv;
            const va = d3 * d6 - d5 * d4;
            const vb = d5 * d2 - d1 * d6;
            const vc = d1 * d4 - d3 * d2;
            if (d3 >= 0 && d4 <= d3) b = 1;
            else if (d6 >= 0 && d5 <= d6) c = 1;
            else if (vc <= 0 && d1 >= 0 && d3 <= 0) b = d1 / (d1 - d3);
            else if (vb <= 0 && d2 >= 0 && d6 <= 0) c = d2 / (d2 - d6);
            else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
              c = (d4 - d3) / (d4 - d3 + (d5 - d6));
              b = 1 - c;
            } else {
              const all = va + vb + vc;
              b = vb / all;
              c = vc / all;
            }
          }
          const ex = px - ux * b - vx * c,
            ey = py - uy * b - vy * c,
            ez = pz - uz * b - vz * c;
          d = ex * ex + ey * ey + ez * ez;
          if (!(b >= 0 && c >= 0)) {
            d = toTriangle(packed, o, x, y, z);
            b = closest.b;
            c = closest.c;
          }
        } else {
          d = size === 1 ? toPoint(packed, i * 3, x, y, z) : toSegment(packed, i * 6, x, y, z);
          b = closest.b;
        }
        // What is not finite has no distance, and is not less than anything.
        if (!(d <= limit)) continue;
        const number = order[i];
        if (d < least || (d === least && number < best)) {
          const edge = Math.sqrt(d) + rounding;
          const near = edge * edge;
          if (least > near) noted = 0;
          best = number;
          least = d;
          limit = near < most ? near : most;
        } else if (number > best) continue;
        if (noted === numbers.length) {
          ties.grow();
          ({ numbers, values } = ties);
        }
        const o = noted * 3;
        values[o] = d;
        values[o + 1] = b;
        values[o + 2] = c;
        numbers[noted++] = number;
      }
      for (;;) {
        if (top > 0) {
          node = stackNode[--top];
          if (stackSquared[top] <= limit) break;
          continue;
        }
        if (up < 0) {
          const at = ties.lowest(noted, limit);
          if (at < 0) return -1;
          this.distanceSquared = values[at * 3];
          this.weightB = values[at * 3 + 1];
          this.weightC = values[at * 3 + 2];
          return numbers[at];
        }
        const parent = up & ~(RECORD - 1);
        const side = 1 - (up & 1);
        up = above[parent / RECORD];
        const o = parent + side * 6;
        const lx = records[o],
          ly = records[o + 1],
          lz = records[o + 2];
        const hx = records[o + 3],
          hy = records[o + 4],
          hz = records[o + 5];
        const dx = x < lx ? lx - x : x > hx ? x - hx : 0;
        const dy = y < ly ? ly - y : y > hy ? y - hy : 0;
        const dz = z < lz ? lz - z : z > hz ? z - hz : 0;
        if (dx * dx + dy * dy + dz * dz <= limit) {
          node = links[parent + LINKS + side];
          break;
        }
      }
    }
  }

  /**
   * The `out.length` nearest primitives within a distance, nearest first, ties by number.
   * @param out their numbers; written. @param squared their squared distances, as long; written.
   * @returns how many were found.
   */
  nearestSeveral(out: Int32Array, squared: Float64Array, x: number, y: number, z: number, within = Infinity): number {
    const { links, packed, stackNode, stackSquared, size } = this;
    const { order } = this.tree;
    const most = out.length;
    let found = 0;
    let limit = within * within;
    if (links.length === 0 || most === 0 || !(x - x === 0 && y - y === 0 && z - z === 0)) return 0;
    let top = 0;
    stackNode[top] = 0;
    stackSquared[top++] = 0;
    while (top > 0) {
      const node = stackNode[--top];
      if (stackSquared[top] > limit) continue;
      if (node >= 0) {
        const left = this.boxSquared(node, x, y, z);
        const right = this.boxSquared(node + 6, x, y, z);
        // The nearer one last, so that it is looked at first.
        for (const far of [true, false]) {
          const isLeft = left <= right !== far;
          stackNode[top] = links[node + (isLeft ? LINKS : LINKS + 1)];
          stackSquared[top++] = isLeft ? left : right;
        }
        continue;
      }
      for (let i = leafStart(node), end = i + leafCount(node); i < end; i++) {
        const d = distanceTo(packed, i, size, x, y, z);
        const number = order[i];
        if (!(d <= limit) || (found === most && d === limit && number > out[most - 1])) continue;
        let k = found < most ? found++ : most - 1;
        for (; k > 0 && (squared[k - 1] > d || (squared[k - 1] === d && out[k - 1] > number)); k--) {
          squared[k] = squared[k - 1];
          out[k] = out[k - 1];
        }
        squared[k] = d;
        out[k] = number;
        if (found === most) limit = squared[most - 1];
      }
    }
    return found;
  }

  /** The primitives at a place, in no order: within a share of the size of the coordinates. */
  touching(x: number, y: number, z: number, share: number): number[] {
    const { links, packed, stackNode, size } = this;
    const found: number[] = [];
    const limit = ((this.reach + Math.abs(x) + Math.abs(y) + Math.abs(z)) * share) ** 2;
    if (links.length === 0) return found;
    let top = 0;
    stackNode[top++] = 0;
    while (top > 0) {
      const node = stackNode[--top];
      if (node >= 0) {
        for (let child = 0; child < 2; child++)
          if (this.boxSquared(node + child * 6, x, y, z) <= limit) stackNode[top++] = links[node + LINKS + child];
        continue;
      }
      for (let i = leafStart(node), end = i + leafCount(node); i < end; i++)
        if (distanceTo(packed, i, size, x, y, z) <= limit) found.push(this.tree.order[i]);
    }
    return found;
  }

  /** Area of all boxes but the outermost, as a share of that one (which is what both children of the root span). */
  private area(): number {
    const { records } = this;
    if (records.length === 0) return 0;
    let sum = 0;
    for (let record = 0; record < records.length; record += RECORD)
      for (let o = record; o <= record + 6; o += 6)
        if (records[o] <= records[o + 3])
          sum += areaOf(records[o + 3] - records[o], records[o + 4] - records[o + 1], records[o + 5] - records[o + 2]);
    const across = (axis: number) => Math.max(records[axis + 3], records[axis + 9]) - Math.min(records[axis], records[axis + 6]);
    return sum / (areaOf(across(0), across(1), across(2)) || 1);
  }

  /** Squared distance to the box that begins at a word of the records. */
  private boxSquared(o: number, x: number, y: number, z: number): number {
    const { records } = this;
    const dx = Math.max(0, records[o] - x, x - records[o + 3]);
    const dy = Math.max(0, records[o + 1] - y, y - records[o + 4]);
    const dz = Math.max(0, records[o + 2] - z, z - records[o + 5]);
    return dx * dx + dy * dy + dz * dz;
  }
}

const areaOf = (x: number, y: number, z: number): number => x * y + y * z + z * x;

/** Squared distance of a place to a packed primitive. */
function distanceTo(p: Readonly<Float32Array>, i: number, size: PrimitiveSize, x: number, y: number, z: number): number {
  if (size === 3) return toTriangle(p, i * 9, x, y, z);
  return size === 1 ? toPoint(p, i * 3, x, y, z) : toSegment(p, i * 6, x, y, z);
}
