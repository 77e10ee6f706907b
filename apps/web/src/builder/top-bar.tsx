import { Columns2, Maximize, PanelLeft, PanelRight, Redo2, Search, Undo2 } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { autosave } from '../storage/index.ts';
import { saveProjectFile } from '../storage/files.ts';
import { redone, undone } from '../state/project-slice.ts';
import { selectProject, store, useSend, useStore } from '../state/store.ts';
import { uiSet } from '../state/ui-slice.ts';
import { Button } from '../ui/button.tsx';
import { Menu, type MenuItem } from '../ui/menu.tsx';
import { ARRANGEMENT_WORDS, ARRANGEMENTS, arrange, toggleStageAlone } from './arrangement.ts';
import { openPalette } from './bench/palette.ts';

interface Props {
  page: 'build' | 'animate';
  /** What can be done with the project, beside saving it. */
  items: readonly (MenuItem | null)[];
  /** On the right: what the page is found and arranged by. */
  children?: ReactNode;
}

/** Whose page it is, what can be done with the project, and how it stands with saving. */
export function TopBar({ page, items, children }: Props) {
  const project = useStore(selectProject);
  const undo = useStore((s) => s.project.past[s.project.past.length - 1]?.label);
  const redo = useStore((s) => s.project.future[0]?.label);
  const theme = useStore((s) => s.ui.theme);
  const send = useSend();
  return (
    <header className="flex h-10 shrink-0 items-center gap-3 border-b border-line px-3">
      <Link to="/" className="font-serif text-lg font-semibold tracking-tight text-umber" title="Back to the shelf">
        Umberfish
      </Link>
      <span className="h-4 w-px bg-line-strong" />
      <Menu
        trigger={
          <button
            type="button"
            aria-label="Project menu"
            className="flex min-w-0 items-center gap-1.5 rounded px-1.5 py-0.5 hover:bg-sunk"
          >
            <span className="truncate">{project?.name}</span> <span className="text-faint">▾</span>
          </button>
        }
        items={[
          { label: 'Save to a file', onSelect: () => project && saveProjectFile(project) },
          ...items,
          null,
          {
            label: theme === 'day' ? 'Night tide (dark)' : 'Daylight',
            onSelect: () => send(uiSet({ theme: theme === 'day' ? 'night' : 'day' })),
          },
        ]}
      />
      <Button
        className="!px-1.5"
        disabled={!undo}
        hint={undo ? `Undo: ${undo} (Ctrl Z)` : 'Nothing to undo'}
        onClick={() => send(undone())}
        aria-label="Undo"
      >
        <Undo2 size={15} />
      </Button>
      <Button
        className="!px-1.5 -ml-2"
        disabled={!redo}
        hint={redo ? `Redo: ${redo} (Ctrl Shift Z)` : 'Nothing to redo'}
        onClick={() => send(redone())}
        aria-label="Redo"
      >
        <Redo2 size={15} />
      </Button>
      <nav aria-label="Pages" className="flex gap-1">
        {project && !project.forAnimation && <Page to={`/p/${project.id}/build`} on={page === 'build'} name="Build" />}
        {project && <Page to={`/p/${project.id}/animate`} on={page === 'animate'} name="Animate" />}
      </nav>
      <span className="flex-1" />
      {children}
      <Saved />
    </header>
  );
}

function Page({ to, on, name }: { to: string; on: boolean; name: string }) {
  return (
    <Link
      to={to}
      aria-current={on ? 'page' : undefined}
      className={`rounded px-2.5 py-1 ${on ? 'bg-ink text-paper' : 'text-soft hover:bg-sunk hover:text-ink'}`}
    >
      {name}
    </Link>
  );
}

/** Finds and adds, and parts bench and stage: what Build has on the right of the bar. */
export function BuildTools() {
  return (
    <>
      <button
        type="button"
        onClick={() => openPalette({ end: null, at: null })}
        className="flex h-7 w-44 items-center gap-2 rounded border border-line-strong bg-raised px-2 text-left text-faint hover:bg-sunk"
      >
        <Search size={13} /> <span className="flex-1">Find or add…</span> <span className="number text-xs">Ctrl K</span>
      </button>
      <Arrangements />
    </>
  );
}

const ARRANGEMENT_ICONS = { bench: PanelLeft, half: Columns2, stage: PanelRight } as const;

/** How bench and stage part the page. */
function Arrangements() {
  const now = useStore((s) => s.ui.arrangement);
  return (
    <div role="group" aria-label="Arrangement" className="flex rounded border border-line p-px">
      {ARRANGEMENTS.map((a) => {
        const Icon = ARRANGEMENT_ICONS[a];
        return (
          <Button
            key={a}
            className="!h-6 !px-1.5"
            pressed={a === now}
            hint={`${ARRANGEMENT_WORDS[a]} (W walks through them)`}
            aria-label={ARRANGEMENT_WORDS[a]}
            onClick={() => arrange(a)}
          >
            <Icon size={14} />
          </Button>
        );
      })}
      <Button className="!h-6 !px-1.5" hint="Stage alone (Shift W)" aria-label="Stage alone" onClick={toggleStageAlone}>
        <Maximize size={13} />
      </Button>
    </div>
  );
}

function Saved() {
  const save = useStore((s) => s.save);
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = window.setInterval(() => tick((n) => n + 1), 10_000);
    return () => window.clearInterval(timer);
  }, []);
  const { project } = store.getState().project;
  if (save.status === 'elsewhere') {
    return (
      <span data-save="elsewhere" className="flex items-center gap-1.5 text-rust">
        {save.reason ? `Not saved: ${save.reason}` : save.isRemoved ? 'Removed in another tab' : 'Changed in another tab'}
        {!save.isRemoved && (
          <Button
            look="framed"
            className="!h-6"
            onClick={() => void autosave.takeTheirs()}
            hint="Open what the other tab saved; your changes since then are given up"
          >
            Take theirs
          </Button>
        )}
        <Button
          look="framed"
          className="!h-6"
          onClick={() => void autosave.keepMine()}
          hint={save.isRemoved ? 'Store it again as it is here' : 'Save what is here over what the other tab saved'}
        >
          {save.isRemoved ? 'Keep it here' : 'Keep mine'}
        </Button>
      </span>
    );
  }
  if (save.status === 'failed') {
    return (
      <span data-save="failed" className="flex items-center gap-1.5 text-rust">
        <span title={`${save.reason}. It is tried again by itself.`}>Not saved: {save.reason}</span>
        <Button look="framed" className="!h-6" onClick={() => project && saveProjectFile(project)}>
          Save to a file
        </Button>
      </span>
    );
  }
  return (
    <span data-save={save.status} className={`w-24 text-right ${save.status === 'saved' ? 'text-moss' : 'text-soft'}`}>
      {save.status === 'saving' ? 'Saving…' : save.status === 'unsaved' ? 'Unsaved' : `Saved${since(save.at)}`}
    </span>
  );
}

function since(at: number): string {
  const seconds = Math.round((Date.now() - at) / 1000);
  return seconds < 60 ? '' : ` ${Math.round(seconds / 60)} min ago`;
}
