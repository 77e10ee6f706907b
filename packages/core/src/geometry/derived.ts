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
let bytes = 0;

/**
 * Normals of a mesh's points (see `computeNormals`), worked out once for the same positions in the same topology, whoever
 * asks: nodes, tables and the picture share them. Not to be written to.
 */
export function normalsOf(mesh: Mesh, weighting: NormalWeighting = 'angle', checkpoint?: Checkpoint): Readonly<Float32Array> {
  const { topology, positions } = mesh;
  const all = keptOf(positions);
  let kept = all.find((k) => k.topology === topology && k.weighting === weighting);
  if (!kept) all.push((kept = { topology, weighting, normals: undefined }));
  order.delete(kept);
  if (!kept.normals) {
    const out = new Float32Array(positions.length);
    kept.normals = computeNormals(out, positions, topology, topology.cornerPoints, weighting, checkpoint);
    bytes += out.byteLength;
  }
  order.add(kept);
  const { normals } = kept;
  for (const old of order) {
    if (bytes <= MOST_BYTES) break;
    bytes -= old.normals?.byteLength ?? 0;
    old.normals = undefined;
    order.delete(old);
  }
  return normals;
}

/** Bounds of positions that nobody writes to any more; worked out once. */
export const knownBounds: (positions: Readonly<Float32Array>) => Bounds = memoize((positions) => boundsOf(positions));
