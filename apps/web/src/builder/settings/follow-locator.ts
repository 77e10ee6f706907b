import {
  feedByLocator,
  objectAbout,
  pathOfInside,
  takesPlace,
  type GraphRecord,
  type InputPort,
  type PortRef,
} from '@umberfish/core';
import { placedMeshIn } from '../../engine/placed-mesh.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';

/** Lets an input follow a new locator; undefined where it takes no place, or where nothing can point at the scene. */
export function followLocator(graph: GraphRecord, port: InputPort, ref: PortRef): (() => void) | undefined {
  if (!takesPlace(port) || pathOfInside(graph.id) !== undefined) return undefined;
  return () => {
    const project = selectProject(store.getState());
    const about = objectAbout(catalogue(), graph, ref.node);
    const body = about === undefined ? undefined : placedMeshIn(graph, about);
    const fed = project && feedByLocator(catalogue(), project, graph, ref, body);
    if (!fed) return;
    applyEdit(`${port.label} follows a locator`, () => fed.project);
    store.dispatch(remarked({ text: `"${port.label}" follows "${fed.locator.name}" now. Drag it in the stage.`, kind: 'done' }));
  };
}
