import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { enableMapSet } from 'immer';
import type { NodeReport, Statistics } from '@umberfish/core';

enableMapSet();

/** What the worker told of the last evaluation: small data only, geometry never comes here. */
export interface EvaluationState {
  reports: ReadonlyMap<string, NodeReport>;
  /** By `node.port`. */
  statistics: ReadonlyMap<string, Statistics>;
  /** The newest request that was shown. */
  shown: number;
  /** Whether the picture is that of the present document and frame. */
  settled: boolean;
  /** Whether the picture is older than the document for long enough to say so. */
  slow: boolean;
  frameCostInMs: number;
  /** The worker broke or was stopped: what happened, in a sentence. */
  trouble: string | null;
  /** It was stopped because a step took long: it can be let go on. */
  tooLong: boolean;
  workers: number;
  /** Frames of the range that are kept and play at once. */
  kept: readonly number[];
  /** The whole range is being evaluated ahead. */
  keeping: boolean;
}

const initial: EvaluationState = {
  reports: new Map(),
  statistics: new Map(),
  shown: 0,
  settled: true,
  slow: false,
  frameCostInMs: 0,
  trouble: null,
  tooLong: false,
  workers: 0,
  kept: [],
  keeping: false,
};

/** Keeps old objects where the new ones say the same, so that only cards with news render. */
function keepEqual<T>(old: ReadonlyMap<string, T>, next: ReadonlyMap<string, T>): ReadonlyMap<string, T> {
  const out = new Map<string, T>();
  let changed = old.size !== next.size;
  for (const [key, value] of next) {
    const before = old.get(key);
    const equal = before !== undefined && JSON.stringify(before) === JSON.stringify(value);
    out.set(key, equal ? before : value);
    if (!equal) changed = true;
  }
  return changed ? out : old;
}

interface Shown {
  request: number;
  reports: ReadonlyMap<string, NodeReport>;
  statistics: ReadonlyMap<string, Statistics>;
  frameCostInMs: number;
}

const slice = createSlice({
  name: 'evaluation',
  initialState: initial,
  reducers: {
    evaluationReset: (state) => ({ ...initial, workers: state.workers }),
    unsettled: (state) => (state.settled ? { ...state, settled: false } : state),
    settled: (state) => ({ ...state, settled: true, slow: false }),
    pictureShown: (state, { payload }: PayloadAction<Shown>) => ({
      ...state,
      reports: keepEqual(state.reports, payload.reports),
      statistics: keepEqual(state.statistics, payload.statistics),
      shown: payload.request,
      frameCostInMs: payload.frameCostInMs,
      slow: false,
      trouble: null,
      tooLong: false,
    }),
    grewSlow: (state) => ({ ...state, slow: true }),
    troubled: {
      prepare: (trouble: string | null, tooLong = false) => ({ payload: { trouble, tooLong } }),
      reducer: (state, { payload }: PayloadAction<{ trouble: string | null; tooLong: boolean }>) => ({
        ...state,
        ...payload,
        slow: false,
        settled: true,
      }),
    },
    keptFound: (state, { payload }: PayloadAction<readonly number[]>) => ({ ...state, kept: payload }),
    keeping: (state, { payload }: PayloadAction<boolean>) => ({ ...state, keeping: payload }),
    /** A worker begins with nothing kept. */
    workerStarted: (state) => ({ ...state, workers: state.workers + 1, kept: [] }),
  },
});

export const { evaluationReset, unsettled, settled, pictureShown, grewSlow, troubled, workerStarted, keptFound, keeping } =
  slice.actions;
export const evaluationReducer = slice.reducer;
