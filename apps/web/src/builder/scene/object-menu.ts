import { changeObject, CONSTRAINT_RULES, objectsById, type ConstraintKind } from '@umberfish/core';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import type { MenuItems } from '../../ui/context-menu.tsx';
import { openPalette } from '../bench/palette.ts';
import { keyPicked, toggleTrails } from './commands.ts';
import { constrain } from './constrain.ts';
import { hangUnder, removeFrozen, zeroPicked } from './pose-commands.ts';

/** Told to the page, which has the sheet for names. */
export const RENAME_EVENT = 'rename-picked';

/** What is offered on an object, in the scene and on the stage; it is picked first where it was not. */
export function objectMenu(id: string, onFrame?: () => void): MenuItems {
  const project = selectProject(store.getState());
  if (!project) return [];
  if (!store.getState().ui.objects.includes(id)) store.dispatch(objectsPicked([id]));
  const picked = store.getState().ui.objects;
  const objects = objectsById(project.objects);
  const isVisible = objects.get(id)?.visible ?? true;
  const others = picked.length - 1;
  const constraints = (Object.keys(CONSTRAINT_RULES) as ConstraintKind[]).filter(
    (k) => others >= CONSTRAINT_RULES[k].least && others <= CONSTRAINT_RULES[k].most,
  );
  const isPickable = objects.get(id)?.pickable ?? true;
  const all = (change: Parameters<typeof changeObject>[1]) => (p: typeof project) =>
    picked.reduce((now, o) => changeObject(o, change)(now), p);
  return [
    { label: 'Put a module on it…', keys: 'Ctrl K', onSelect: () => openPalette({ end: null, at: null }) },
    ...constraints.map((k) => ({
      label: `${CONSTRAINT_RULES[k].title}: constrain by the others`,
      onSelect: () => void constrain(k),
    })),
    null,
    ...(onFrame ? [{ label: 'Frame on the stage', keys: 'F', onSelect: onFrame }] : []),
    { label: 'Rename…', keys: 'F2', onSelect: () => window.dispatchEvent(new CustomEvent(RENAME_EVENT)) },
    {
      label: isVisible ? 'Hide' : 'Show',
      onSelect: () => applyEdit(isVisible ? 'Hide' : 'Show', all({ visible: !isVisible })),
    },
    {
      label: isPickable ? 'Lock: not picked or dragged on the stage' : 'Unlock',
      onSelect: () => applyEdit(isPickable ? 'Lock' : 'Unlock', all({ pickable: !isPickable })),
    },
    {
      label: 'Show only what is picked, or everything',
      keys: 'I',
      onSelect: () => store.dispatch(uiSet({ isolate: !store.getState().ui.isolate })),
    },
    null,
    { label: 'Set keys on all its channels', keys: 'K', onSelect: keyPicked },
    { label: 'Motion trail, on or off', onSelect: toggleTrails },
    { label: 'Zero the channels', onSelect: zeroPicked },
    { label: 'Hang under the world', disabled: objects.get(id)?.parent === null, onSelect: () => void hangUnder(picked, null) },
    null,
    {
      label: picked.length > 1 ? `Remove ${picked.length} objects` : 'Remove',
      keys: 'Del',
      onSelect: () => void removeFrozen(picked),
    },
  ];
}
