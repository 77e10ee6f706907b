import { ofTopology } from './derive.ts';
import type { Topology } from './topology.ts';

/** The edges of a topology, numbered by their first use in corner order. */
export interface Edges {
  readonly count: number;
  /** Two points per edge, the lower index first. */
  readonly points: Int32Array;
  /** The edge from each corner to the next corner of its face. */
  readonly cornerEdges: Int32Array;
}

/** Edges of a topology; worked out once per topology, by an open-addressed table over point pairs. */
export const edgesOf = ofTopology((topology: Topology): Edges => {
  const { faceStarts, cornerPoints, faceCount, cornerCount } = topology;
  let size = 16;
  while (size < cornerCount * 2) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const points = new Int32Array(cornerCount * 2);
  const cornerEdges = new Int32Array(cornerCount);
  let count = 0;
  for (let f = 0; f < faceCount; f++) {
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    for (let c = start; c < end; c++) {
      const p = cornerPoints[c];
      const q = cornerPoints[c + 1 < end ? c + 1 : start];
      const low = p < q ? p : q;
      const high = p < q ? q : p;
      let slot = (Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)) & (size - 1);
      while (table[slot] >= 0 && (points[table[slot] * 2] !== low || points[table[slot] * 2 + 1] !== high)) {
        slot = (slot + 1) & (size - 1);
      }
      if (table[slot] < 0) {
        table[slot] = count;
        points[count * 2] = low;
        points[count * 2 + 1] = high;
        count++;
      }
      cornerEdges[c] = table[slot];
    }
  }
  return { count, points: points.slice(0, count * 2), cornerEdges };
});

/** The points that each point shares an edge with, in the order of its edges: from `starts[p]` to `starts[p + 1]`. */
export interface Neighbours {
  readonly starts: Int32Array;
  readonly points: Int32Array;
}

/** Neighbours along edges; worked out once per topology. */
export const neighboursOf = ofTopology((topology: Topology): Neighbours => {
  const { count, points } = edgesOf(topology);
  const starts = new Int32Array(topology.pointCount + 1);
  for (let e = 0; e < count * 2; e++) starts[points[e] + 1]++;
  for (let p = 0; p < topology.pointCount; p++) starts[p + 1] += starts[p];
  const next = starts.slice();
  const found = new Int32Array(count * 2);
  for (let e = 0; e < count * 2; e += 2) {
    const a = points[e];
    const b = points[e + 1];
    found[next[a]++] = b;
    found[next[b]++] = a;
  }
  return { starts, points: found };
});
