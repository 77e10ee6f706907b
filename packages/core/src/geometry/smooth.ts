import { memoize } from '../memo.ts';
import { edgesOf } from './edges.ts';
import type { Topology } from './topology.ts';

/** Most rounds of averaging. */
export const MOST_ROUNDS = 10_000;

/** Points on edges of one face only: the rim of an open mesh. */
export const borderPoints = memoize((topology: Topology): Uint8Array => {
  const { count, points, cornerEdges } = edgesOf(topology);
  const faces = new Int32Array(count);
  for (const e of cornerEdges) faces[e]++;
  const border = new Uint8Array(topology.pointCount);
  for (let e = 0; e < count; e++) {
    if (faces[e] !== 1) continue;
    border[points[e * 2]] = 1;
    border[points[e * 2 + 1]] = 1;
  }
  return border;
});

/**
 * Rounds of averaging over neighbours along edges (uniform Laplacian, step 1/2 of the way each round, which keeps
 * it from ringing). Points without edges keep their value; so do border points when `pinBorders`.
 * @param values `width` numbers per point. @returns a new array.
 */
export function smoothValues(
  topology: Topology,
  values: Readonly<Float32Array>,
  width: number,
  rounds: number,
  pinBorders: boolean,
  checkpoint: () => void = () => {},
): Float32Array {
  const { count, points } = edgesOf(topology);
  const border = pinBorders ? borderPoints(topology) : undefined;
  const out = Float32Array.from(values);
  const sums = new Float64Array(values.length);
  const neighbours = new Int32Array(topology.pointCount);
  for (let e = 0; e < count * 2; e++) neighbours[points[e]]++;
  for (let round = 0; round < rounds; round++) {
    checkpoint();
    sums.fill(0);
    for (let e = 0; e < count; e++) {
      const a = points[e * 2] * width;
      const b = points[e * 2 + 1] * width;
      for (let k = 0; k < width; k++) {
        sums[a + k] += out[b + k];
        sums[b + k] += out[a + k];
      }
    }
    for (let p = 0; p < topology.pointCount; p++) {
      if (neighbours[p] === 0 || border?.[p]) continue;
      for (let k = p * width; k < (p + 1) * width; k++) out[k] += (sums[k] / neighbours[p] - out[k]) / 2;
    }
  }
  return out;
}
