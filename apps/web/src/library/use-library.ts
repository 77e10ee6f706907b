import { useSyncExternalStore } from 'react';
import { watchModules, type LibraryEntry } from '../storage/library.ts';

let known: readonly LibraryEntry[] | undefined;
let isWatching = false;
const watchers = new Set<() => void>();

function take(all: readonly LibraryEntry[]): void {
  known = all;
  for (const w of watchers) w();
}

/** What the library holds as far as is known now. */
export const knownLibrary = (): readonly LibraryEntry[] => known ?? [];

function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  // From when somebody asks first, for as long as the page is open: it costs nothing until the library changes.
  if (!isWatching) watchModules(take);
  isWatching = true;
  return () => watchers.delete(watcher);
}

/** The modules of the library, also when another tab changes it; undefined until they are there. */
export const useLibrary = (): readonly LibraryEntry[] | undefined => useSyncExternalStore(watch, () => known);
