import { insideOf, pathOfInside, rootGraph } from '@umberfish/core';
import { ChevronRight } from 'lucide-react';
import { Fragment } from 'react';
import { selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { titlesOfPath } from '../bench/paths.ts';

/** Inside of a use: the way back, step by step. */
export function Crumbs() {
  const project = useStore(selectProject);
  const graph = useStore((s) => s.ui.graph);
  const send = useSend();
  const path = graph === null ? undefined : pathOfInside(graph);
  const root = project && graph !== null ? rootGraph(project, graph) : undefined;
  if (!project || path === undefined || !root) return null;
  const titles = titlesOfPath(project, path);
  const parts = path.split('/');
  const go = (to: string, picked: string) => send(uiSet({ graph: to, nodes: [picked], objects: [], port: null, element: null }));
  return (
    <nav aria-label="Where you are" data-inside={path} className="flex min-w-0 items-center gap-0.5">
      <button
        type="button"
        className="truncate rounded px-1 font-serif text-sm text-umber hover:bg-sunk"
        onClick={() => go(root.id, parts[0])}
      >
        {root.name}
      </button>
      {parts.map((_, i) => {
        const here = parts.slice(0, i + 1).join('/');
        const last = i === parts.length - 1;
        return (
          <Fragment key={here}>
            <ChevronRight size={12} className="shrink-0 text-faint" />
            {last ? (
              <span
                className="truncate px-1 font-serif text-sm font-semibold"
                title="Numbers, previews and costs are those of this use"
              >
                {titles[i]}
              </span>
            ) : (
              <button
                type="button"
                className="truncate rounded px-1 font-serif text-sm text-umber hover:bg-sunk"
                onClick={() => go(insideOf(here), parts.slice(0, i + 2).join('/'))}
              >
                {titles[i]}
              </button>
            )}
          </Fragment>
        );
      })}
    </nav>
  );
}
