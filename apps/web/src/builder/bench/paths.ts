import { graphAt, graphWithNode, nodeTitle, resolveGraph, type Project, type ResolvedNode } from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { store } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';

/** The titles of the uses that a node is in, from the outside in, and its own. */
export function titlesOfPath(project: Project, path: string): string[] {
  const parts = path.split('/');
  return parts.flatMap((_, i) => {
    const id = parts.slice(0, i + 1).join('/');
    const where = graphWithNode(project, id);
    const graph = where === undefined ? undefined : graphAt(project, where);
    const node = graph && resolveGraph(catalogue(), graph).get(id);
    return node ? [nodeTitle(node)] : [];
  });
}

/** What a person calls a node, with the uses that it is in. */
export const titleOfPath = (project: Project, node: Pick<ResolvedNode, 'record' | 'definition'>): string =>
  node.record.id.includes('/') ? titlesOfPath(project, node.record.id).join(' › ') : nodeTitle(node);

/** Goes to a node, wherever it stands. */
export function goToNode(node: string): void {
  const { project } = store.getState().project;
  const graph = project && graphWithNode(project, node);
  if (graph) store.dispatch(uiSet({ graph, nodes: [node], objects: [], port: null }));
}
