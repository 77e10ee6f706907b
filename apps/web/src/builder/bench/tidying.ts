import type { Tidied } from '@umberfish/bench-layout';
import type { GraphRecord, Project } from '@umberfish/core';
import { wrap } from 'comlink';
import { store } from '../../state/store.ts';
import { remarked, remarkCleared } from '../../state/ui-slice.ts';
import type { Tidier } from './tidy-worker.ts';

/** After so long the page says that it works, and how to stop it. */
const SLOW_AFTER_MS = 500;

/** Lays a graph out in a worker of its own; Escape stops it. @returns undefined where it was stopped */
export async function tidyAway(
  project: Project,
  graph: GraphRecord,
  heights: ReadonlyMap<string, number>,
  only: ReadonlySet<string> | null,
): Promise<Tidied | undefined> {
  const worker = new Worker(new URL('./tidy-worker.ts', import.meta.url), { type: 'module' });
  document.body.dataset.tidying = 'true';
  let stop = () => {};
  const stopped = new Promise<undefined>((resolve) => (stop = () => resolve(undefined)));
  const onKey = (e: KeyboardEvent) => e.key === 'Escape' && stop();
  window.addEventListener('keydown', onKey);
  let told = false;
  const timer = window.setTimeout(() => {
    told = true;
    store.dispatch(remarked({ text: `Tidying ${graph.nodes.length} cards… Escape stops it.`, kind: 'done' }));
  }, SLOW_AFTER_MS);
  const broken = new Promise<never>((_, refuse) =>
    worker.addEventListener('error', () => refuse(new Error('Tidying broke off; everything stands as it stood.'))),
  );
  try {
    const found = await Promise.race([wrap<Tidier>(worker).tidy(project.modules, graph, heights, only), stopped, broken]);
    if (told && found) store.dispatch(remarkCleared());
    if (!found) store.dispatch(remarked({ text: 'Tidying was stopped; everything stands as it stood.', kind: 'done' }));
    return found;
  } catch (error) {
    store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
    return undefined;
  } finally {
    window.clearTimeout(timer);
    window.removeEventListener('keydown', onKey);
    worker.terminate();
    delete document.body.dataset.tidying;
  }
}
