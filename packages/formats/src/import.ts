import { FormatError, METRES_Y_UP, type Imported, type ImportUnits } from './imported.ts';
import { readGltf } from './gltf-read.ts';
import { readObj } from './obj-read.ts';

/** A file by name and content. */
export interface SourceFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const endingOf = (name: string) => name.slice(name.lastIndexOf('.') + 1).toLowerCase();
const stemOf = (name: string) => name.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '');

/** Endings of files that bring meshes. */
export const MESH_ENDINGS = ['obj', 'glb', 'gltf'] as const;

/**
 * Reads the mesh file among files that were chosen together; the others are its material library or buffers.
 * @param units how an OBJ's numbers become metres; glTF files are always metres with y up.
 * @throws FormatError with a sentence that names the file.
 */
export async function importMeshes(
  files: readonly SourceFile[],
  units: ImportUnits = METRES_Y_UP,
): Promise<Imported> {
  const main = files.find((f) => (MESH_ENDINGS as readonly string[]).includes(endingOf(f.name)));
  if (!main) {
    const names = files.map((f) => f.name).join(', ') || 'Nothing';
    throw new FormatError(`${names}: only OBJ, GLB and glTF meshes can be imported.`);
  }
  try {
    if (endingOf(main.name) === 'obj') {
      const library = files.find((f) => endingOf(f.name) === 'mtl');
      const decoder = new TextDecoder();
      const materialText = library ? decoder.decode(library.bytes) : undefined;
      return readObj(decoder.decode(main.bytes), { name: stemOf(main.name), materialText, units });
    }
    const others = files.filter((f) => f !== main).map((f) => [f.name, f.bytes] as const);
    return await readGltf(main.bytes, new Map(others));
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`${main.name}: ${error.message}`);
    const why =
      error instanceof RangeError ? 'it needs more memory than there is' : 'it is not as such files are';
    throw new FormatError(`${main.name}: the file cannot be read, ${why}.`);
  }
}
