import type { Finding, Project } from '@umberfish/core';
import { useEffect, useState } from 'react';
import { engine } from '../../engine/index.ts';
import { checkHandOutAway } from '../../library/proving.ts';
import { store } from '../../state/store.ts';

/** So long after the last change it is looked again (ms). */
const WAIT_IN_MS = 400;

/** What animators would stumble over in a project; null while that is looked for. */
export function useHandOutCheck(project: Project | null): readonly Finding[] | null {
  const [found, setFound] = useState<readonly Finding[] | null>(null);
  useEffect(() => {
    if (!project) return;
    let isCurrent = true;
    setFound(null);
    const timer = window.setTimeout(() => {
      checkHandOutAway(project, engine.getAssets(), store.getState().ui.frame)
        .catch((error: unknown): Finding[] => [
          { where: 'Hand out', severity: 'warning', message: `It could not be tried. ${(error as Error).message}` },
        ])
        .then((all) => isCurrent && setFound(all));
    }, WAIT_IN_MS);
    return () => {
      isCurrent = false;
      window.clearTimeout(timer);
    };
  }, [project]);
  return found;
}
