import {
  findAttribute,
  neighboursOf,
  partnersAcross,
  WEIGHT_PREFIX,
  type Mesh,
  type Neighbours,
  type Partners,
} from '@umberfish/core';

/** What is asked of an output that is painted on. */
export interface PaintAsked {
  /** The attribute that is painted; one of weights brings all weights. */
  readonly name: string;
  /** The topology whose neighbours are known already. */
  readonly known: string | null;
  /** The axis across which it is mirrored. */
  readonly across: 0 | 1 | 2 | null;
}

/** What a brush has to know of a mesh. What is known by topology may be shared with the worker: it is read, never written. */
export interface Paintable {
  readonly pointCount: number;
  readonly topology: string;
  /** Left out where they are known. */
  readonly neighbours?: Neighbours;
  readonly columns: ReadonlyMap<string, Readonly<Float32Array>>;
  readonly across: Partners | null;
}

/** Partners of the mesh that was asked for last. */
let last: { positions: Readonly<Float32Array>; axis: number; partners: Partners } | null = null;

export function paintableOf(mesh: Mesh, { name, known, across }: PaintAsked): Paintable {
  const { topology } = mesh;
  const isWeight = name.startsWith(WEIGHT_PREFIX);
  const columns = new Map<string, Readonly<Float32Array>>();
  for (const a of mesh.attributes)
    if (a.on === 'point' && a.type === 'number' && (a.name === name || (isWeight && a.name.startsWith(WEIGHT_PREFIX))))
      // A copy: the worker may use their memory again.
      columns.set(a.name, Float32Array.from(a.data));
  const rest = (findAttribute(mesh, 'restPosition', 'point')?.data as Float32Array | undefined) ?? mesh.positions;
  if (across !== null && (last?.positions !== rest || last.axis !== across))
    last = { positions: rest, axis: across, partners: partnersAcross(rest, across) };
  return {
    pointCount: topology.pointCount,
    topology: topology.id,
    ...(topology.id !== known && { neighbours: neighboursOf(topology) }),
    columns,
    across: across === null ? null : (last?.partners ?? null),
  };
}
