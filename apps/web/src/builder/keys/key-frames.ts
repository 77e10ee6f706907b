import { largest, smallest, trackRows, type Project } from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { store } from '../../state/store.ts';

/** Frames at which what is picked has keys; where that has none, at which anything has. */
export function keyFrames(project: Project, objects: readonly string[], nodes: readonly string[]): number[] {
  let rows = trackRows(catalogue(), project, objects, nodes);
  if (rows.length === 0) rows = trackRows(catalogue(), project, [], []);
  return [...new Set(rows.flatMap((r) => r.track.keys.map((k) => k.frame)))];
}

/** The nearest key before or after a frame, of what is picked or of everything. */
export function keyBeside(direction: 1 | -1): number | undefined {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  if (!project) return undefined;
  const frames = keyFrames(project, ui.objects, ui.nodes).filter((f) => (f - ui.frame) * direction > 0);
  return frames.length === 0 ? undefined : direction > 0 ? smallest(frames) : largest(frames);
}
