import { expose } from 'comlink';
import { meshId } from '@umberfish/core';
import { importMeshes, objExtent, type ImportedFiles, type ImportUnits, type SourceFile } from '@umberfish/formats';

/** What files brought, with the content id of each mesh. */
export interface ReadFiles extends ImportedFiles {
  readonly meshes: readonly (ImportedFiles['meshes'][number] & { readonly id: string })[];
}

const reader = {
  /** Reads mesh files away from the page. @throws Error with a sentence */
  async read(files: readonly SourceFile[], units: ImportUnits): Promise<ReadFiles> {
    const read = await importMeshes(files, units);
    return { ...read, meshes: read.meshes.map((m) => ({ ...m, id: meshId(m.mesh) })) };
  },

  /** How large each of some OBJ files is, in its own units; undefined where that cannot be told. */
  extents: (files: readonly SourceFile[]): (readonly [number, number, number] | undefined)[] =>
    files.map((f) => (/\.obj$/i.test(f.name) ? objExtent(f.bytes) : undefined)),
};

export type Reader = typeof reader;

expose(reader);
