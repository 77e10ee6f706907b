import type { AttributeType, AttributeRole } from '../geometry/attributes.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { hashArrays, hashText } from '../hash.ts';
import { memoize } from '../memo.ts';

/** Named values, one per copy. */
export interface CopyAttribute {
  readonly name: string;
  readonly type: AttributeType;
  readonly role: AttributeRole;
  readonly data: Readonly<Float32Array | Int32Array>;
}

/**
 * Meshes shown many times, each time through a matrix of its own; nothing is repeated until somebody asks for points.
 * Immutable.
 */
export interface Copies {
  readonly kind: 'copies';
  /** Equal for copies that came from the same placing: their columns belong together. */
  readonly id: string;
  readonly count: number;
  readonly sources: readonly Mesh[];
  /** Which source each copy shows. */
  readonly which: Readonly<Int32Array>;
  /** 16 numbers a copy, world space. */
  readonly matrices: Readonly<Float64Array>;
  readonly attributes: readonly CopyAttribute[];
}

/** Most points that copies may come to when they are made one mesh. */
export const MOST_COPIED_POINTS = 20_000_000;

/** Copies of meshes by matrices (taken over). */
export function makeCopies(
  sources: readonly Mesh[],
  which: Int32Array,
  matrices: Float64Array,
  attributes: readonly CopyAttribute[] = [],
): Copies {
  const id = `copies-${which.length}-${hashArrays(which)}${hashText(sources.map((s) => s.topology.id).join())}`;
  return { kind: 'copies', id, count: which.length, sources, which, matrices, attributes };
}

/** Where each copy stands: xyz × count. */
export const copyPositions = memoize((copies: Copies): Float32Array => {
  const out = new Float32Array(copies.count * 3);
  for (let i = 0; i < copies.count; i++)
    for (let axis = 0; axis < 3; axis++) out[i * 3 + axis] = copies.matrices[i * 16 + 12 + axis];
  return out;
});

/** Points that the copies come to as one mesh. */
export function copiedPoints(copies: Copies): number {
  let sum = 0;
  for (let i = 0; i < copies.count; i++) sum += copies.sources[copies.which[i]].topology.pointCount;
  return sum;
}
