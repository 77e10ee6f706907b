import { useEffect, useSyncExternalStore } from 'react';
import { listModules, type LibraryEntry } from '../storage/library.ts';

let known: readonly LibraryEntry[] | undefined;
let looking: Promise<void> | undefined;
const watchers = new Set<() => void>();

/** Looks what the library holds, once for all who ask. */
function look(): Promise<void> {
  return (looking ??= listModules()
    .catch(() => [])
    .then((all) => {
      known = all;
      for (const w of watchers) w();
    }));
}

/** Told after something was put into the library, or taken out. */
export function libraryChanged(): void {
  looking = undefined;
  void look();
}

/** What the library held when it was looked at last. */
export const knownLibrary = (): readonly LibraryEntry[] => known ?? [];

function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** The modules of the library; undefined until they are there. */
export function useLibrary(): readonly LibraryEntry[] | undefined {
  const entries = useSyncExternalStore(watch, () => known);
  useEffect(() => void look(), []);
  return entries;
}
