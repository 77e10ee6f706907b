import { ofTopology } from './derive.ts';
import { edgesOf, neighboursOf, type Neighbours } from './edges.ts';
import type { Topology } from './topology.ts';

/** Most rounds of averaging. */
export const MOST_ROUNDS = 10_000;

/** Points on edges of one face only: the rim of an open mesh. */
export const borderPoints = ofTopology((topology: Topology): Uint8Array => {
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
 * @param values `width` numbers per point. @param room gives two arrays to work in. @returns one of them.
 */
export function smoothValues(
  topology: Topology,
  values: Readonly<Float32Array>,
  width: 1 | 3,
  rounds: number,
  pinBorders: boolean,
  checkpoint: () => void = () => {},
  room: (count: number) => Float32Array = (count) => new Float32Array(count),
): Float32Array {
  const neighbours = neighboursOf(topology);
  const border = pinBorders ? borderPoints(topology) : undefined;
  let from = room(values.length);
  from.set(values);
  if (rounds === 0) return from;
  let to = room(values.length);
  to.set(values);
  for (let round = 0; round < rounds; round++) {
    checkpoint();
    if (width === 3) smoothTriples(to, from, neighbours, border);
    else smoothNumbers(to, from, neighbours, border);
    [from, to] = [to, from];
  }
  return from;
}

/** One round for xyz per point; points without neighbours and those of the border keep what `to` has. */
function smoothTriples(
  to: Float32Array,
  from: Readonly<Float32Array>,
  { starts, points }: Neighbours,
  border: Readonly<Uint8Array> | undefined,
): void {
  for (let p = 0, o = 0; o < to.length; p++, o += 3) {
    const start = starts[p];
    const end = starts[p + 1];
    if (start === end || border?.[p]) continue;
    let x = 0,
      y = 0,
      z = 0;
    for (let k = start; k < end; k++) {
      const q = points[k] * 3;
      x += from[q];
      y += from[q + 1];
      z += from[q + 2];
    }
    const count = end - start;
    to[o] = from[o] + (x / count - from[o]) / 2;
    to[o + 1] = from[o + 1] + (y / count - from[o + 1]) / 2;
    to[o + 2] = from[o + 2] + (z / count - from[o + 2]) / 2;
  }
}

/** The same for one number per point. */
function smoothNumbers(
  to: Float32Array,
  from: Readonly<Float32Array>,
  { starts, points }: Neighbours,
  border: Readonly<Uint8Array> | undefined,
): void {
  for (let p = 0; p < to.length; p++) {
    const start = starts[p];
    const end = starts[p + 1];
    if (start === end || border?.[p]) continue;
    let sum = 0;
    for (let k = start; k < end; k++) sum += from[points[k]];
    to[p] = from[p] + (sum / (end - start) - from[p]) / 2;
  }
}
