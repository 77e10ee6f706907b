import { membersOf, rootGraph, subjectsOf, type Project } from '@umberfish/core';
import { useEffect, useMemo, useRef } from 'react';
import { catalogue } from '../../state/catalogue.ts';
import { selectProject, store, useStore } from '../../state/store.ts';
import type { View } from './view.ts';

/** The objects that the graph one looks at makes or drives, with all that hangs under them. */
export function useSubjects(): readonly string[] {
  const project = useStore(selectProject);
  const graph = useStore((s) => s.ui.graph);
  return useMemo(() => {
    const root = project && graph !== null ? rootGraph(project, graph) : undefined;
    return project && root ? withMembers(project, subjectsOf(catalogue(), project, root.id).get(root.id) ?? []) : [];
  }, [project, graph]);
}

const withMembers = (project: Project, ids: readonly string[]): readonly string[] => [
  ...new Set(ids.flatMap((id) => [id, ...membersOf(project.objects, id).map((o) => o.id)])),
];

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
    const graph = opened.slice(project.id.length + 1);
    const subjects = subjectsOf(catalogue(), project, graph).get(graph) ?? [];
    if (subjects.length > 0) now.current(withMembers(project, subjects));
  }, [view, opened]);
}
