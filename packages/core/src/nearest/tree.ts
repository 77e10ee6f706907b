/** Primitives of a leaf at most (a link has room for 7); fewer make more nodes, more make more distances. */
const LEAF = 6;
const BINS = 8;
/** Ranges as small as this are parted in the middle. */
const FEW = 32;
/** Deeper than this, ranges are halved whatever it costs, so that the stack of a query has an end. */
const DEEP = 48;

/**
 * The shape of a tree of boxes, without the boxes; shared by all that stand on the same primitives. A link leads to an
 * inner node (its number, from 0) or to a leaf: `~(first place in order × 8 + primitives)`, which is below 0.
 */
export interface Tree {
  /** Left and right link of each inner node; all hang on node 0, if there is one. Children come after their parents. */
  readonly links: Int32Array;
  /** Primitives in the order of the leaves. */
  readonly order: Int32Array;
}

/** The first place in `order` of a leaf. */
export const leafStart = (link: number): number => ~link >> 3;
/** How many primitives a leaf has. */
export const leafCount = (link: number): number => ~link & 7;

/**
 * Builds a tree by the surface area heuristic on the longest axis with eight bins (Wald 2007); small ranges are parted in
 * the middle, which takes half as long and makes queries no slower that one can measure.
 * @param boxes low and high xyz of each primitive.
 */
export function buildTree(boxes: Readonly<Float32Array>): Tree {
  const count = boxes.length / 6;
  const links = new Int32Array(2 * count);
  const order = new Int32Array(count);
  for (let i = 0; i < count; i++) order[i] = i;
  // Ranges still to be split: from, to, depth, and which link waits for them (−1 for the first).
  const work = new Int32Array((DEEP + 40) * 4);
  let top = 0;
  let inner = 0;
  const push = (from: number, to: number, depth: number, slot: number) => {
    work[top++] = from;
    work[top++] = to;
    work[top++] = depth;
    work[top++] = slot;
  };
  if (count > 0) push(0, count, 0, -1);
  while (top > 0) {
    const slot = work[--top];
    const depth = work[--top];
    const to = work[--top];
    const from = work[--top];
    // So few that there is nothing to part: a node all the same, whose right child is an empty leaf.
    const few = slot < 0 && to - from <= LEAF;
    const isLeaf = !few && to - from <= LEAF;
    const link = isLeaf ? ~(from * 8 + (to - from)) : inner++;
    if (slot >= 0) links[slot] = link;
    if (isLeaf) continue;
    const middle = few ? to : split(order, from, to, boxes, depth);
    push(middle, to, depth + 1, link * 2 + 1);
    push(from, middle, depth + 1, link * 2);
  }
  return { links: links.slice(0, inner * 2), order };
}

const binCount = new Int32Array(BINS);
const binBox = new Float64Array(BINS * 6);
const rightArea = new Float64Array(BINS);
const side = new Float64Array(6);

/** Puts a range in two parts; gives where the second begins. */
function split(places: Int32Array, from: number, to: number, boxes: Readonly<Float32Array>, depth: number): number {
  // 1. The longest axis of the middles (twice the middle, in fact: low + high).
  let lx = Infinity,
    ly = Infinity,
    lz = Infinity,
    hx = -Infinity,
    hy = -Infinity,
    hz = -Infinity;
  for (let i = from; i < to; i++) {
    const b = places[i] * 6;
    const x = boxes[b] + boxes[b + 3],
      y = boxes[b + 1] + boxes[b + 4],
      z = boxes[b + 2] + boxes[b + 5];
    if (x < lx) lx = x;
    if (x > hx) hx = x;
    if (y < ly) ly = y;
    if (y > hy) hy = y;
    if (z < lz) lz = z;
    if (z > hz) hz = z;
  }
  const sx = hx - lx,
    sy = hy - ly,
    sz = hz - lz;
  const axis = sx >= sy && sx >= sz ? 0 : sy >= sz ? 1 : 2;
  const low = axis === 0 ? lx : axis === 1 ? ly : lz;
  const span = axis === 0 ? sx : axis === 1 ? sy : sz;
  const half = (from + to) >> 1;
  // All in one place, or too deep: halves, in the order they are in.
  if (!(span > 0) || depth > DEEP) return half;
  // 2. Few are parted in the middle: bins would take longer than they save.
  const bins = to - from <= FEW ? 2 : BINS;
  const factor = (bins * (1 - 1e-6)) / span;
  const cut = bins === 2 ? 1 : cheapestCut(places, from, to, boxes, axis, low, factor);
  if (cut === 0) return half;
  // 3. What lies before the cut goes to the left.
  let i = from;
  let j = to - 1;
  while (i <= j) {
    const p = places[i] * 6;
    if ((((boxes[p + axis] + boxes[p + axis + 3] - low) * factor) | 0) < cut) i++;
    else {
      const swap = places[i];
      places[i] = places[j];
      places[j--] = swap;
    }
  }
  return i === from || i === to ? half : i;
}

/** The bin along an axis before which to cut, so that area × number is least on both sides; 0 when there is none. */
function cheapestCut(
  places: Readonly<Int32Array>,
  from: number,
  to: number,
  boxes: Readonly<Float32Array>,
  axis: number,
  low: number,
  factor: number,
): number {
  binCount.fill(0);
  for (let b = 0; b < BINS; b++) clear(binBox, b * 6);
  for (let i = from; i < to; i++) {
    const p = places[i] * 6;
    const b = ((boxes[p + axis] + boxes[p + axis + 3] - low) * factor) | 0;
    binCount[b]++;
    const o = b * 6;
    if (boxes[p] < binBox[o]) binBox[o] = boxes[p];
    if (boxes[p + 1] < binBox[o + 1]) binBox[o + 1] = boxes[p + 1];
    if (boxes[p + 2] < binBox[o + 2]) binBox[o + 2] = boxes[p + 2];
    if (boxes[p + 3] > binBox[o + 3]) binBox[o + 3] = boxes[p + 3];
    if (boxes[p + 4] > binBox[o + 4]) binBox[o + 4] = boxes[p + 4];
    if (boxes[p + 5] > binBox[o + 5]) binBox[o + 5] = boxes[p + 5];
  }
  clear(side, 0);
  for (let b = BINS - 1, n = 0; b > 0; b--) {
    n += binCount[b];
    growSide(b * 6);
    rightArea[b] = n > 0 ? sideArea() * n : 0;
  }
  clear(side, 0);
  let cut = 0;
  let least = Infinity;
  for (let b = 1, n = 0; b < BINS; b++) {
    n += binCount[b - 1];
    growSide((b - 1) * 6);
    if (n === 0 || n === to - from) continue;
    const cost = sideArea() * n + rightArea[b];
    if (cost < least) {
      least = cost;
      cut = b;
    }
  }
  return cut;
}

function clear(box: Float64Array, o: number): void {
  box[o] = box[o + 1] = box[o + 2] = Infinity;
  box[o + 3] = box[o + 4] = box[o + 5] = -Infinity;
}

/** Grows `side` by a bin's box. */
function growSide(b: number): void {
  for (let k = 0; k < 3; k++) {
    if (binBox[b + k] < side[k]) side[k] = binBox[b + k];
    if (binBox[b + 3 + k] > side[3 + k]) side[3 + k] = binBox[b + 3 + k];
  }
}

function sideArea(): number {
  const x = side[3] - side[0],
    y = side[4] - side[1],
    z = side[5] - side[2];
  return x >= 0 ? x * y + y * z + z * x : 0;
}

/** Whether all corners of a primitive are finite; `from` is its first place in `corners`, or its point. */
export function isFinitePrimitive(
  positions: Readonly<Float32Array>,
  corners: Readonly<Int32Array> | undefined,
  from: number,
  size: number,
): boolean {
  let sum = 0;
  for (let k = from; k < from + size; k++) {
    const p = (corners ? corners[k] : k) * 3;
    sum += (positions[p] + positions[p + 1] + positions[p + 2]) * 0;
  }
  return sum === 0;
}

/**
 * The box of each primitive: low and high xyz. One that is not finite takes the box of the one before it, near which it
 * probably is at other times: its place in the tree is then as good a guess as any.
 */
export function boxesOf(
  positions: Readonly<Float32Array>,
  size: number,
  corners: Readonly<Int32Array> | undefined,
  count: number,
): Float32Array {
  const boxes = new Float32Array(count * 6);
  for (let i = 0, o = 0; i < count; i++, o += 6) {
    let lx = Infinity,
      ly = Infinity,
      lz = Infinity,
      hx = -Infinity,
      hy = -Infinity,
      hz = -Infinity;
    let bad = 0;
    for (let k = i * size, end = k + size; k < end; k++) {
      const p = (corners ? corners[k] : k) * 3;
      const x = positions[p],
        y = positions[p + 1],
        z = positions[p + 2];
      bad += (x + y + z) * 0;
      if (x < lx) lx = x;
      if (x > hx) hx = x;
      if (y < ly) ly = y;
      if (y > hy) hy = y;
      if (z < lz) lz = z;
      if (z > hz) hz = z;
    }
    if (bad !== 0) {
      if (i > 0) boxes.copyWithin(o, o - 6, o);
      continue;
    }
    boxes[o] = lx;
    boxes[o + 1] = ly;
    boxes[o + 2] = lz;
    boxes[o + 3] = hx;
    boxes[o + 4] = hy;
    boxes[o + 5] = hz;
  }
  return boxes;
}
