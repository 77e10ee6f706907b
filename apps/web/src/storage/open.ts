import { makeProject, SHOWN_PORT, shownResults, type OpenedProject, type Project } from '@umberfish/core';
import { engine } from '../engine/index.ts';
import { emptyGraph, newId } from '../state/edits.ts';
import { closed, opened } from '../state/project-slice.ts';
import { store } from '../state/store.ts';
import { remarked, uiReset } from '../state/ui-slice.ts';
import { autosave } from './index.ts';
import { loadProject, saveDocument, saveMeshes } from './database.ts';
import { saveChanged } from '../state/save-slice.ts';

/** Puts a project into the store under its id, and gives the id to open; storing may fail, and is then told. */
export async function keepProject(found: OpenedProject): Promise<string> {
  await saveMeshes(found.assets);
  await saveDocument(found.project, null, null);
  return found.project.id;
}

/** A new project with an empty graph. */
export async function keepNewProject(name: string): Promise<string> {
  const project: Project = { ...makeProject(newId('project'), name), graphs: [emptyGraph('Graph 1')] };
  return keepProject({ project, assets: new Map(), repairs: [] });
}

/** The project that could not be stored (no room, private window) but can be worked on all the same. */
let unstored: OpenedProject | null = null;
export function holdUnstored(found: OpenedProject): string {
  unstored = found;
  return found.project.id;
}

/** Opens a project on the page. @returns false when there is none of that id. @throws Error with a sentence */
export async function openOnPage(id: string): Promise<boolean> {
  if (store.getState().project.project?.id === id) return true;
  let found: (OpenedProject & { revision: number }) | undefined;
  try {
    found = await loadProject(id);
  } catch (error) {
    if (unstored?.project.id !== id) throw error;
  }
  const storedNot = !found && unstored?.project.id === id;
  const open = found ?? (storedNot ? { ...(unstored as OpenedProject), revision: 0 } : undefined);
  if (!open) return false;
  engine.open(open.assets);
  const graph = open.project.graphs[0]?.id ?? null;
  const shown = shownResults(open.project).find((r) => r.graph === graph);
  store.dispatch(
    uiReset({
      graph,
      frame: open.project.range.first,
      port: shown ? { node: shown.node, port: SHOWN_PORT } : null,
    }),
  );
  store.dispatch(opened({ project: open.project, repairs: open.repairs }));
  autosave.begin(open.project, open.revision);
  if (storedNot)
    store.dispatch(
      saveChanged({ status: 'failed', reason: 'the browser does not let this page store data' }),
    );
  if (open.repairs.length > 0) store.dispatch(remarked({ text: open.repairs.join(' '), kind: 'wrong' }));
  return true;
}

export function closeOnPage(): void {
  autosave.end();
  store.dispatch(closed());
}
