import { expose } from 'comlink';
import { meshId } from '@umberfish/core';
import {
  importMeshes,
  type ImportedMesh,
  type ImportedObject,
  type ImportUnits,
  type SourceFile,
} from '@umberfish/formats';

/** What a file brought, with the content id of each mesh. */
export interface ReadFiles {
  readonly meshes: readonly (ImportedMesh & { readonly id: string })[];
  readonly objects: readonly ImportedObject[];
  readonly notes: readonly string[];
}

const reader = {
  /** Reads mesh files away from the page. @throws Error with a sentence */
  async read(files: readonly SourceFile[], units: ImportUnits): Promise<ReadFiles> {
    const { meshes, objects, notes } = await importMeshes(files, units);
    // Files without a hierarchy: an object for each mesh.
    const plain = meshes.map((m, mesh) => ({
      name: m.name,
      parent: null,
      mesh,
      matrix: m.matrix,
      motion: null,
    }));
    return { meshes: meshes.map((m) => ({ ...m, id: meshId(m.mesh) })), objects: objects ?? plain, notes };
  },
};

export type Reader = typeof reader;

expose(reader);
