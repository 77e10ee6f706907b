import type { Topology } from '../geometry/topology.ts';
import { trianglesOf } from '../geometry/triangles.ts';

type Place = readonly [number, number, number];
/** Lines that belong to one bone. */
export type BoneSegments = readonly (readonly [from: Place, to: Place])[];

/** Cells of a grid round a body: 0 outside, 1 inside or on the surface. */
interface Body {
  readonly size: readonly [number, number, number];
  readonly low: Place;
  readonly cell: number;
  readonly inside: Uint8Array;
}

/** The most cells along a side. */
export const MOST_DETAIL = 96;
const MOST_CELLS = 1_000_000;

/**
 * How far points are from bones when one goes through the inside of the body only, metres, a column for each bone; Infinity
 * where there is no way. The body is cut into cells: those the surface passes, and those that cannot be reached from
 * outside without passing it, so that small holes do no harm. Distances go from cell to cell, 26 ways (Dijkstra 1959), and
 * are mixed between the cells about a point. Points that no bone reaches take straight distances, and are listed.
 */
export function distancesInside(
  topology: Topology,
  places: Readonly<Float32Array>,
  bones: readonly BoneSegments[],
  detail: number,
  checkpoint: () => void,
): { distances: Float32Array[]; cell: number; far: Int32Array } {
  const count = topology.pointCount;
  const body = makeBody(topology, places, detail, checkpoint);
  const way = new Float32Array(body.inside.length);
  const heap = new Heap(body.inside.length);
  const distances = bones.map((segments) => {
    checkpoint();
    walk(body, segments, way, heap);
    return readAt(body, way, places, count);
  });
  const far: number[] = [];
  for (let p = 0; p < count; p++) {
    if (distances.some((d) => d[p] < Infinity)) continue;
    far.push(p);
    distances.forEach((d, j) => {
      d[p] = Math.sqrt(Math.min(...bones[j].map((s) => squaredTo([s], places[p * 3], places[p * 3 + 1], places[p * 3 + 2]))));
      if (!Number.isFinite(d[p])) d[p] = Infinity;
    });
  }
  return { distances, cell: body.cell, far: Int32Array.from(far) };
}

function makeBody(topology: Topology, places: Readonly<Float32Array>, detail: number, checkpoint: () => void): Body {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < places.length; i++) {
    const v = places[i];
    if (v - v !== 0) continue;
    if (v < low[i % 3]) low[i % 3] = v;
    if (v > high[i % 3]) high[i % 3] = v;
  }
  const spans = high.map((h, k) => (h >= low[k] ? h - low[k] : 0));
  let cell = Math.max(...spans, 1e-9) / Math.max(4, Math.min(MOST_DETAIL, detail));
  // An odd number each way about the middle, so that a mirrored body is cut into mirrored cells.
  const sizeFor = (c: number) => spans.map((s) => 2 * Math.ceil(s / (2 * c) + 1.37) + 1) as unknown as [number, number, number];
  while (sizeFor(cell).reduce((a, b) => a * b, 1) > MOST_CELLS) cell *= 1.2;
  const size = sizeFor(cell);
  const from = low.map((l, k) => (l + high[k]) / 2 - (size[k] * cell) / 2) as unknown as Place;
  const surface = new Uint8Array(size[0] * size[1] * size[2]);
  const mark = (x: number, y: number, z: number) => {
    const [i, j, k] = [Math.floor((x - from[0]) / cell), Math.floor((y - from[1]) / cell), Math.floor((z - from[2]) / cell)];
    if (i >= 0 && j >= 0 && k >= 0 && i < size[0] && j < size[1] && k < size[2]) surface[(k * size[1] + j) * size[0] + i] = 1;
  };
  const { points } = trianglesOf(topology);
  for (let t = 0; t < points.length; t += 3) {
    if (t % 3000 === 0) checkpoint();
    const [a, b, c] = [points[t] * 3, points[t + 1] * 3, points[t + 2] * 3];
    let longest = 0;
    for (let k = 0; k < 3; k++)
      longest = Math.max(
        longest,
        Math.abs(places[a + k] - places[b + k]),
        Math.abs(places[b + k] - places[c + k]),
        Math.abs(places[c + k] - places[a + k]),
      );
    if (longest - longest !== 0) continue;
    const steps = Math.max(1, Math.ceil((longest / cell) * 2.5));
    for (let i = 0; i <= steps; i++)
      for (let j = 0; i + j <= steps; j++) {
        const [u, v] = [i / steps, j / steps];
        const w = 1 - u - v;
        mark(
          places[a] * w + places[b] * u + places[c] * v,
          places[a + 1] * w + places[b + 1] * u + places[c + 1] * v,
          places[a + 2] * w + places[b + 2] * u + places[c + 2] * v,
        );
      }
  }
  return { size, low: from, cell, inside: fillInside(surface, size) };
}

/** All that cannot be reached from a corner of the grid, which lies outside, by going from side to side. */
function fillInside(surface: Uint8Array, [nx, ny, nz]: readonly [number, number, number]): Uint8Array {
  const outside = new Uint8Array(surface.length);
  const stack = [0];
  outside[0] = 1;
  const sheet = nx * ny;
  while (stack.length > 0) {
    const at = stack.pop() as number;
    const x = at % nx;
    const y = Math.floor(at / nx) % ny;
    const z = Math.floor(at / sheet);
    const visit = (to: number) => {
      if (outside[to] || surface[to]) return;
      outside[to] = 1;
      stack.push(to);
    };
    if (x > 0) visit(at - 1);
    if (x + 1 < nx) visit(at + 1);
    if (y > 0) visit(at - nx);
    if (y + 1 < ny) visit(at + nx);
    if (z > 0) visit(at - sheet);
    if (z + 1 < nz) visit(at + sheet);
  }
  return outside.map((o) => 1 - o);
}

/** Ways to all cells from those a bone passes. */
function walk(body: Body, segments: BoneSegments, way: Float32Array, heap: Heap): void {
  const { size, low, cell, inside } = body;
  const [nx, ny, nz] = size;
  way.fill(Infinity);
  heap.clear();
  const seed = (at: number, d: number) => {
    if (d < way[at]) {
      way[at] = d;
      heap.push(at, d);
    }
  };
  const middle = (i: number, axis: number) => low[axis] + (i + 0.5) * cell;
  const cellOf = (p: Place): readonly [number, number, number] =>
    [0, 1, 2].map((a) => Math.min(size[a] - 1, Math.max(0, Math.floor((p[a] - low[a]) / cell)))) as unknown as Place;
  let found = false;
  for (const segment of segments) {
    const [a, b] = segment;
    const length = Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
    if (length - length !== 0) continue;
    // Only the part within the grid is gone along.
    const [first, last] = within(a, b, low, size, cell);
    if (first > last) continue;
    const steps = Math.max(1, Math.ceil(((length * (last - first)) / cell) * 3));
    for (let s = 0; s <= steps; s++) {
      const t = first + ((last - first) * s) / steps;
      const p = [0, 1, 2].map((k) => a[k] + (b[k] - a[k]) * t) as unknown as Place;
      const [i, j, k] = cellOf(p);
      const at = (k * ny + j) * nx + i;
      if (!inside[at]) continue;
      found = true;
      seed(at, Math.sqrt(squaredTo([segment], middle(i, 0), middle(j, 1), middle(k, 2))));
    }
  }
  if (!found) {
    // A bone beside the body begins at the nearest cell of it, as far as that is.
    let best = -1;
    let least = Infinity;
    for (let at = 0; at < inside.length; at++) {
      if (!inside[at]) continue;
      const d = squaredTo(
        segments,
        middle(at % nx, 0),
        middle(Math.floor(at / nx) % ny, 1),
        middle(Math.floor(at / (nx * ny)), 2),
      );
      if (d < least) {
        least = d;
        best = at;
      }
    }
    if (best >= 0) seed(best, Math.sqrt(least));
  }
  while (heap.count > 0) {
    const at = heap.pop();
    const d = way[at];
    if (heap.popped > d) continue;
    const x = at % nx;
    const y = Math.floor(at / nx) % ny;
    const z = Math.floor(at / (nx * ny));
    for (let dz = z > 0 ? -1 : 0; dz <= (z + 1 < nz ? 1 : 0); dz++)
      for (let dy = y > 0 ? -1 : 0; dy <= (y + 1 < ny ? 1 : 0); dy++)
        for (let dx = x > 0 ? -1 : 0; dx <= (x + 1 < nx ? 1 : 0); dx++) {
          const to = at + (dz * ny + dy) * nx + dx;
          if (!inside[to]) continue;
          const next = Math.fround(d + cell * STEP[Math.abs(dx) + Math.abs(dy) + Math.abs(dz)]);
          if (next < way[to]) {
            way[to] = next;
            heap.push(to, next);
          }
        }
  }
}

/** From and to which share a line is within the grid; the first is the greater where it is not. */
function within(a: Place, b: Place, low: Place, size: readonly number[], cell: number): [number, number] {
  let [first, last] = [0, 1];
  for (let k = 0; k < 3; k++) {
    const d = b[k] - a[k];
    const [near, far] = [low[k] - a[k], low[k] + size[k] * cell - a[k]];
    if (d === 0) {
      if (near > 0 || far < 0) return [1, 0];
      continue;
    }
    first = Math.max(first, Math.min(near / d, far / d));
    last = Math.min(last, Math.max(near / d, far / d));
  }
  return [first, last];
}

const STEP = [0, 1, Math.SQRT2, Math.sqrt(3)];

/** Ways at points: mixed between the eight cells about each, of those that have one. */
function readAt({ size, low, cell }: Body, way: Float32Array, places: Readonly<Float32Array>, count: number): Float32Array {
  const [nx, ny, nz] = size;
  const out = new Float32Array(count);
  for (let p = 0; p < count; p++) {
    const g = [0, 1, 2].map((a) => (places[p * 3 + a] - low[a]) / cell - 0.5);
    const f = g.map(Math.floor);
    let sum = 0;
    let weights = 0;
    for (let corner = 0; corner < 8; corner++) {
      const d = [corner & 1, (corner >> 1) & 1, corner >> 2];
      const [i, j, k] = [f[0] + d[0], f[1] + d[1], f[2] + d[2]];
      if (!(i >= 0 && j >= 0 && k >= 0 && i < nx && j < ny && k < nz)) continue;
      const v = way[(k * ny + j) * nx + i];
      if (v === Infinity) continue;
      const w = [0, 1, 2].reduce((product, a) => product * (d[a] ? g[a] - f[a] : 1 - g[a] + f[a]), 1);
      sum += w * v;
      weights += w;
    }
    out[p] = weights > 1e-6 ? sum / weights : Infinity;
  }
  return out;
}

function squaredTo(segments: BoneSegments, x: number, y: number, z: number): number {
  let least = Infinity;
  for (const [a, b] of segments) {
    const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const l = ux * ux + uy * uy + uz * uz;
    const t = l > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * ux + (y - a[1]) * uy + (z - a[2]) * uz) / l)) : 0;
    const [dx, dy, dz] = [x - a[0] - t * ux, y - a[1] - t * uy, z - a[2] - t * uz];
    least = Math.min(least, dx * dx + dy * dy + dz * dz);
  }
  return least;
}

/** A binary heap of cells by distance; a cell may stand in it more than once. */
class Heap {
  private cells: Int32Array;
  private keys: Float32Array;
  count = 0;
  popped = 0;

  constructor(room: number) {
    this.cells = new Int32Array(Math.max(16, room));
    this.keys = new Float32Array(Math.max(16, room));
  }

  clear(): void {
    this.count = 0;
  }

  push(cell: number, key: number): void {
    if (this.count === this.cells.length) {
      const cells = new Int32Array(this.count * 2);
      const keys = new Float32Array(this.count * 2);
      cells.set(this.cells);
      keys.set(this.keys);
      this.cells = cells;
      this.keys = keys;
    }
    let i = this.count++;
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (this.keys[parent] <= key) break;
      this.cells[i] = this.cells[parent];
      this.keys[i] = this.keys[parent];
      i = parent;
    }
    this.cells[i] = cell;
    this.keys[i] = key;
  }

  pop(): number {
    const top = this.cells[0];
    this.popped = this.keys[0];
    const cell = this.cells[--this.count];
    const key = this.keys[this.count];
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= this.count) break;
      if (child + 1 < this.count && this.keys[child + 1] < this.keys[child]) child++;
      if (this.keys[child] >= key) break;
      this.cells[i] = this.cells[child];
      this.keys[i] = this.keys[child];
      i = child;
    }
    this.cells[i] = cell;
    this.keys[i] = key;
    return top;
  }
}
