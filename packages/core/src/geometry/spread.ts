import type { AttributePlace } from './attributes.ts';
import { edgesOf } from './edges.ts';
import { elementCount } from './mesh.ts';
import type { Topology } from './topology.ts';

/**
 * Calls `visit` for every pair of neighbouring elements of two kinds, each pair once per way it touches: a point
 * and its corners, a face and its edges, an edge and its two points, a corner and the two edges that meet there …
 */
function forEachTouch(
  topology: Topology,
  from: AttributePlace,
  to: AttributePlace,
  visit: (from: number, to: number) => void,
): void {
  const { faceStarts, cornerPoints, faceCount } = topology;
  const edges = from === 'edge' || to === 'edge' ? edgesOf(topology) : undefined;
  if (edges && (from === 'point' || to === 'point')) {
    for (let e = 0; e < edges.count; e++) {
      for (let end = 0; end < 2; end++) {
        const p = edges.points[e * 2 + end];
        if (from === 'point') visit(p, e);
        else visit(e, p);
      }
    }
    return;
  }
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const before = c > faceStarts[f] ? c - 1 : faceStarts[f + 1] - 1;
      const of = (place: AttributePlace) => (place === 'point' ? cornerPoints[c] : place === 'corner' ? c : f);
      if (!edges) visit(of(from), of(to));
      else {
        const corner = from === 'corner' || to === 'corner';
        for (const e of corner ? [edges.cornerEdges[c], edges.cornerEdges[before]] : [edges.cornerEdges[c]]) {
          if (from === 'edge') visit(e, of(to));
          else visit(of(from), e);
        }
      }
    }
  }
}

/**
 * Takes values from one kind of element to another: each element gets the mean of what touches it, which is a
 * plain copy where only one does (a face to its corners). Elements that nothing touches get 0.
 * @param data `width` numbers per element of `from`. @returns a new array, `width` per element of `to`.
 */
export function moveValues(
  topology: Topology,
  data: Readonly<Float32Array | Int32Array>,
  width: number,
  from: AttributePlace,
  to: AttributePlace,
): Float32Array {
  if (from === to) return Float32Array.from(data);
  const count = elementCount(topology, to);
  const sums = new Float64Array(count * width);
  const touches = new Int32Array(count);
  forEachTouch(topology, from, to, (a, b) => {
    touches[b]++;
    for (let k = 0; k < width; k++) sums[b * width + k] += data[a * width + k];
  });
  return Float32Array.from(sums, (s, i) => s / Math.max(1, touches[Math.floor(i / width)]));
}
