import { handedRows, largest, smallest, trackRows, type Project, type TrackRow } from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { store } from '../../state/store.ts';

/** What is picked, and whether it is an animator who picked it. */
export interface WhoseKeys {
  readonly animating: boolean;
  readonly objects: readonly string[];
  readonly nodes: readonly string[];
}

/** The keys of what is picked, of everything where nothing is; animators see those of what they are given. */
export const rowsOf = (project: Project, { animating, objects, nodes }: WhoseKeys): TrackRow[] =>
  animating ? handedRows(catalogue(), project, objects) : trackRows(catalogue(), project, objects, nodes);

/** Frames at which what is picked has keys; where that has none, at which anything has. */
export function keyFrames(project: Project, whose: WhoseKeys): number[] {
  let rows = rowsOf(project, whose);
  if (rows.length === 0) rows = rowsOf(project, { ...whose, objects: [], nodes: [] });
  return [...new Set(rows.flatMap((r) => r.track.keys.map((k) => k.frame)))];
}

/** The nearest key before or after a frame, of what is picked or of everything. */
export function keyBeside(direction: 1 | -1): number | undefined {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  if (!project) return undefined;
  const frames = keyFrames(project, ui).filter((f) => (f - ui.frame) * direction > 0);
  return frames.length === 0 ? undefined : direction > 0 ? smallest(frames) : largest(frames);
}
