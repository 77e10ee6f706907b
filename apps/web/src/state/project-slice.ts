import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Project } from '@umberfish/core';

interface Step {
  project: Project;
  label: string;
  /** The object that was handed over to another driver by it. */
  switched?: string;
}

/** The open document with its history. Documents share what is the same, so a step costs what it changed. */
export interface ProjectState {
  project: Project | null;
  past: Step[];
  future: Step[];
  /** The gesture the last step belongs to; steps of one gesture are one step. */
  gesture: string | null;
  /** What was put right when it was opened. */
  repairs: readonly string[];
}

const MOST_STEPS = 500;

const initial: ProjectState = { project: null, past: [], future: [], gesture: null, repairs: [] };

const slice = createSlice({
  name: 'project',
  initialState: initial as ProjectState,
  reducers: {
    opened: (_state, { payload }: PayloadAction<{ project: Project; repairs: readonly string[] }>) => ({
      ...initial,
      ...payload,
    }),
    closed: () => initial,
    edited(state, { payload }: PayloadAction<{ project: Project; label: string; gesture: string | null; switched?: string }>) {
      const { project, label, gesture, switched } = payload;
      if (!state.project || project === state.project) return state;
      if (gesture !== null && gesture === state.gesture) return { ...state, project };
      const past = [...state.past, { project: state.project, label, switched }].slice(-MOST_STEPS);
      return { ...state, project, past, future: [], gesture };
    },
    gestureEnded: (state) => (state.gesture === null ? state : { ...state, gesture: null }),
    undone(state) {
      const step = state.past[state.past.length - 1];
      if (!step || !state.project) return state;
      return {
        ...state,
        project: step.project,
        past: state.past.slice(0, -1),
        future: [{ ...step, project: state.project }, ...state.future],
        gesture: null,
      };
    },
    redone(state) {
      const [step, ...future] = state.future;
      if (!step || !state.project) return state;
      return {
        ...state,
        project: step.project,
        past: [...state.past, { ...step, project: state.project }],
        future,
        gesture: null,
      };
    },
  },
});

export const { opened, closed, edited, gestureEnded, undone, redone } = slice.actions;
export const projectReducer = slice.reducer;
