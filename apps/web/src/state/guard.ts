import { isAnyOf, type Middleware } from '@reduxjs/toolkit';
import { CATALOGUE, catalogueOf, refusedChange, type Project } from '@umberfish/core';
import { edited, redone, undone, type ProjectState } from './project-slice.ts';
import { remarked, type UiState } from './ui-slice.ts';

const changesDocument = isAnyOf(edited, undone, redone);

/**
 * Refuses what would change the rig where it stays as it is: on Animate, and everywhere in a project that was handed out to
 * be animated. Edits, undo and redo all come through here; nothing but a remark is left of what is refused.
 */
export const guard: Middleware = (api) => (next) => (action) => {
  if (!changesDocument(action)) return next(action);
  const { project, ui } = api.getState() as { project: ProjectState; ui: UiState };
  const before = project.project;
  if (!before || !(ui.animating || before.forAnimation)) return next(action);
  const { after, switched } = changeBy(action, project);
  const why = after && refusedChange(catalogueOf(CATALOGUE, before), before, after, switched);
  if (why === undefined) return next(action);
  return api.dispatch(remarked({ text: why, kind: 'wrong' }));
};

/** The document that an action would leave, and whom it hands over. */
function changeBy(action: { type: string }, { past, future }: ProjectState): { after?: Project; switched?: string } {
  if (edited.match(action)) return { after: action.payload.project, switched: action.payload.switched };
  const step = undone.match(action) ? past[past.length - 1] : future[0];
  return { after: step?.project, switched: step?.switched };
}
