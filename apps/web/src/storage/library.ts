import { isModuleText, moduleHash, readModuleFile, writeModuleFile, type ModuleFile, type ModuleRecord } from '@umberfish/core';
import { liveQuery } from 'dexie';
import startersUrl from '@umberfish/demo/starters.json?url';
import { database, type StoredModule } from './database.ts';

/** A module as the library lists it: one row a version. */
export interface LibraryEntry {
  readonly key: string;
  readonly file: ModuleFile;
  /** Shipped with the application: it cannot be removed. */
  readonly shipped: boolean;
}

let shipped: Promise<ModuleFile[]> | undefined;

/** The modules that come with the application. */
async function starters(): Promise<ModuleFile[]> {
  const answer = await fetch(startersUrl);
  if (!answer.ok) throw new Error('The modules that come with Umberfish could not be loaded from this site.');
  return ((await answer.json()) as unknown[]).map((f) => readModuleFile(JSON.stringify(f)));
}

const keyOf = ({ module }: ModuleFile): string => `${module.id}@${module.version}`;

const shippedFiles = (): Promise<ModuleFile[]> =>
  (shipped ??= starters()).catch(() => {
    shipped = undefined;
    return [];
  });

/** Tells all modules of the library, by name, the newest version of each first: now, and whenever any tab changes it. */
export function watchModules(told: (all: LibraryEntry[]) => void): void {
  liveQuery(() => database.modules.toArray()).subscribe({
    next: (rows) => void shippedFiles().then((known) => told(listed(known, rows))),
    error: () => void shippedFiles().then((known) => told(listed(known, []))),
  });
}

function listed(known: readonly ModuleFile[], stored: readonly StoredModule[]): LibraryEntry[] {
  const all = [
    ...known.map((file) => ({ key: keyOf(file), file, shipped: true })),
    ...stored.flatMap((row) => {
      try {
        return [{ key: row.key, file: readModuleFile(row.text), shipped: false }];
      } catch {
        return [];
      }
    }),
  ];
  return all.sort(
    (a, b) => a.file.module.name.localeCompare(b.file.module.name) || b.file.module.version - a.file.module.version,
  );
}

/** Puts a version into the library. @returns whether it is new there. @throws Error where another is there under its number */
export async function keepModule(file: ModuleFile): Promise<boolean> {
  const key = keyOf(file);
  const hash = hashOf(file);
  const known = (await shippedFiles()).find((f) => keyOf(f) === key);
  const row: StoredModule = { key, id: file.module.id, name: file.module.name, hash, text: writeModuleFile(file) };
  return database.transaction('rw', database.modules, async () => {
    const there = known ? { hash: hashOf(known), name: known.module.name } : await database.modules.get(key);
    if (there?.hash === hash) return false;
    if (there)
      throw new Error(
        `The library has another "${there.name}" under this id and number. It stays; publish yours as a new version.`,
      );
    await database.modules.add(row);
    return true;
  });
}

const hashOf = (file: ModuleFile): string => moduleHash({ modules: [file.module, ...file.inside] }, file.module);

export const removeModule = (key: string): Promise<void> => database.modules.delete(key);

/** The newest version in the library of what a project uses, where that is newer. */
export const newerOf = (entries: readonly LibraryEntry[], module: ModuleRecord): LibraryEntry | undefined => {
  const [newest] = entries
    .filter((e) => e.file.module.id === module.id)
    .sort((a, b) => b.file.module.version - a.file.module.version);
  return newest && newest.file.module.version > module.version ? newest : undefined;
};

/** The module in a text that is one; undefined for any other text. @throws ModuleFileError with a sentence */
export const moduleInText = (text: string): ModuleFile | undefined => (isModuleText(text) ? readModuleFile(text) : undefined);
