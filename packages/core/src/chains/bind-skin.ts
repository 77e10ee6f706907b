import { smoothValues } from '../geometry/smooth.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { Chain } from './chain.ts';
import { distancesInside, type BoneSegments } from './distances-inside.ts';

export interface BindOptions {
  /** Cells along the longest side of the body. */
  readonly detail: number;
  /** The most joints that move a point. */
  readonly most: number;
  /** How fast weights fall with distance: the power of 1 / distance. */
  readonly sharpness: number;
  readonly smoothing: number;
  /** Weights below this share are dropped. */
  readonly least: number;
  /** Joints whose weights stay as they are, and those; the others share what they leave. */
  readonly locked: ReadonlyMap<number, Readonly<Float32Array>>;
}

/** Bones from each joint to those under it; a joint without any is a bone of no length. */
export function bonesOfJoints(chain: Chain): BoneSegments[] {
  const at = (j: number) => [chain.rest[j * 16 + 12], chain.rest[j * 16 + 13], chain.rest[j * 16 + 14]] as const;
  return chain.names.map((_, j) => {
    const below: number[] = [];
    for (let k = j + 1; k < chain.ends[j]; k++) if (chain.parents[k] === j) below.push(k);
    return below.length > 0 ? below.map((k) => [at(j), at(k)] as const) : [[at(j), at(j)] as const];
  });
}

/**
 * Weights of points by how far they are from the bones inside of the body (geodesic voxel binding: Dionne and de Lasa
 * 2013): distances go through the inside, so that a leg does not move the other one beside it. `w = 1 / (d² + ε²)^(s/2)`,
 * smoothed along edges, the largest few kept, summing to 1. A mirrored mesh with mirrored joints has mirrored weights.
 * @param places xyz × points, where the mesh fits the chain's rest.
 * @returns a column for each joint, and which points no bone reaches through the inside: those take the nearest through the air.
 */
export function bindSkin(
  mesh: Mesh,
  places: Readonly<Float32Array>,
  chain: Chain,
  options: BindOptions,
  checkpoint: () => void = () => {},
): { columns: Float32Array[]; far: Int32Array } {
  const { topology } = mesh;
  const count = topology.pointCount;
  const free = chain.names.map((_, j) => j).filter((j) => !options.locked.has(j));
  const bones = bonesOfJoints(chain);
  const { distances, cell, far } = distancesInside(
    topology,
    places,
    free.map((j) => bones[j]),
    options.detail,
    checkpoint,
  );
  const soft = (cell / 2) ** 2;
  let columns: Float32Array[] = distances.map((d) =>
    Float32Array.from(d, (x) => (x < Infinity ? 1 / (x * x + soft) ** (options.sharpness / 2) : 0)),
  );
  normalise(columns, count);
  columns = columns.map((c) => smoothValues(topology, c, 1, options.smoothing, false, checkpoint));
  prune(columns, count, Math.max(1, options.most - options.locked.size), options.least);
  const left = new Float64Array(count).fill(1);
  for (const data of options.locked.values())
    for (let p = 0; p < count; p++) left[p] -= Math.min(Math.max(0, data[p] || 0), Math.max(0, left[p]));
  const out = chain.names.map((_, j) => Float32Array.from(options.locked.get(j) ?? new Float32Array(count)));
  free.forEach((j, i) => {
    for (let p = 0; p < count; p++) out[j][p] = columns[i][p] * Math.max(0, left[p]);
  });
  return { columns: out, far };
}

/** Makes the weights of each point sum to 1; all 0 stay 0. */
export function normalise(columns: readonly Float32Array[], count: number): void {
  for (let p = 0; p < count; p++) {
    let sum = 0;
    for (const c of columns) sum += c[p];
    if (sum > 0) for (const c of columns) c[p] /= sum;
  }
}

/** Keeps the largest weights of each point, of equal ones the first; none below a share, and they sum to 1 again. */
export function prune(columns: readonly Float32Array[], count: number, most: number, least: number): void {
  const kept = new Int32Array(most);
  for (let p = 0; p < count; p++) {
    let n = 0;
    for (let j = 0; j < columns.length; j++) {
      const w = columns[j][p];
      if (!(w > 0)) continue;
      let at = n < most ? n++ : most;
      // Dust of rounding is no difference: else mirrored points could keep others.
      for (; at > 0 && columns[kept[at - 1]][p] < w * (1 - 1e-5); at--) if (at < most) kept[at] = kept[at - 1];
      if (at < most) kept[at] = j;
    }
    let sum = 0;
    for (let k = 0; k < n; k++) {
      const w = columns[kept[k]][p];
      if (w >= least || k === 0) sum += w;
    }
    const values = Array.from(kept.subarray(0, n), (j, k) => (columns[j][p] >= least || k === 0 ? columns[j][p] / sum : 0));
    for (const c of columns) c[p] = 0;
    for (let k = 0; k < n; k++) columns[kept[k]][p] = values[k];
  }
}
