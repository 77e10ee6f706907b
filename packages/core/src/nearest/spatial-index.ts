import { closest, toPoint, toSegment, toTriangle } from './closest.ts';
import { buildTree, finiteBoxes, type Tree } from './tree.ts';

/** Points, edges or triangles. */
export type PrimitiveSize = 1 | 2 | 3;

const STACK = 128;

/**
 * A tree of boxes over points, edges or triangles, laid out flat. Nearest queries are exact; ties go to the lowest
 * number (DECISIONS 16). Primitives with a coordinate that is not finite are never found.
 */
export class SpatialIndex {
  readonly tree: Tree;
  /** Box of each node: low xyz, high xyz. Float32 is exact, since positions are. */
  readonly bounds: Float32Array;
  /** Corners of the primitives in the order of the leaves: 3 × size numbers each. */
  readonly packed: Float32Array;
  private readonly stackNode = new Int32Array(STACK);
  private readonly stackSquared = new Float64Array(STACK);
  /** Where each primitive is in `packed`, when it was asked for. */
  private places: Int32Array | undefined;
  /** Area of the inner boxes when the tree was built, as a share of the outermost. */
  private readonly builtArea: number;

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
    this.tree = like ? like.tree : buildTree(...finiteBoxes(positions, size, corners, count));
    this.packed = new Float32Array(this.tree.order.length * size * 3);
    this.bounds = new Float32Array(this.tree.nodeCount * 6);
    this.refit(positions);
    this.builtArea = like ? like.builtArea : this.area();
  }

  /** Takes over moved positions; the tree keeps its shape. Positions must be finite where they were. */
  refit(positions: Readonly<Float32Array>): void {
    const { bounds, packed, size, corners } = this;
    const { starts, counts, order, nodeCount } = this.tree;
    const stride = size * 3;
    for (let node = nodeCount - 1, o = node * 6; node >= 0; node--, o -= 6) {
      const many = counts[node];
      let lx: number, ly: number, lz: number, hx: number, hy: number, hz: number; // prettier-ignore
      if (many > 0) {
        lx = ly = lz = Infinity;
        hx = hy = hz = -Infinity;
        const first = starts[node];
        let out = first * stride;
        for (let i = first, last = first + many; i < last; i++) {
          const from = order[i] * size;
          for (let k = from, end = from + size; k < end; k++) {
            const p = (corners ? corners[k] : k) * 3;
            const x = positions[p], y = positions[p + 1], z = positions[p + 2]; // prettier-ignore
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
        const a = o + 6;
        const b = starts[node] * 6;
        lx = bounds[a] < bounds[b] ? bounds[a] : bounds[b];
        ly = bounds[a + 1] < bounds[b + 1] ? bounds[a + 1] : bounds[b + 1];
        lz = bounds[a + 2] < bounds[b + 2] ? bounds[a + 2] : bounds[b + 2];
        hx = bounds[a + 3] > bounds[b + 3] ? bounds[a + 3] : bounds[b + 3];
        hy = bounds[a + 4] > bounds[b + 4] ? bounds[a + 4] : bounds[b + 4];
        hz = bounds[a + 5] > bounds[b + 5] ? bounds[a + 5] : bounds[b + 5];
      }
      bounds[o] = lx;
      bounds[o + 1] = ly;
      bounds[o + 2] = lz;
      bounds[o + 3] = hx;
      bounds[o + 4] = hy;
      bounds[o + 5] = hz;
    }
  }

  /** How much larger the boxes are than when the tree was built: above about 2, building anew pays. */
  get wear(): number {
    return this.builtArea > 0 ? this.area() / this.builtArea : 1;
  }

  /**
   * Number of the nearest primitive within a distance, −1 when there is none.
   * @param hint a primitive that is probably near, such as the last one found; it never changes the result.
   */
  nearest(x: number, y: number, z: number, within = Infinity, hint = -1): number {
    const { bounds, packed, stackNode, stackSquared, size } = this;
    const { starts, counts, order, nodeCount } = this.tree;
    let best = -1;
    let bestSquared = within * within;
    let weightB = 0;
    let weightC = 0;
    this.distanceSquared = Infinity;
    if (nodeCount === 0 || !(x - x === 0 && y - y === 0 && z - z === 0)) return -1;
    if (hint >= 0) {
      const squared = this.squaredTo(hint, x, y, z);
      if (squared <= bestSquared) {
        best = hint;
        bestSquared = squared;
        weightB = this.weightB;
        weightC = this.weightC;
      }
    }
    let top = 0;
    let node = 0;
    for (;;) {
      const many = counts[node];
      if (many === 0) {
        // Both children's boxes; the nearer is gone into, the other waits.
        let o = (node + 1) * 6;
        let dx = Math.max(bounds[o] - x, x - bounds[o + 3], 0);
        let dy = Math.max(bounds[o + 1] - y, y - bounds[o + 4], 0);
        let dz = Math.max(bounds[o + 2] - z, z - bounds[o + 5], 0);
        const left = dx * dx + dy * dy + dz * dz;
        o = starts[node] * 6;
        dx = Math.max(bounds[o] - x, x - bounds[o + 3], 0);
        dy = Math.max(bounds[o + 1] - y, y - bounds[o + 4], 0);
        dz = Math.max(bounds[o + 2] - z, z - bounds[o + 5], 0);
        const right = dx * dx + dy * dy + dz * dz;
        if (left <= right) {
          if (right <= bestSquared) {
            stackNode[top] = starts[node];
            stackSquared[top++] = right;
          }
          if (left <= bestSquared) {
            node++;
            continue;
          }
        } else {
          if (left <= bestSquared) {
            stackNode[top] = node + 1;
            stackSquared[top++] = left;
          }
          if (right <= bestSquared) {
            node = starts[node];
            continue;
          }
        }
      } else if (size === 3) {
        // `toTriangle`, written out: called, it gives back a number on the heap for each triangle, which takes as long
        // as the rest of the query.
        for (let i = starts[node], end = i + many; i < end; i++) {
          const o = i * 9;
          const ax = packed[o], ay = packed[o + 1], az = packed[o + 2]; // prettier-ignore
          const ux = packed[o + 3] - ax, uy = packed[o + 4] - ay, uz = packed[o + 5] - az; // prettier-ignore
          const vx = packed[o + 6] - ax, vy = packed[o + 7] - ay, vz = packed[o + 8] - az; // prettier-ignore
          const px = x - ax, py = y - ay, pz = z - az; // prettier-ignore
          const d1 = ux * px + uy * py + uz * pz;
          const d2 = vx * px + vy * py + vz * pz;
          let b = 0;
          let c = 0;
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
          const ex = px - ux * b - vx * c, ey = py - uy * b - vy * c, ez = pz - uz * b - vz * c; // prettier-ignore
          let d = ex * ex + ey * ey + ez * ez;
          if (!(b >= 0 && c >= 0)) {
            d = toTriangle(packed, o, x, y, z);
            b = closest.b;
            c = closest.c;
          }
          if (d > bestSquared || (d === bestSquared && best >= 0 && order[i] > best)) continue;
          best = order[i];
          bestSquared = d;
          weightB = b;
          weightC = c;
        }
      } else {
        for (let i = starts[node], end = i + many; i < end; i++) {
          const d = size === 1 ? toPoint(packed, i * 3, x, y, z) : toSegment(packed, i * 6, x, y, z);
          if (d > bestSquared || (d === bestSquared && best >= 0 && order[i] > best)) continue;
          best = order[i];
          bestSquared = d;
          weightB = closest.b;
        }
      }
      do {
        if (top === 0) {
          if (best < 0) return -1;
          this.distanceSquared = bestSquared;
          this.weightB = weightB;
          this.weightC = weightC;
          return best;
        }
        node = stackNode[--top];
      } while (stackSquared[top] > bestSquared);
    }
  }

  /**
   * The `out.length` nearest primitives within a distance, nearest first, ties by number.
   * @param out their numbers; written. @param squared their squared distances, as long; written.
   * @returns how many were found.
   */
  nearestSeveral(
    out: Int32Array,
    squared: Float64Array,
    x: number,
    y: number,
    z: number,
    within = Infinity,
  ): number {
    const { packed, stackNode, size } = this;
    const { starts, counts, order, nodeCount } = this.tree;
    const most = out.length;
    let found = 0;
    let limit = within * within;
    if (nodeCount === 0 || most === 0 || !(x - x === 0 && y - y === 0 && z - z === 0)) return 0;
    let top = 0;
    stackNode[top++] = 0;
    while (top > 0) {
      const node = stackNode[--top];
      if (this.boxSquared(node, x, y, z) > limit) continue;
      const many = counts[node];
      if (many === 0) {
        const left = node + 1;
        const right = starts[node];
        const near = this.boxSquared(left, x, y, z) <= this.boxSquared(right, x, y, z);
        stackNode[top++] = near ? right : left;
        stackNode[top++] = near ? left : right;
        continue;
      }
      for (let i = starts[node], end = i + many; i < end; i++) {
        const o = i * size * 3;
        const d = size === 3 ? toTriangle(packed, o, x, y, z) : size === 1 ? toPoint(packed, o, x, y, z) : toSegment(packed, o, x, y, z); // prettier-ignore
        const number = order[i];
        if (d > limit || (found === most && d === limit && number > out[most - 1])) continue;
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

  /** Squared distance to one primitive, with its weights; Infinity when it is not in the tree. */
  private squaredTo(primitive: number, x: number, y: number, z: number): number {
    const place = this.placeOf(primitive);
    if (place < 0) return Infinity;
    const { packed, size } = this;
    const o = place * size * 3;
    const d = size === 3 ? toTriangle(packed, o, x, y, z) : size === 1 ? toPoint(packed, o, x, y, z) : toSegment(packed, o, x, y, z); // prettier-ignore
    this.weightB = closest.b;
    this.weightC = closest.c;
    return d;
  }

  private placeOf(primitive: number): number {
    if (!this.places) {
      const { order } = this.tree;
      const count = this.corners
        ? this.corners.length / this.size
        : order.reduce((m, v) => Math.max(m, v), 0) + 1;
      this.places = new Int32Array(count).fill(-1);
      for (let i = 0; i < order.length; i++) this.places[order[i]] = i;
    }
    return this.places[primitive] ?? -1;
  }

  private area(): number {
    const { bounds } = this;
    let sum = 0;
    for (let o = 0; o < bounds.length; o += 6) {
      const x = bounds[o + 3] - bounds[o], y = bounds[o + 4] - bounds[o + 1], z = bounds[o + 5] - bounds[o + 2]; // prettier-ignore
      sum += x * y + y * z + z * x;
    }
    const x = bounds[3] - bounds[0], y = bounds[4] - bounds[1], z = bounds[5] - bounds[2]; // prettier-ignore
    return sum / (x * y + y * z + z * x || 1);
  }

  private boxSquared(node: number, x: number, y: number, z: number): number {
    const { bounds } = this;
    const o = node * 6;
    const dx = Math.max(0, bounds[o] - x, x - bounds[o + 3]);
    const dy = Math.max(0, bounds[o + 1] - y, y - bounds[o + 4]);
    const dz = Math.max(0, bounds[o + 2] - z, z - bounds[o + 5]);
    return dx * dx + dy * dy + dz * dz;
  }
}
