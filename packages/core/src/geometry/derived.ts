import { memoize } from '../memo.ts';
import { boundsOf, type Bounds } from './bounds.ts';
import type { Mesh } from './mesh.ts';
import { computeNormals, type Checkpoint, type NormalWeighting } from './normals.ts';
import type { Topology } from './topology.ts';

/** Bytes of normals that are kept at most, whatever they belong to: those asked for longest ago go first. */
const MOST_BYTES = 192 * 2 ** 20;

/** Normals of one array of positions in one topology. */
interface Kept {
  readonly topology: Topology;
  readonly weighting: NormalWeighting;
  normals: Float32Array | undefined;
}

const keptOf = memoize((_positions: Readonly<Float32Array>): Kept[] => []);
/** All that is kept, the one asked for last at the end. */
const order = new Set<Kept>();
const memories = new WeakSet<ArrayBufferLike>();
let bytes = 0;

/**
 * Normals of a mesh's points (see `computeNormals`), worked out once for the same positions in the same topology, whoever
 * asks: nodes, tables and the picture share them. Not to be written to.
 * @param room gives memory for them, if they are not known
 */
export function normalsOf(
  mesh: Mesh,
  weighting: NormalWeighting = 'angle',
  checkpoint?: Checkpoint,
  room: (count: number) => Float32Array = (count) => new Float32Array(count),
): Readonly<Float32Array> {
  const { topology, positions } = mesh;
  const all = keptOf(positions);
  let kept = all.find((k) => k.topology === topology && k.weighting === weighting);
  if (!kept) all.push((kept = { topology, weighting, normals: undefined }));
  order.delete(kept);
  if (!kept.normals) {
    const out = room(positions.length);
    kept.normals = computeNormals(out, positions, topology, topology.cornerPoints, weighting, checkpoint);
    bytes += out.byteLength;
    memories.add(out.buffer);
  }
  order.add(kept);
  const { normals } = kept;
  for (const old of order) {
    if (bytes <= MOST_BYTES) break;
    if (old.normals) {
      bytes -= old.normals.byteLength;
      memories.delete(old.normals.buffer);
    }
    old.normals = undefined;
    order.delete(old);
  }
  return normals;
}

/** Whether memory is that of normals that are kept here. */
export const isNormals = (memory: ArrayBufferLike): boolean => memories.has(memory);

/** Forgets the normals of positions that are let go. @returns the memory of each */
export function letNormalsGo(positions: Readonly<Float32Array>): ArrayBufferLike[] {
  const gone: ArrayBufferLike[] = [];
  for (const kept of keptOf(positions).splice(0)) {
    order.delete(kept);
    if (!kept.normals) continue;
    bytes -= kept.normals.byteLength;
    memories.delete(kept.normals.buffer);
    gone.push(kept.normals.buffer);
  }
  return gone;
}

/** Bounds of positions that nobody writes to any more; worked out once. */
export const knownBounds: (positions: Readonly<Float32Array>) => Bounds = memoize((positions) => boundsOf(positions));
