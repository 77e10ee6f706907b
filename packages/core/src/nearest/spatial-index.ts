import { allFinite } from '../maths/finite.ts';
import { closest, toPoint, toSegment, toTriangle } from './closest.ts';

/** Points, edges or triangles. */
export type PrimitiveSize = 1 | 2 | 3;

/** Primitives of a leaf at most; fewer make more nodes, more make more distances. */
const LEAF = 6;
const BINS = 8;
/** Deeper than this, ranges are halved whatever it costs, so that the stack of a query has an end. */
const DEEP = 48;
const STACK = 128;

/**
 * A tree of boxes over points, edges or triangles, laid out flat: children follow their parent, the left one directly.
 * Built by the surface area heuristic on the longest axis with eight bins (Wald 2007). Nearest queries are exact; ties
 * go to the lowest number (DECISIONS 16). Primitives with a coordinate that is not finite are never found.
 */
export class SpatialIndex {
  /** Box of each node: low xyz, high xyz. Float32 is exact, since positions are. */
  private bounds = new Float32Array(0);
  /** Of a leaf: its first place in `order`. Of another: its right child. */
  private starts = new Int32Array(0);
  /** Primitives of a leaf; 0 for inner nodes. */
  private counts = new Int32Array(0);
  private nodeCount = 0;
  /** Primitives in the order of the leaves. */
  private readonly order: Int32Array;
  /** Their corners, in the same order: 3 × size numbers each. */
  private readonly packed: Float32Array;
  private readonly stackNode = new Int32Array(STACK);
  private readonly stackSquared = new Float64Array(STACK);

  /** Of the last query: squared distance, and the weights of the second and third corner at the closest point. */
  distanceSquared = Infinity;
  weightB = 0;
  weightC = 0;

  /**
   * @param positions xyz × points. @param size corners of a primitive.
   * @param corners `size` points per primitive; left out, every point is one.
   */
  constructor(
    positions: Readonly<Float32Array>,
    readonly size: PrimitiveSize,
    private readonly corners?: Readonly<Int32Array>,
  ) {
    const count = corners ? corners.length / size : positions.length / 3;
    const all = Int32Array.from({ length: count }, (_, i) => i);
    this.order = allFinite(positions, 0, positions.length)
      ? all
      : all.filter((i) => this.isFinite(positions, i));
    this.packed = new Float32Array(this.order.length * size * 3);
    this.build(positions);
  }

  /** Takes over moved positions; the tree keeps its shape. Positions must be finite where they were. */
  refit(positions: Readonly<Float32Array>): void {
    this.pack(positions);
    for (let node = this.nodeCount - 1; node >= 0; node--) this.fitNode(node);
  }

  /** Number of the nearest primitive within a distance, −1 when there is none. */
  nearest(x: number, y: number, z: number, within = Infinity): number {
    const { bounds, starts, counts, order, packed, stackNode, stackSquared, size } = this;
    const stride = size * 3;
    let best = -1;
    let bestSquared = within * within;
    this.distanceSquared = Infinity;
    if (this.nodeCount === 0 || !(x - x === 0 && y - y === 0 && z - z === 0)) return -1;
    let top = 0;
    let node = 0;
    let nodeSquared = boxSquared(bounds, 0, x, y, z);
    for (;;) {
      if (nodeSquared <= bestSquared) {
        const many = counts[node];
        if (many === 0) {
          let near = node + 1;
          let far = starts[node];
          let nearSquared = boxSquared(bounds, near * 6, x, y, z);
          let farSquared = boxSquared(bounds, far * 6, x, y, z);
          if (farSquared < nearSquared) {
            const swap = near;
            near = far;
            far = swap;
            const squared = nearSquared;
            nearSquared = farSquared;
            farSquared = squared;
          }
          if (farSquared <= bestSquared) {
            stackNode[top] = far;
            stackSquared[top++] = farSquared;
          }
          node = near;
          nodeSquared = nearSquared;
          continue;
        }
        for (let i = starts[node], end = i + many; i < end; i++) {
          const o = i * stride;
          const d = size === 3 ? toTriangle(packed, o, x, y, z) : size === 1 ? toPoint(packed, o, x, y, z) : toSegment(packed, o, x, y, z); // prettier-ignore
          if (d > bestSquared || (d === bestSquared && best >= 0 && order[i] > best)) continue;
          best = order[i];
          bestSquared = d;
          this.weightB = closest.b;
          this.weightC = closest.c;
        }
      }
      if (top === 0) break;
      node = stackNode[--top];
      nodeSquared = stackSquared[top];
    }
    if (best >= 0) this.distanceSquared = bestSquared;
    return best;
  }

  private isFinite(positions: Readonly<Float32Array>, primitive: number): boolean {
    let sum = 0;
    for (let k = 0; k < this.size; k++) {
      const p = (this.corners ? this.corners[primitive * this.size + k] : primitive) * 3;
      sum += (positions[p] + positions[p + 1] + positions[p + 2]) * 0;
    }
    return sum === 0;
  }

  private pack(positions: Readonly<Float32Array>): void {
    const { order, packed, corners, size } = this;
    for (let i = 0, o = 0; i < order.length; i++) {
      for (let k = 0; k < size; k++, o += 3) {
        const p = (corners ? corners[order[i] * size + k] : order[i]) * 3;
        packed[o] = positions[p];
        packed[o + 1] = positions[p + 1];
        packed[o + 2] = positions[p + 2];
      }
    }
  }

  private build(positions: Readonly<Float32Array>): void {
    const { order, size } = this;
    const count = order.length;
    if (count === 0) return;
    // 1. Boxes and middles of all primitives, by their place in the order as it is now.
    this.pack(positions);
    const boxes = new Float32Array(count * 6);
    const middles = new Float32Array(count * 3);
    for (let i = 0; i < count; i++) {
      boxOf(boxes, i * 6, this.packed, i * size * 3, size);
      for (let axis = 0; axis < 3; axis++)
        middles[i * 3 + axis] = (boxes[i * 6 + axis] + boxes[i * 6 + 3 + axis]) / 2;
    }
    const places = Int32Array.from({ length: count }, (_, i) => i);
    // 2. Nodes, each range split in two until it is a leaf.
    const most = Math.max(1, 2 * count - 1);
    const starts = new Int32Array(most);
    const counts = new Int32Array(most);
    const work: [from: number, to: number, depth: number, parent: number][] = [[0, count, 0, -1]];
    let nodes = 0;
    for (let next = work.pop(); next; next = work.pop()) {
      const [from, to, depth, parent] = next;
      const node = nodes++;
      if (parent >= 0) starts[parent] = node;
      const middle = to - from > LEAF ? split(places, from, to, boxes, middles, depth) : from;
      if (middle === from) {
        starts[node] = from;
        counts[node] = to - from;
        continue;
      }
      // The left child comes next, so only the right one has to be told to its parent.
      work.push([middle, to, depth + 1, node], [from, middle, depth + 1, -1]);
    }
    // 3. The order of the leaves, and boxes from below.
    const before = Int32Array.from(order);
    for (let i = 0; i < count; i++) order[i] = before[places[i]];
    this.starts = starts.slice(0, nodes);
    this.counts = counts.slice(0, nodes);
    this.bounds = new Float32Array(nodes * 6);
    this.nodeCount = nodes;
    this.refit(positions);
  }

  /** The box of a node, from its primitives or its children. */
  private fitNode(node: number): void {
    const { bounds, starts, counts, packed, size } = this;
    const o = node * 6;
    const many = counts[node];
    if (many > 0) {
      boxOf(bounds, o, packed, starts[node] * size * 3, many * size);
      return;
    }
    const a = (node + 1) * 6;
    const b = starts[node] * 6;
    for (let k = 0; k < 3; k++) {
      bounds[o + k] = bounds[a + k] < bounds[b + k] ? bounds[a + k] : bounds[b + k];
      bounds[o + 3 + k] = bounds[a + 3 + k] > bounds[b + 3 + k] ? bounds[a + 3 + k] : bounds[b + 3 + k];
    }
  }
}

/** Squared distance of a place to a box, 0 inside. */
function boxSquared(bounds: Readonly<Float32Array>, o: number, x: number, y: number, z: number): number {
  const lx = bounds[o] - x, ly = bounds[o + 1] - y, lz = bounds[o + 2] - z; // prettier-ignore
  const hx = x - bounds[o + 3], hy = y - bounds[o + 4], hz = z - bounds[o + 5]; // prettier-ignore
  const dx = lx > 0 ? lx : hx > 0 ? hx : 0;
  const dy = ly > 0 ? ly : hy > 0 ? hy : 0;
  const dz = lz > 0 ? lz : hz > 0 ? hz : 0;
  return dx * dx + dy * dy + dz * dz;
}

/** Box of `count` packed points from number `from`. */
function boxOf(
  out: Float32Array,
  o: number,
  packed: Readonly<Float32Array>,
  from: number,
  count: number,
): void {
  let lx = Infinity, ly = Infinity, lz = Infinity, hx = -Infinity, hy = -Infinity, hz = -Infinity; // prettier-ignore
  for (let i = from, end = from + count * 3; i < end; i += 3) {
    const x = packed[i], y = packed[i + 1], z = packed[i + 2]; // prettier-ignore
    if (x < lx) lx = x;
    if (x > hx) hx = x;
    if (y < ly) ly = y;
    if (y > hy) hy = y;
    if (z < lz) lz = z;
    if (z > hz) hz = z;
  }
  out[o] = lx;
  out[o + 1] = ly;
  out[o + 2] = lz;
  out[o + 3] = hx;
  out[o + 4] = hy;
  out[o + 5] = hz;
}

const binCount = new Int32Array(BINS);
const binBox = new Float32Array(BINS * 6);
const rightArea = new Float64Array(BINS);
const EMPTY = Float32Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);
const side = new Float32Array(6);

/** Puts a range in two parts; gives where the second begins, or `from` when it is best left whole. */
function split(
  places: Int32Array,
  from: number,
  to: number,
  boxes: Readonly<Float32Array>,
  middles: Readonly<Float32Array>,
  depth: number,
): number {
  // 1. The longest axis of the middles.
  let lx = Infinity, ly = Infinity, lz = Infinity, hx = -Infinity, hy = -Infinity, hz = -Infinity; // prettier-ignore
  for (let i = from; i < to; i++) {
    const m = places[i] * 3;
    const x = middles[m], y = middles[m + 1], z = middles[m + 2]; // prettier-ignore
    if (x < lx) lx = x;
    if (x > hx) hx = x;
    if (y < ly) ly = y;
    if (y > hy) hy = y;
    if (z < lz) lz = z;
    if (z > hz) hz = z;
  }
  const sx = hx - lx, sy = hy - ly, sz = hz - lz; // prettier-ignore
  const axis = sx >= sy && sx >= sz ? 0 : sy >= sz ? 1 : 2;
  const low = axis === 0 ? lx : axis === 1 ? ly : lz;
  const span = axis === 0 ? sx : axis === 1 ? sy : sz;
  const half = (from + to) >> 1;
  // All in one place, or too deep: halves, in the order they are in.
  if (!(span > 0) || depth > DEEP) return half;
  // 2. Bins along it.
  const factor = (BINS * (1 - 1e-6)) / span;
  binCount.fill(0);
  for (let b = 0; b < BINS; b++) binBox.set(EMPTY, b * 6);
  for (let i = from; i < to; i++) {
    const p = places[i];
    const b = ((middles[p * 3 + axis] - low) * factor) | 0;
    binCount[b]++;
    grow(binBox, b * 6, boxes, p * 6);
  }
  // 3. The cut with the least area × number on both sides.
  side.set(EMPTY);
  for (let b = BINS - 1, n = 0; b > 0; b--) {
    n += binCount[b];
    grow(side, 0, binBox, b * 6);
    rightArea[b] = n > 0 ? areaOf(side) * n : 0;
  }
  side.set(EMPTY);
  let cut = 0;
  let least = Infinity;
  for (let b = 1, n = 0; b < BINS; b++) {
    n += binCount[b - 1];
    grow(side, 0, binBox, (b - 1) * 6);
    if (n === 0 || n === to - from) continue;
    const cost = areaOf(side) * n + rightArea[b];
    if (cost < least) [least, cut] = [cost, b];
  }
  if (cut === 0) return half;
  // 4. What lies before the cut goes to the left.
  let i = from;
  let j = to - 1;
  while (i <= j) {
    if ((((middles[places[i] * 3 + axis] - low) * factor) | 0) < cut) i++;
    else {
      const swap = places[i];
      places[i] = places[j];
      places[j--] = swap;
    }
  }
  return i === from || i === to ? half : i;
}

function grow(out: Float32Array, o: number, box: Readonly<Float32Array>, b: number): void {
  for (let k = 0; k < 3; k++) {
    if (box[b + k] < out[o + k]) out[o + k] = box[b + k];
    if (box[b + 3 + k] > out[o + 3 + k]) out[o + 3 + k] = box[b + 3 + k];
  }
}

function areaOf(box: Readonly<Float32Array>): number {
  const x = box[3] - box[0], y = box[4] - box[1], z = box[5] - box[2]; // prettier-ignore
  return x >= 0 ? x * y + y * z + z * x : 0;
}
