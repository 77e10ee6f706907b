import { addGraph, duplicateGraph, emptyGraph, listedGraphs, removeGraph, rootGraph } from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import type { PageCommand } from '../page-command.ts';

/** Shows a graph on the bench; null where there is none. */
export const openGraph = (id: string | null): void =>
  void store.dispatch(uiSet({ graph: id, nodes: [], port: null, element: null }));

export function newGraph(): void {
  const project = selectProject(store.getState());
  if (!project) return;
  const made = emptyGraph(`Graph ${project.graphs.length + 1}`);
  applyEdit('Add graph', addGraph(made));
  openGraph(made.id);
}

/** Makes a graph again, and says what was left out of it. */
export function copyGraph(id: string): void {
  const project = selectProject(store.getState());
  const made = project && duplicateGraph(catalogue(), project, id);
  if (!made) return;
  applyEdit('Duplicate graph', () => made.project);
  openGraph(made.graph);
  const name = made.project.graphs.find((g) => g.id === made.graph)?.name ?? '';
  const skipped = made.skipped.length > 0 ? ` Skipped in it, so that nothing is made twice: ${made.skipped.join(', ')}.` : '';
  store.dispatch(remarked({ text: `"${name}" is here.${skipped}`, kind: 'done' }));
}

export function dropGraph(id: string): void {
  const state = store.getState();
  const graphs = selectProject(state)?.graphs ?? [];
  const isOpen = rootOf(state.ui.graph) === id;
  const at = graphs.findIndex((g) => g.id === id);
  applyEdit('Remove graph', removeGraph(id));
  if (isOpen) openGraph((graphs[at + 1] ?? graphs[at - 1])?.id ?? null);
}

/** The graph that one looks at, or is inside of. */
function rootOf(graph: string | null): string | undefined {
  const project = selectProject(store.getState());
  return project && graph !== null ? rootGraph(project, graph)?.id : undefined;
}

/** The graph before or after in the order of the list; round at its ends. */
function step(by: number): void {
  const { project } = store.getState().project;
  const all = listedGraphs(project?.graphs ?? []).flatMap((f) => f.graphs);
  const at = all.findIndex((g) => g.id === rootOf(store.getState().ui.graph));
  const next = all.at((at + by + all.length) % Math.max(1, all.length));
  if (next) openGraph(next.id);
}

export const GRAPH_COMMANDS = {
  next: { label: 'Next graph', keys: 'Page Down', run: () => step(1) },
  previous: { label: 'Previous graph', keys: 'Page Up', run: () => step(-1) },
  add: { label: 'New graph', run: newGraph },
} as const satisfies Record<string, PageCommand>;
