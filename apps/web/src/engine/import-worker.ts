import { expose } from 'comlink';
import { meshId } from '@umberfish/core';
import { importMeshes, type ImportedMesh, type ImportUnits, type SourceFile } from '@umberfish/formats';

/** What a file brought, with the content id of each mesh. */
export interface ReadFiles {
  readonly meshes: readonly (ImportedMesh & { readonly id: string })[];
  readonly notes: readonly string[];
}

const reader = {
  /** Reads mesh files away from the page. @throws Error with a sentence */
  async read(files: readonly SourceFile[], units: ImportUnits): Promise<ReadFiles> {
    const { meshes, notes } = await importMeshes(files, units);
    return { meshes: meshes.map((m) => ({ ...m, id: meshId(m.mesh) })), notes };
  },
};

export type Reader = typeof reader;

expose(reader);
