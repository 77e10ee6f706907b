import {
  circleThrough,
  counted,
  withoutUnusedModules,
  graphAt,
  graphWithNode,
  insideOf,
  moduleAt,
  moduleKey,
  ownCopy,
  pathOfInside,
  unpackUse,
  usedKey,
  type ModuleRecord,
  type NodeRecord,
} from '@umberfish/core';
import { CATALOGUE } from '@umberfish/core';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { nodesPicked, remarked, uiSet } from '../../state/ui-slice.ts';
import type { PageCommand } from '../page-command.ts';

const say = (text: string, kind: 'done' | 'wrong' = 'wrong') => store.dispatch(remarked({ text, kind }));

/** Told to the page, which has the sheet. */
export const MAKE_EVENT = 'make-module';

/** The picked card where it is a use of a module that is there. */
export function pickedUse(): { node: NodeRecord; module: ModuleRecord } | undefined {
  const state = store.getState();
  const node = selectGraph(state)?.nodes.find((n) => n.id === state.ui.nodes[0]);
  const { project } = state.project;
  const module = project?.modules.find((m) => node && moduleKey(m) === usedKey(node));
  return node && module && { node, module };
}

/** Why a module cannot be used in a graph, in a sentence: it would contain itself. */
export function circleOf(graph: string, type: string): string | undefined {
  const { project } = store.getState().project;
  const used = usedKey({ type });
  const path = pathOfInside(graph);
  const around = project && path !== undefined ? moduleAt(project, path) : undefined;
  const circle = project && around && used !== undefined ? circleThrough(project, moduleKey(around), used) : undefined;
  return circle && `A module cannot contain itself: ${circle.join(' in ')}. Use another, or an own copy of it.`;
}

/** Opens the sheet that makes a module of the picked cards. */
export function makeModule(): void {
  const { ui } = store.getState();
  if (ui.nodes.length === 0) return void say('Pick the cards that shall become a module first.');
  const graph = selectGraph(store.getState());
  const types = graph?.nodes.filter((n) => ui.nodes.includes(n.id)).map((n) => CATALOGUE.get(n.type)) ?? [];
  if (types.some((t) => t?.way)) return void say('The walls of a module stay in it. Pick cards other than Way In and Way Out.');
  if (types.some((t) => t?.shows))
    return void say('Show Mesh stays outside, so that a module can be put on any object. Pick the cards before it.');
  window.dispatchEvent(new CustomEvent(MAKE_EVENT));
}

/** Goes inside of a use. */
export function lookInside(path: string): void {
  const { project } = store.getState().project;
  if (!project || !moduleAt(project, path))
    return void say('Its module is not in this project. Drop its file anywhere to bring it in.');
  store.dispatch(uiSet({ graph: insideOf(path), nodes: [], objects: [], port: null, element: null }));
}

/** Goes out of the use that one is inside of; it stays picked. */
export function goOut(): void {
  const { project } = store.getState().project;
  const { ui } = store.getState();
  const path = ui.graph === null ? undefined : pathOfInside(ui.graph);
  const graph = project && path !== undefined ? graphWithNode(project, path) : undefined;
  if (path === undefined || graph === undefined) return;
  store.dispatch(uiSet({ graph, nodes: [path], objects: [], port: null, element: null }));
}

/** Parts the picked use from the others of its module. */
export function partUse(): void {
  const picked = pickedUse();
  const graph = selectGraph(store.getState());
  const { project } = store.getState().project;
  if (!picked || !graph || !project) return void say('Pick the card of a module first.');
  const taken = new Set(project.modules.map((m) => m.name));
  let name = `${picked.module.name}, own`;
  for (let n = 2; taken.has(name); n++) name = `${picked.module.name}, own ${n}`;
  applyEdit('Own copy', ownCopy(graph.id, picked.node.id, name));
  say(`It is now "${name}", which nothing else uses. Changes inside stay with it.`, 'done');
}

/** Turns the picked use back into cards. */
export function unpackPicked(): void {
  const picked = pickedUse();
  const graph = selectGraph(store.getState());
  if (!picked || !graph) return void say('Pick the card of a module first.');
  const before = new Set(graph.nodes.map((n) => n.id));
  applyEdit('Unpack', unpackUse(CATALOGUE, graph.id, picked.node.id));
  const { project } = store.getState().project;
  const now = project ? graphAt(project, graph.id) : undefined;
  store.dispatch(nodesPicked(now?.nodes.filter((n) => !before.has(n.id)).map((n) => n.id) ?? []));
}

/** Leaves out the modules of the project that nothing uses; the library keeps what was published. */
export function leaveOutUnused(): void {
  const { project } = store.getState().project;
  if (!project) return;
  const left = project.modules.length - withoutUnusedModules(project).modules.length;
  if (left === 0) return void say('Every module of this project is used.', 'done');
  applyEdit('Leave out unused modules', withoutUnusedModules);
  say(`${counted(left, 'module')} left out. Undo brings ${left === 1 ? 'it' : 'them'} back.`, 'done');
}

/** What the palette offers about modules beside what is done with cards. */
export const moduleCommands = (): PageCommand[] => [{ label: 'Leave out modules that nothing uses', run: leaveOutUnused }];
