import { useMemo, useSyncExternalStore } from 'react';
import { type Pose, drivenIn, objectsAt, worldLookup, type DrivenBy, type Project } from '@umberfish/core';
import { selectProject, store, useStore } from '../state/store.ts';
import { engine } from './index.ts';

function poseOf(project: Project, frame: number, driven: DrivenBy): Pose {
  const objects = objectsAt(project, frame);
  return { project, frame, objects, driven, world: worldLookup(objects, 'channels', driven) };
}

/** The pose of the last picture, for things done once. */
export function poseNow(): Pose | null {
  const { project, ui } = store.getState();
  return project.project && poseOf(project.project, ui.frame, drivenIn(engine.geometry.get().driven));
}

/** The pose, followed. */
export function usePose(): Pose | null {
  const project = useStore(selectProject);
  const frame = useStore((s) => s.ui.frame);
  const { driven } = useSyncExternalStore(engine.geometry.subscribe, engine.geometry.get);
  return useMemo(() => project && poseOf(project, frame, drivenIn(driven)), [project, frame, driven]);
}
