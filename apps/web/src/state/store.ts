import { graphAt, type GraphRecord, type Project, type Edit } from '@umberfish/core';
import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { evaluationReducer } from './evaluation-slice.ts';
import { guard } from './guard.ts';
import { edited, projectReducer } from './project-slice.ts';
import { saveReducer } from './save-slice.ts';
import { uiReducer } from './ui-slice.ts';

export const store = configureStore({
  reducer: { project: projectReducer, ui: uiReducer, evaluation: evaluationReducer, save: saveReducer },
  // Documents are checked by their schema; walking them on every drag would cost more than evaluating them.
  middleware: (defaults) => defaults({ immutableCheck: false, serializableCheck: false }).concat(guard),
});

export type Store = typeof store;
export type State = ReturnType<Store['getState']>;
export const useStore = useSelector.withTypes<State>();
export const useSend = useDispatch.withTypes<Store['dispatch']>();

/**
 * Applies an edit to the open project. Edits with the same `gesture` are undone as one.
 * @param switched the object that it hands over to another driver, if it does
 */
export function applyEdit(label: string, edit: Edit, gesture: string | null = null, switched?: string): void {
  const { project } = store.getState().project;
  if (project) store.dispatch(edited({ project: edit(project), label, gesture, ...(switched !== undefined && { switched }) }));
}

export const selectProject = (s: State): Project | null => s.project.project;
export const selectGraph = (s: State): GraphRecord | undefined =>
  s.project.project && s.ui.graph !== null ? graphAt(s.project.project, s.ui.graph) : undefined;
