import { makeProject, SHOWN_PORT, shownResults, type OpenedProject, type Project, emptyGraph, newId } from '@umberfish/core';
import { engine } from '../engine/index.ts';
import { closed, opened } from '../state/project-slice.ts';
import { store } from '../state/store.ts';
import { recallLeftOff, writeLeftOff } from '../state/left-off.ts';
import { remarked, uiReset, type UiState } from '../state/ui-slice.ts';
import { autosave } from './index.ts';
import { ChangedElsewhere, loadProject, saveProject, storageReason } from './database.ts';
import { catalogue } from '../state/catalogue.ts';

/**
 * The project that was put into the store last, with what was put right in it; and why it could not be stored (no
 * room, private window), in which case it can be worked on all the same.
 */
let brought: { readonly found: OpenedProject; readonly reason: string | null } | null = null;

/** Whether an id can stand in an address as it is. */
const isPlain = (id: string) => /^[\w-]{1,80}$/.test(id);

/**
 * Puts a project into the store and gives the id to open. It never takes the place of one that is there: it then gets
 * an id of its own. One that cannot be stored is held for this page.
 */
export async function keepProject(found: OpenedProject): Promise<string> {
  const named = (id: string): OpenedProject => ({ ...found, project: { ...found.project, id } });
  let kept = isPlain(found.project.id) ? found : named(newId('project'));
  let reason: string | null = null;
  try {
    try {
      await saveProject(kept.project, kept.assets, 'nothing');
    } catch (error) {
      if (!(error instanceof ChangedElsewhere)) throw error;
      kept = named(newId('project'));
      await saveProject(kept.project, kept.assets, 'nothing');
    }
  } catch (error) {
    reason = storageReason(error);
  }
  brought = { found: kept, reason };
  return kept.project.id;
}

/** A new project with an empty graph. */
export function keepNewProject(name: string): Promise<string> {
  const project = { ...makeProject(newId('project'), name), graphs: [emptyGraph('Graph 1')] };
  return keepProject({ project, assets: new Map(), repairs: [] });
}

/** What one sees of a project that was never looked at in this browser: its first graph with something in it. */
function firstLook(project: Project): Partial<UiState> {
  const graph = (project.graphs.find((g) => g.nodes.length > 0) ?? project.graphs[0])?.id ?? null;
  const shown = shownResults(catalogue(), project).find((r) => r.graph === graph);
  return { graph, frame: project.range.first, port: shown ? { node: shown.node, port: SHOWN_PORT } : null };
}

/** Opens a project on the page. @returns false when there is none of that id. @throws Error with a sentence */
export async function openOnPage(id: string): Promise<boolean> {
  if (store.getState().project.project?.id === id) return true;
  const mine = brought?.found.project.id === id ? brought : null;
  const held = mine?.reason ? mine.found : null;
  let found: (OpenedProject & { revision: number }) | undefined;
  try {
    found = await loadProject(id);
  } catch (error) {
    if (!held) throw new Error(`It cannot be read: ${storageReason(error)}.`, { cause: error });
  }
  const open = found ?? held;
  if (!open) return false;
  engine.open(open.assets);
  store.dispatch(uiReset(recallLeftOff(open.project) ?? firstLook(open.project)));
  store.dispatch(opened({ project: open.project, repairs: open.repairs }));
  if (found) autosave.begin(found.project, found.revision);
  else if (mine?.reason) autosave.beginUnstored(mine.reason);
  // What was put right in a file is told once; the store has it as it was put right.
  const repairs = [...new Set([...(mine?.found.repairs ?? []), ...open.repairs])];
  if (!held) brought = null;
  if (repairs.length > 0) store.dispatch(remarked({ text: repairs.join(' '), kind: 'wrong' }));
  return true;
}

/** Puts the project away; what is not saved was asked about before. */
export function closeOnPage(): void {
  const { project, ui } = store.getState();
  if (project.project) writeLeftOff(project.project, ui);
  autosave.end();
  brought = null;
  store.dispatch(closed());
}
