import {
  addMeshObjects,
  addObject,
  freeName,
  makeObject,
  newChain,
  newCurve,
  newId,
  newLocator,
  primitiveObject,
  PRIMITIVES,
  type ObjectRecord,
  type Primitive,
  type Project,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import type { PageCommand } from '../page-command.ts';

/** Adds an object that is made of the project as it is, and picks it. */
function add(label: string, make: (project: Project) => ObjectRecord): void {
  const project = selectProject(store.getState());
  if (!project) return;
  const made = make(project);
  applyEdit(label, addObject(made));
  store.dispatch(objectsPicked([made.id]));
}

export const addLocator = (): void => add('Add locator', newLocator);

export function addCurve(): void {
  add('Add curve', newCurve);
  store.dispatch(uiSet({ drawing: true }));
}

/** A chain without joints, which are then drawn in the stage. */
export function addChain(): void {
  add('Add chain', newChain);
  store.dispatch(uiSet({ drawing: true }));
}

export const addGroup = (): void => add('Add group', (p) => makeObject(newId('group'), freeName(p, 'Group'), 'group'));

export function addPrimitive(shape: Primitive): void {
  const project = selectProject(store.getState());
  if (!project) return;
  const { mesh, asset, object } = primitiveObject(project, shape);
  engine.addAsset(asset.id, mesh);
  applyEdit(`Add ${PRIMITIVES[shape].name.toLowerCase()}`, addMeshObjects([asset], [object]));
  store.dispatch(objectsPicked([object.id]));
}

/** Everything that is added to a scene but for what comes from files: the palette and the menu say and do the same. */
export const ADDITIONS: readonly PageCommand[] = [
  { label: 'Add a locator', run: addLocator },
  { label: 'Add a curve, drawn in the stage', run: addCurve },
  { label: 'Add a group', run: addGroup },
  { label: 'Add a chain of joints, drawn in the stage', run: addChain },
  ...(Object.keys(PRIMITIVES) as Primitive[]).map((shape) => ({
    label: `Add a ${PRIMITIVES[shape].name.toLowerCase()} to the scene`,
    run: () => addPrimitive(shape),
  })),
];
