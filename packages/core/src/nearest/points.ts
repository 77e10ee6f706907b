/**
 * Nearest of many points by a k-d tree (Bentley 1975) laid out flat: the median of each range stands in its middle,
 * so that the tree is one order of indices. Exact; ties go to the lowest index (DECISIONS 16).
 */
export class PointTree {
  private readonly order: Int32Array;
  private best = -1;
  private bestSquared = Infinity;

  /** @param positions xyz × count; kept, not copied. Points that are not finite are never found. */
  constructor(private readonly positions: Readonly<Float32Array>) {
    const finite: number[] = [];
    for (let i = 0; i * 3 < positions.length; i++)
      if (Number.isFinite(positions[i * 3] + positions[i * 3 + 1] + positions[i * 3 + 2])) finite.push(i);
    this.order = Int32Array.from(finite);
    this.arrange(0, this.order.length, 0);
  }

  /** Index of the point nearest to a place, −1 when there is none. */
  nearest(x: number, y: number, z: number): number {
    this.best = -1;
    this.bestSquared = Infinity;
    this.search(0, this.order.length, 0, x, y, z);
    return this.best;
  }

  private arrange(from: number, to: number, axis: number): void {
    if (to - from < 2) return;
    const middle = (from + to) >> 1;
    this.select(from, to - 1, middle, axis);
    const next = axis === 2 ? 0 : axis + 1;
    this.arrange(from, middle, next);
    this.arrange(middle + 1, to, next);
  }

  /** Quickselect (Hoare 1961): what is below `k` goes before it, what is above after it. */
  private select(from: number, to: number, k: number, axis: number): void {
    const { order, positions } = this;
    let low = from;
    let high = to;
    while (low < high) {
      const pivot = positions[order[(low + high) >> 1] * 3 + axis];
      let i = low;
      let j = high;
      while (i <= j) {
        while (positions[order[i] * 3 + axis] < pivot) i++;
        while (positions[order[j] * 3 + axis] > pivot) j--;
        if (i > j) break;
        const swap = order[i];
        order[i++] = order[j];
        order[j--] = swap;
      }
      if (k <= j) high = j;
      else if (k >= i) low = i;
      else return;
    }
  }

  private search(from: number, to: number, axis: number, x: number, y: number, z: number): void {
    if (from >= to) return;
    const middle = (from + to) >> 1;
    const p = this.order[middle];
    const dx = x - this.positions[p * 3], dy = y - this.positions[p * 3 + 1], dz = z - this.positions[p * 3 + 2]; // prettier-ignore
    const squared = dx * dx + dy * dy + dz * dz;
    if (squared < this.bestSquared || (squared === this.bestSquared && p < this.best)) {
      this.best = p;
      this.bestSquared = squared;
    }
    const side = axis === 0 ? dx : axis === 1 ? dy : dz;
    const next = axis === 2 ? 0 : axis + 1;
    const lowFirst = side < 0;
    if (lowFirst) this.search(from, middle, next, x, y, z);
    else this.search(middle + 1, to, next, x, y, z);
    if (side * side > this.bestSquared) return;
    if (lowFirst) this.search(middle + 1, to, next, x, y, z);
    else this.search(from, middle, next, x, y, z);
  }
}
