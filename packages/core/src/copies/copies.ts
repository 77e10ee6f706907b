import { ATTRIBUTE_WIDTH, type AttributeType, type AttributeRole } from '../geometry/attributes.ts';
import { mergeMeshes } from '../geometry/merge.ts';
import { findAttribute, withAttribute, type Mesh } from '../geometry/mesh.ts';
import { transformMesh } from '../geometry/transform.ts';
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

/**
 * The copies as one mesh, in order; attributes of copies go to their points, where colours multiply nothing but simply
 * replace. The integer point attribute `copy` tells which copy a point came from.
 */
export const copiesToMesh = memoize((copies: Copies): Mesh => {
  const parts: Mesh[] = [];
  for (let i = 0; i < copies.count; i++) {
    const source = copies.sources[copies.which[i]];
    const m = copies.matrices.subarray(i * 16, i * 16 + 16) as Float64Array;
    parts.push(transformMesh(source, m, (n) => new Float32Array(n)));
  }
  let mesh = mergeMeshes(parts);
  const owner = new Int32Array(mesh.topology.pointCount);
  let at = 0;
  parts.forEach((p, i) => owner.fill(i, at, (at += p.topology.pointCount)));
  for (const a of copies.attributes) {
    const width = ATTRIBUTE_WIDTH[a.type];
    const data = a.data instanceof Int32Array ? new Int32Array(owner.length * width) : new Float32Array(owner.length * width);
    for (let p = 0; p < owner.length; p++) for (let k = 0; k < width; k++) data[p * width + k] = a.data[owner[p] * width + k];
    mesh = withAttribute(mesh, { ...a, on: 'point', data });
  }
  const taken = findAttribute(mesh, 'copy', 'point');
  return taken ? mesh : withAttribute(mesh, { name: 'copy', on: 'point', type: 'integer', role: 'plain', data: owner });
});
