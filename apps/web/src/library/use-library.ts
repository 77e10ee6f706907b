import { useEffect, useState } from 'react';
import { listModules, type LibraryEntry } from '../storage/library.ts';

const CHANGED = 'library-changed';

/** Told after something was put into the library, or taken out. */
export const libraryChanged = (): void => void window.dispatchEvent(new Event(CHANGED));

let known: readonly LibraryEntry[] = [];

/** What the library held when it was looked at last. */
export const knownLibrary = (): readonly LibraryEntry[] => known;

/** The modules of the library; undefined until they are there. */
export function useLibrary(): readonly LibraryEntry[] | undefined {
  const [entries, setEntries] = useState<readonly LibraryEntry[]>();
  useEffect(() => {
    const look = () =>
      void listModules()
        .then((all) => {
          known = all;
          setEntries(all);
        })
        .catch(() => setEntries([]));
    look();
    window.addEventListener(CHANGED, look);
    return () => window.removeEventListener(CHANGED, look);
  }, []);
  return entries;
}
