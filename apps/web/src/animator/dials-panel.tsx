import { handedOut, nodesBehind, type HandedPart, type Project } from '@umberfish/core';
import { useEffect, useMemo } from 'react';
import { catalogue } from '../state/catalogue.ts';
import { selectProject, useSend, useStore } from '../state/store.ts';
import { uiSet } from '../state/ui-slice.ts';
import { DialsPart } from './dials-part.tsx';
import { ObjectPart } from './object-part.tsx';

/** So many parts are shown at once; picking narrows them. */
const MOST = 40;

/** The dials of what is picked, or of a page of the hand-out. */
export function DialsPanel() {
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const page = useStore((s) => s.ui.page);
  const send = useSend();
  const handed = useMemo(() => (project ? handedOut(catalogue(), project) : { pages: [], problems: [] }), [project]);
  // What is picked is what one wants to see.
  useEffect(() => {
    if (picked.length > 0) send(uiSet({ page: null }));
  }, [picked, send]);
  if (!project) return null;
  const { pages, problems } = handed;
  const shown = pages.find((p) => p.id === page);
  const parts = shown
    ? shown.parts
    : picked.length > 0
      ? partsOf(
          project,
          pages.flatMap((p) => p.parts),
          picked,
        )
      : null;
  return (
    <div className="flex flex-col px-3 pt-2 pb-3" data-dials-page={shown?.name ?? 'Picked'}>
      <div role="tablist" aria-label="Dials" className="flex flex-wrap gap-1 pb-1">
        <Tab name="Picked" on={!shown} onClick={() => send(uiSet({ page: null }))} />
        {pages.map((p) => (
          <Tab key={p.id} name={p.name} on={p === shown} onClick={() => send(uiSet({ page: p.id }))} />
        ))}
      </div>
      {problems.map((text) => (
        <p key={text} className="mt-1 text-xs leading-snug text-rust">
          {text}
        </p>
      ))}
      {!parts && (
        <p className="mt-2 border-l-2 border-line-strong bg-sunk px-3 py-2 leading-snug text-soft">
          Click something on the stage, or choose a page above. Its dials appear here; drag them, type, or press K to set keys.
        </p>
      )}
      {parts?.length === 0 && <p className="mt-2 text-soft">Nothing of it is handed out.</p>}
      {parts
        ?.slice(0, MOST)
        .map((part, i) =>
          part.kind === 'object' ? (
            <ObjectPart key={`object ${part.object.id}`} project={project} {...part} />
          ) : (
            <DialsPart
              key={`dials ${part.node.record.id}`}
              project={project}
              {...part}
              goesOn={parts[i - 1]?.kind === 'dials' && parts[i - 1].name === part.name}
            />
          ),
        )}
      {parts && parts.length > MOST && (
        <p className="mt-2 text-xs text-soft">
          and {parts.length - MOST} more. Pick some of them on the stage to see theirs alone.
        </p>
      )}
    </div>
  );
}

/** The parts that belong to what is picked: of each object its own, then the dials that act on it, in order, each once. */
function partsOf(project: Project, parts: readonly HandedPart[], picked: readonly string[]): HandedPart[] {
  const found = new Map<string, HandedPart>();
  for (const id of picked) {
    const behind = [...nodesBehind(catalogue(), project, id)];
    const dials = parts.filter((p) => p.kind === 'dials' && behind.includes(p.node.record.id));
    const place = (p: HandedPart) => (p.kind === 'dials' ? behind.indexOf(p.node.record.id) : 0);
    for (const p of dials.sort((a, b) => place(a) - place(b))) found.set(keyOf(p), p);
    for (const p of parts) if (p.kind === 'object' && p.object.id === id && !found.has(keyOf(p))) found.set(keyOf(p), p);
  }
  return [...found.values()];
}

const keyOf = (p: HandedPart): string => (p.kind === 'object' ? `object ${p.object.id}` : `dials ${p.node.record.id}`);

function Tab({ name, on, onClick }: { name: string; on: boolean; onClick(): void }) {
  return (
    <button
      type="button"
      role="tab"
      aria-selected={on}
      onClick={onClick}
      className={`h-7 max-w-40 truncate rounded px-2.5 ${on ? 'bg-sunk text-ink' : 'text-soft hover:bg-sunk hover:text-ink'}`}
    >
      {name}
    </button>
  );
}
