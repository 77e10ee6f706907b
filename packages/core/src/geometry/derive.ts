import { charge, ownBytes } from '../charges.ts';
import { memoize } from '../memo.ts';
import type { Topology } from './topology.ts';

/** What is worked out from a topology alone, once; it lives as long as that does, and counts with its memory. */
export const ofTopology = <V>(derive: (topology: Topology) => V): ((topology: Topology) => V) =>
  memoize((topology) => {
    const { cornerPoints, faceStarts, sourcePositions } = topology;
    return charged(cornerPoints.buffer, derive(topology), faceStarts.buffer, sourcePositions.buffer);
  });

/** The same of positions, until {@link letDerivedGo}. */
export const ofPositions = <V>(derive: (positions: Readonly<Float32Array>) => V): ((positions: Readonly<Float32Array>) => V) =>
  memoize((positions) => charged(positions.buffer, derive(positions)));

/** The same of a mesh, which counts with its positions. */
export const ofMesh = <M extends { readonly positions: Readonly<Float32Array> }, V>(derive: (mesh: M) => V): ((mesh: M) => V) =>
  memoize((mesh) => charged(mesh.positions.buffer, derive(mesh)));

/** Counts arrays of a value with the memory that it was worked out from, but for those in this and in memory of others. */
export function charged<V>(memory: ArrayBufferLike, value: V, ...others: readonly ArrayBufferLike[]): V {
  charge(memory, ownBytes(value, [memory, ...others]));
  return value;
}

/** An array worked out from positions, and what else it was made by. */
interface Kept {
  readonly by: readonly unknown[];
  readonly data: Float32Array;
}

const keptOf = memoize((_positions: Readonly<Float32Array>): Kept[] => []);
const memories = new WeakSet<ArrayBufferLike>();

/**
 * An array worked out from positions, once for the same positions and the same of what else it is made by: whoever asks,
 * nodes, tables or the picture, has the same. It lives as long as the positions, or until {@link letDerivedGo}, and counts
 * with their memory. Not to be written to.
 * @param by objects and words; compared one by one
 * @param make gives it in memory of its own
 */
export function derivedFrom(
  positions: Readonly<Float32Array>,
  by: readonly unknown[],
  make: () => Float32Array,
): Readonly<Float32Array> {
  const all = keptOf(positions);
  const known = all.find((k) => k.by.length === by.length && k.by.every((part, i) => part === by[i]));
  if (known) return known.data;
  const data = make();
  all.push({ by, data });
  memories.add(data.buffer);
  charge(positions.buffer, data.byteLength);
  return data;
}

/** Whether memory is that of an array that is kept here. */
export const isDerived = (memory: ArrayBufferLike): boolean => memories.has(memory);

/** Forgets the arrays worked out from positions that are let go. @returns the memory of each */
export function letDerivedGo(positions: Readonly<Float32Array>): ArrayBufferLike[] {
  const gone = keptOf(positions)
    .splice(0)
    .map(({ data }) => data.buffer);
  for (const memory of gone) memories.delete(memory);
  return gone;
}
