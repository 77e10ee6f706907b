import {
  changeGraph,
  inFolder,
  listedGraphs,
  orderGraph,
  renameFolder,
  rootGraph,
  subjectsOf,
  type GraphRecord,
  type Project,
} from '@umberfish/core';
import { ChevronDown, Folder, MoreHorizontal, Plus, Search } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, useStore } from '../../state/store.ts';
import { DROP_LOOKS, useDragRow } from '../../ui/drag-row.ts';
import { Menu } from '../../ui/menu.tsx';
import { copyGraph, dropGraph, newGraph, openGraph } from './graph-commands.ts';
import { over } from '../../ui/over.ts';

/** What is being typed: another name for a graph, for its folder, or for a folder. */
interface Naming {
  readonly of: string;
  readonly what: 'name' | 'folder';
}

/** The graph that is on the bench, and the list of all: searched, in folders, in an order by hand. */
export function GraphList() {
  const project = useStore(selectProject);
  const open = useStore((s) => s.ui.graph);
  const [isOpen, setIsOpen] = useState(false);
  const current = project && open !== null ? rootGraph(project, open) : undefined;
  return (
    <Popover.Root open={isOpen} onOpenChange={setIsOpen}>
      <Popover.Trigger
        aria-label={`Choose a graph: ${current?.name ?? 'none'}`}
        className="flex max-w-44 min-w-12 shrink items-center gap-1 rounded px-1 font-serif text-sm font-semibold hover:bg-sunk"
      >
        <span className="truncate">{current?.name ?? 'No graph'}</span>
        <ChevronDown size={13} className="shrink-0 text-faint" />
      </Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label="Graphs"
          data-graph-list
          className="z-50 flex max-h-[min(560px,var(--radix-popover-content-available-height))] w-80 flex-col rounded-md border border-line-strong bg-raised shadow-[0_2px_6px_rgb(51_36_26/0.12)]"
        >
          {project && <List project={project} current={current?.id} onClose={() => setIsOpen(false)} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function List({ project, current, onClose }: { project: Project; current: string | undefined; onClose(): void }) {
  const [search, setSearch] = useState('');
  const [naming, setNaming] = useState<Naming | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const subjects = subjectsOf(catalogue(), project);
  const names = new Map(project.objects.map((o) => [o.id, o.name]));
  const about = (g: GraphRecord) => (subjects.get(g.id) ?? []).map((id) => names.get(id) ?? '').join(', ');
  const words = search.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const found = project.graphs.filter((g) => {
    const text = `${g.name} ${g.folder ?? ''} ${about(g)}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  const folders = listedGraphs(found);
  const rows = folders.flatMap((f) => f.graphs);
  const choose = (id: string) => {
    openGraph(id);
    onClose();
  };
  /** From the field down into the rows and back: arrows go from name to name. */
  const onKey = (e: KeyboardEvent) => {
    if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
    const buttons = [...(list.current?.querySelectorAll<HTMLElement>('[data-choose]') ?? [])];
    const here = buttons.indexOf(document.activeElement as HTMLElement);
    const next = here + (e.key === 'ArrowDown' ? 1 : -1);
    if (next < 0) field.current?.focus();
    else buttons[Math.min(buttons.length - 1, next)]?.focus();
    e.preventDefault();
  };
  const field = useRef<HTMLInputElement>(null);
  return (
    <div className="contents" onKeyDown={onKey}>
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-line px-2.5 text-soft">
        <Search size={13} aria-hidden />
        <input
          ref={field}
          autoFocus
          aria-label="Search the graphs"
          placeholder="A graph, a folder, or what it moves"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && rows[0] && choose(rows[0].id)}
          className="min-w-0 flex-1 bg-transparent text-ink outline-none placeholder:text-faint"
        />
        <span className="number text-[10.5px]">{found.length}</span>
      </div>
      <div ref={list} className="min-h-0 flex-1 overflow-auto p-1 select-none">
        {folders.map(({ folder, graphs }, i) => (
          <div key={`${folder} ${i}`}>
            {folder !== '' && (
              <FolderRow
                name={folder}
                naming={naming?.what === 'folder' && naming.of === `folder ${folder}`}
                onName={() => setNaming({ of: `folder ${folder}`, what: 'folder' })}
                onNamed={() => setNaming(null)}
              />
            )}
            <div role="list" aria-label={folder || 'Graphs'}>
              {graphs.map((g) => (
                <Row
                  key={g.id}
                  graph={g}
                  about={about(g)}
                  isIn={folder !== ''}
                  isCurrent={g.id === current}
                  naming={naming?.of === g.id ? naming.what : null}
                  onNaming={(what) => setNaming(what && { of: g.id, what })}
                  onChoose={() => choose(g.id)}
                />
              ))}
            </div>
          </div>
        ))}
        {found.length === 0 && <p className="px-2 py-1.5 text-soft">No graph is called that, or moves that.</p>}
      </div>
      <button
        type="button"
        onClick={() => {
          newGraph();
          onClose();
        }}
        className="flex h-9 shrink-0 items-center gap-2 border-t border-line px-3 text-left text-umber hover:bg-sunk"
      >
        <Plus size={14} /> New graph
      </button>
    </div>
  );
}

interface RowProps {
  graph: GraphRecord;
  /** Names of what it makes or drives. */
  about: string;
  isIn: boolean;
  isCurrent: boolean;
  naming: Naming['what'] | null;
  onNaming(what: Naming['what'] | null): void;
  onChoose(): void;
}

function Row({ graph, about, isIn, isCurrent, naming, onNaming, onChoose }: RowProps) {
  const { id, name, folder = '' } = graph;
  const own = useRef<HTMLDivElement>(null);
  const drop = useDragRow(own, {
    id,
    list: 'graphs',
    takesIn: false,
    accepts: () => true,
    onDrop: (dragged, at) => at !== 'into' && applyEdit('Order graphs', orderGraph(dragged, { id, where: at })),
  });
  const take = (text: string) => {
    onNaming(null);
    if (naming === 'folder') applyEdit('Put graph into a folder', inFolder(id, text));
    else if (text !== '') applyEdit('Rename graph', changeGraph(id, { name: text }));
  };
  return (
    <div
      ref={own}
      role="listitem"
      data-graph={name}
      className={`flex min-h-8 items-center gap-2 rounded pr-1 ${isIn ? 'pl-6' : 'pl-2'} ${isCurrent ? 'bg-pick-wash' : 'focus-within:bg-sunk hover:bg-sunk'} ${drop ? DROP_LOOKS[drop] : ''}`}
    >
      {naming ? (
        <Name
          label={naming === 'folder' ? 'Folder' : 'Name of the graph'}
          value={naming === 'folder' ? folder : name}
          onTake={take}
          onLeave={() => onNaming(null)}
        />
      ) : (
        <button
          type="button"
          data-choose
          aria-current={isCurrent}
          onClick={onChoose}
          className="flex min-h-8 min-w-0 flex-1 items-baseline gap-2 py-1.5 text-left"
        >
          <span className={`max-w-[65%] shrink-0 truncate ${isCurrent ? 'font-semibold' : ''}`} title={name}>
            {name}
          </span>
          <span className="min-w-0 flex-1 truncate text-right text-xs text-soft" title={about}>
            {about}
          </span>
        </button>
      )}
      <Menu
        align="end"
        trigger={
          <button type="button" aria-label={`More of ${name}`} className="rounded p-0.5 text-faint hover:text-ink">
            <MoreHorizontal size={15} />
          </button>
        }
        items={[
          { label: 'Rename…', takesFocus: true, onSelect: () => onNaming('name') },
          { label: 'Put into a folder…', takesFocus: true, onSelect: () => onNaming('folder') },
          ...(folder ? [{ label: `Take out of "${folder}"`, onSelect: () => applyEdit('Take out', inFolder(id, '')) }] : []),
          { label: 'Duplicate', onSelect: () => copyGraph(id) },
          null,
          { label: 'Remove', onSelect: () => dropGraph(id) },
        ]}
      />
    </div>
  );
}

function FolderRow(props: { name: string; naming: boolean; onName(): void; onNamed(): void }) {
  const { name, naming, onName, onNamed } = props;
  return (
    <div className="flex h-7 items-center gap-1.5 px-1.5 text-xs font-semibold text-soft">
      <Folder size={13} aria-hidden />
      {naming ? (
        <Name
          label="Name of the folder"
          value={name}
          onTake={(text) => {
            onNamed();
            applyEdit('Rename folder', renameFolder(name, text));
          }}
          onLeave={onNamed}
        />
      ) : (
        <button type="button" title="Rename the folder" className="min-w-0 truncate hover:text-ink" onClick={onName}>
          {name}
        </button>
      )}
    </div>
  );
}

/** A name being typed: Enter takes it, Escape leaves it as it was. */
function Name({ label, value, onTake, onLeave }: { label: string; value: string; onTake(text: string): void; onLeave(): void }) {
  const [text, setText] = useState(value);
  const field = useRef<HTMLInputElement>(null);
  // Menus give the focus back to what opened them, and that comes after this is there.
  useEffect(() => {
    const timer = window.setTimeout(() => field.current?.select(), 0);
    return () => window.clearTimeout(timer);
  }, []);
  return (
    <input
      ref={field}
      aria-label={label}
      placeholder={label}
      value={text}
      maxLength={200}
      onChange={(e) => setText(e.target.value)}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') onTake(text.trim());
        if (e.key === 'Escape') {
          e.preventDefault();
          onLeave();
        }
      }}
      onBlur={() => onTake(text.trim())}
      className="h-6 min-w-0 flex-1 rounded border border-pick bg-paper px-1.5 text-ink outline-none"
    />
  );
}
