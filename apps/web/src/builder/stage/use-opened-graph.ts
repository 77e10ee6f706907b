import { membersOf, rootGraph, subjectsOf } from '@umberfish/core';
import { useEffect, useRef } from 'react';
import { catalogue } from '../../state/catalogue.ts';
import { selectProject, store, useStore } from '../../state/store.ts';
import type { View } from './view.ts';

/**
 * Frames what a graph makes or drives when it is opened, with all that hangs under that, unless the view is pinned. What a
 * project opens with is left to the stage; so are graphs that are about nothing yet.
 */
export function useOpenedGraph(view: View | null, frame: (objects: readonly string[]) => void): void {
  const opened = useStore((s) => {
    const project = selectProject(s);
    return project && s.ui.graph !== null ? `${project.id} ${rootGraph(project, s.ui.graph)?.id ?? ''}` : null;
  });
  const before = useRef<string | null>(null);
  const now = useRef(frame);
  useEffect(() => {
    now.current = frame;
  });
  useEffect(() => {
    const from = before.current;
    const state = store.getState();
    const project = selectProject(state);
    if (!view || !project || opened === null) return;
    before.current = opened;
    const isOther = from !== null && from !== opened && from.startsWith(`${project.id} `);
    if (!isOther || state.ui.viewPinned) return;
    const subjects = subjectsOf(catalogue(), project).get(opened.slice(project.id.length + 1)) ?? [];
    const all = subjects.flatMap((id) => [id, ...membersOf(project.objects, id).map((o) => o.id)]);
    if (all.length > 0) now.current([...new Set(all)]);
  }, [view, opened]);
}
