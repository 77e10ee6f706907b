import { BESIDE_ENDINGS, MESH_ENDINGS, PICTURE_ENDINGS } from './endings.ts';
import { FormatError, type Imported, type ImportedMesh, type ImportedObject } from './imported.ts';
import { METRES_Y_UP, type ImportUnits } from './units.ts';
import { readGltf } from './gltf-read.ts';
import { readObj } from './obj-read.ts';

/** A file by name and content. */
export interface SourceFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const endingOf = (name: string) => name.slice(name.lastIndexOf('.') + 1).toLowerCase();
const nameOf = (path: string) => path.replace(/^.*[\\/]/, '').toLowerCase();
const stemOf = (name: string) => name.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '');

const isMeshFile = (f: SourceFile) => MESH_ENDINGS.includes(endingOf(f.name));

/** What several files gave, and which of them could not be read. */
export interface ImportedFiles extends Imported {
  readonly meshes: readonly (ImportedMesh & { readonly origin: string })[];
  readonly objects: readonly ImportedObject[];
  /** Names of the files that were read. */
  readonly origins: readonly string[];
  /** Why the others were not, each a sentence that names the file; they are in the notes too. */
  readonly refused: readonly string[];
}

/**
 * Reads every mesh file among files that were chosen together; the others are their material libraries and buffers.
 * A file that cannot be read is told and does not keep the rest from being read.
 * @param units how an OBJ's numbers become metres; glTF files are always metres with y up.
 * @throws FormatError with a sentence that names the files, when none can be read.
 */
export async function importMeshes(files: readonly SourceFile[], units: ImportUnits = METRES_Y_UP): Promise<ImportedFiles> {
  const mains = files.filter(isMeshFile);
  if (mains.length === 0) {
    const names = files.map((f) => f.name).join(', ') || 'Nothing';
    throw new FormatError(`${names}: only OBJ, GLB and glTF meshes can be imported.`);
  }
  const beside = files.filter((f) => !isMeshFile(f));
  const meshes: ImportedFiles['meshes'][number][] = [];
  const objects: ImportedObject[] = [];
  const [origins, notes, refused]: string[][] = [[], [], []];
  for (const main of mains) {
    let read: Imported;
    try {
      read = await readOne(main, beside, units);
    } catch (error) {
      refused.push(sentenceOf(main.name, error));
      continue;
    }
    const [firstMesh, firstObject] = [meshes.length, objects.length];
    for (const m of read.meshes) meshes.push({ ...m, origin: main.name });
    for (const o of read.objects ?? read.meshes.map(standing))
      objects.push({
        ...o,
        parent: o.parent === null ? null : o.parent + firstObject,
        mesh: o.mesh === null ? null : o.mesh + firstMesh,
      });
    origins.push(main.name);
    notes.push(...read.notes.map((n) => (mains.length > 1 ? `${main.name}: ${n}` : n)));
  }
  if (origins.length === 0) throw new FormatError(refused.join(' '));
  const unknown = beside.filter((f) => !BESIDE_ENDINGS.includes(endingOf(f.name)));
  const worn = new Set(meshes.flatMap((m) => m.mesh.materials.map((x) => x.picture?.bytes)));
  const unused = beside.filter((f) => PICTURE_ENDINGS.includes(endingOf(f.name)) && !worn.has(f.bytes));
  if (unused.length > 0)
    notes.push(
      `${unused.map((f) => f.name).join(', ')}: left out, since only materials of glTF files have pictures, by their names.`,
    );
  if (unknown.length > 0) notes.push(`${unknown.map((f) => f.name).join(', ')}: not a mesh, and left out.`);
  return { meshes, objects, origins, notes: [...refused, ...notes], refused };
}

/** An object for a mesh of a file without a hierarchy. */
const standing = (m: ImportedMesh, mesh: number): ImportedObject => ({
  name: m.name,
  parent: null,
  mesh,
  matrix: m.matrix,
  motion: null,
});

async function readOne(main: SourceFile, beside: readonly SourceFile[], units: ImportUnits): Promise<Imported> {
  if (endingOf(main.name) !== 'obj') return readGltf(main.bytes, new Map(beside.map((f) => [f.name, f.bytes] as const)));
  const text = new TextDecoder().decode(main.bytes);
  return readObj(text, { name: stemOf(main.name), materialText: librariesOf(text, main, beside), units });
}

/** The text of the material libraries an OBJ names; of the one that was chosen with it when it names none that is there. */
function librariesOf(text: string, main: SourceFile, beside: readonly SourceFile[]): string | undefined {
  const libraries = beside.filter((f) => endingOf(f.name) === 'mtl');
  const named = new Set(namesAfter(text, 'mtllib').map(nameOf));
  const mine = libraries.filter((f) => named.has(nameOf(f.name)));
  const same = libraries.filter((f) => stemOf(f.name) === stemOf(main.name));
  const taken = [mine, same, libraries.length === 1 ? libraries : []].find((l) => l.length > 0);
  const decoder = new TextDecoder();
  return taken?.map((f) => decoder.decode(f.bytes)).join('\n');
}

/** What stands after a word at the beginning of lines; without expressions that go back, since lines may be long. */
function namesAfter(text: string, word: string): string[] {
  const end = text.includes('\r') ? /\r|\n/g : /\n/g;
  const names: string[] = [];
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, end.lastIndex)) {
    end.lastIndex = at;
    const to = end.exec(text)?.index ?? text.length;
    const from = Math.max(text.lastIndexOf('\n', at), end.source.length > 2 ? text.lastIndexOf('\r', at) : -1) + 1;
    const line = text.slice(from, to).trim();
    const rest = line.startsWith(word) ? line.slice(word.length) : '';
    if (/^\s/.test(rest)) names.push(rest.trim());
    if (to === text.length) break;
  }
  return names;
}

function sentenceOf(name: string, error: unknown): string {
  if (error instanceof FormatError) return `${name}: ${error.message}`;
  const why = error instanceof RangeError ? 'it needs more memory than there is' : 'it is not as such files are';
  return `${name}: the file cannot be read, ${why}.`;
}
