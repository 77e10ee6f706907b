import type { GraphRecord, Mesh, ObjectRecord } from '@umberfish/core';

/** Registers a mesh of the demo under a name and gives its asset id. */
export type AddAsset = (name: string, mesh: Mesh) => string;

/** A corner of the quay: its objects and the graphs that work on them. */
export interface Station {
  readonly objects: readonly ObjectRecord[];
  readonly graphs: readonly GraphRecord[];
}
