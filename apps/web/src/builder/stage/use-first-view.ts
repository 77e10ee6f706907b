import type { Project } from '@umberfish/core';
import { useEffect, useRef } from 'react';
import { views } from '../../state/left-off.ts';
import type { View } from './view.ts';

/**
 * The view that a project opens with: as it was left in this browser, else all that stands there, once there is
 * something. @param frame frames it; it is asked for when the first picture is there
 */
export function useFirstView(view: View | null, project: Project | null, isFilled: boolean, frame: () => void): void {
  const opened = useRef<string | null>(null);
  useEffect(() => {
    if (!view || !project || opened.current === project.id) return;
    if (views.stage) {
      const { eye, target, parallel } = views.stage;
      view.setParallel(parallel);
      view.goTo(eye, target);
    } else if (!isFilled) return;
    else if (project.id !== 'lantern-quay') window.setTimeout(frame, 30);
    opened.current = project.id;
  }, [view, project, isFilled, frame]);

  useEffect(() => {
    if (!view) return;
    const keep = () => void (opened.current !== null && (views.stage = { ...view.place, parallel: view.isParallel }));
    view.controls.addEventListener('change', keep);
    return () => view.controls.removeEventListener('change', keep);
  }, [view]);
}
