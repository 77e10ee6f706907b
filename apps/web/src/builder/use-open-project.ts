import { useEffect, useState } from 'react';
import { selectProject, useStore } from '../state/store.ts';
import { openOnPage } from '../storage/open.ts';

/** Opens the project of an address; tells whether it is open, and why it cannot be. */
export function useOpenProject(id: string): { readonly open: boolean; readonly missing: string | null } {
  const project = useStore(selectProject);
  const [missing, setMissing] = useState<string | null>(null);
  useEffect(() => {
    openOnPage(id)
      .then((found) =>
        setMissing(
          found ? null : 'There is no such project in this browser. It may have been removed, or stored in another browser.',
        ),
      )
      .catch((e: unknown) => setMissing((e as Error).message));
  }, [id]);
  return { open: project?.id === id, missing };
}
