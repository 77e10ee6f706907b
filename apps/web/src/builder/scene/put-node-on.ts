import { constraintOf, CONSTRAINT_RULES, putNodeOn, throughPorts, type NodeDefinition } from '@umberfish/core';
import { placedMesh } from '../../engine/placed-mesh.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import { constrain } from './constrain.ts';

/**
 * What choosing a type of node does with the objects that are picked: a constraint is made for them, a deformer is put on each
 * mesh. Undefined where it is a card like any.
 */
export function actOnPicked(definition: NodeDefinition): (() => void) | undefined {
  const { objects } = store.getState().ui;
  const kind = constraintOf(definition.id);
  if (kind) {
    const drivers = objects.length - 1;
    const { least, most } = CONSTRAINT_RULES[kind];
    return drivers >= least && drivers <= most ? () => void constrain(kind) : undefined;
  }
  const isMesh = (id: string) => selectProject(store.getState())?.objects.find((o) => o.id === id)?.type === 'mesh';
  return objects.some(isMesh) && throughPorts(definition) ? () => putOnMeshes(definition) : undefined;
}

function putOnMeshes(definition: NodeDefinition): void {
  const { project: start } = store.getState().project;
  if (!start) return;
  const { objects } = store.getState().ui;
  const bodies = start.objects.filter((o) => o.type === 'mesh' && objects.includes(o.id));
  let now = start;
  let last: { graph: string; node: string } | undefined;
  for (const body of bodies) {
    const put = putNodeOn(catalogue(), now, definition, body, placedMesh(body.id));
    if (!put) return;
    now = put.project;
    last = put;
  }
  if (!last) return;
  applyEdit(`${definition.title} on ${bodies.map((b) => b.name).join(', ')}`, () => now);
  store.dispatch(uiSet({ graph: last.graph, nodes: [last.node], objects: [], port: null, element: null }));
  const text = `${definition.title} is on ${bodies.map((b) => b.name).join(', ')}; its settings are on the left.`;
  store.dispatch(remarked({ text, kind: 'done' }));
}
