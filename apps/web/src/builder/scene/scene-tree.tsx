import {
  CONSTRAINT_RULES,
  hierarchyOf,
  membersOf,
  orderObjects,
  PRIMITIVES,
  rowsFound,
  SHOWN_PORT,
  shownResults,
  type ConstraintKind,
  type HierarchyRow,
  type Primitive,
} from '@umberfish/core';
import { Link2, Plus, Search, X } from 'lucide-react';
import { useCallback, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { ACCEPTED_FILES } from '@umberfish/formats/endings';
import { selectProject, store, useSend, useStore } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { catalogue } from '../../state/catalogue.ts';
import { ContextMenu, type MenuItems } from '../../ui/context-menu.tsx';
import type { DropAt } from '../../ui/drag-row.ts';
import { Menu } from '../../ui/menu.tsx';
import { useRowWindow } from '../../ui/row-window.ts';
import { FRAME_EVENT } from '../stage/frame-event.ts';
import { addChain, addCurve, addGroup, addLocator, addPrimitive } from './add-object.ts';
import { constrain } from './constrain.ts';
import { objectMenu, RENAME_EVENT } from './object-menu.ts';
import { hangUnder, removeFrozen } from './pose-commands.ts';
import { SceneRow } from './scene-row.tsx';

const ROW_HEIGHT = 26;
/** So many rows beyond those in sight are there too, so that scrolling never shows a gap. */
const ROWS_AROUND = 120;
/** With fewer objects nothing is searched for. */
const FEW = 8;
const NO_ROWS: readonly HierarchyRow[] = [];

/** Everything in the scene, by what hangs under what. */
export function SceneTree({ onImport }: { onImport(files: readonly File[]): void }) {
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const send = useSend();
  const picker = useRef<HTMLInputElement>(null);
  const [search, setSearch] = useState('');
  const all = project ? hierarchyOf(project.objects) : NO_ROWS;
  const rows = useMemo(() => rowsFound(all, search), [all, search]);
  const isPicked = useMemo(() => new Set(picked), [picked]);
  const list = useRef<HTMLUListElement>(null);
  const sight = useRowWindow(list, rows.length, ROW_HEIGHT);
  const from = Math.max(0, sight.first - ROWS_AROUND);
  const around = rows.slice(from, sight.first + sight.visible + ROWS_AROUND);
  const rigged = useMemo(() => new Map(project ? shownResults(catalogue(), project).map((r) => [r.object, r]) : []), [project]);

  const pick = useCallback(
    (id: string, more: boolean) => {
      const { objects } = store.getState().ui;
      send(objectsPicked(more ? (objects.includes(id) ? objects.filter((p) => p !== id) : [...objects, id]) : [id]));
      const result = rigged.get(id);
      if (result) send(uiSet({ port: { node: result.node, port: SHOWN_PORT }, tableOn: 'point' }));
    },
    [rigged, send],
  );
  const step = (by: number) => {
    const at = rows.findIndex((r) => r.object.id === picked[picked.length - 1]);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (!next) return;
    pick(next.object.id, false);
    const row = rows.indexOf(next);
    if (row < sight.first || row >= sight.first + sight.visible) sight.scrollTo(row);
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown') step(1);
    else if (e.key === 'ArrowUp') step(-1);
    else if (e.key === 'Delete' && picked.length > 0) void removeFrozen(picked);
    else if (e.key === 'F2' && picked.length > 0) window.dispatchEvent(new CustomEvent(RENAME_EVENT));
    else if (e.key.toLowerCase() === 'a' && (e.ctrlKey || e.metaKey)) send(objectsPicked(rows.map((r) => r.object.id)));
    else return;
    e.preventDefault();
  };

  /** On a row, or with the menu key on the picked one. */
  const menuAt = (target: Element): MenuItems => {
    const id = target.closest<HTMLElement>('[data-object]')?.dataset.object ?? picked.at(-1);
    return id === undefined ? [] : objectMenu(id, () => window.dispatchEvent(new CustomEvent(FRAME_EVENT)));
  };

  return (
    <section aria-label="Scene" className="flex h-full flex-col">
      <header className="flex h-9 shrink-0 items-center gap-1 pr-2 pl-3">
        <h2 className="flex-1 font-serif text-sm font-semibold">Scene</h2>
        {picked.length > 1 && (
          <Menu
            align="end"
            trigger={
              <button type="button" className="flex h-6 items-center gap-1 rounded px-1.5 text-umber hover:bg-sunk">
                <Link2 size={13} /> Constrain
              </button>
            }
            items={(Object.keys(CONSTRAINT_RULES) as ConstraintKind[]).map((kind) => ({
              label: CONSTRAINT_RULES[kind].title,
              disabled: picked.length - 1 < CONSTRAINT_RULES[kind].least || picked.length - 1 > CONSTRAINT_RULES[kind].most,
              onSelect: () => void constrain(kind),
            }))}
          />
        )}
        <Menu
          align="end"
          trigger={
            <button
              type="button"
              aria-label="Add to the scene"
              className="flex h-6 items-center gap-1 rounded px-1.5 text-soft hover:bg-sunk"
            >
              <Plus size={14} /> Add
            </button>
          }
          items={[
            { label: 'Import a mesh (OBJ, GLB, glTF)…', onSelect: () => picker.current?.click() },
            null,
            { label: 'Locator', onSelect: addLocator },
            { label: 'Chain of joints', onSelect: addChain },
            { label: 'Curve, drawn in the stage', onSelect: addCurve },
            { label: 'Group', onSelect: addGroup },
            null,
            ...(Object.keys(PRIMITIVES) as Primitive[]).map((shape) => ({
              label: PRIMITIVES[shape].name,
              onSelect: () => addPrimitive(shape),
            })),
          ]}
        />
        <input
          ref={picker}
          type="file"
          hidden
          multiple
          data-picker="mesh"
          accept={ACCEPTED_FILES}
          onChange={(e) => {
            const files = [...(e.target.files ?? [])];
            e.target.value = '';
            if (files.length > 0) onImport(files);
          }}
        />
      </header>
      {all.length >= FEW && <SearchField value={search} onChange={setSearch} />}
      <ContextMenu itemsAt={menuAt}>
        <ul
          ref={list}
          role="tree"
          aria-label="Objects"
          aria-multiselectable
          tabIndex={0}
          onScroll={sight.onScroll}
          className="min-h-0 flex-1 overflow-auto pb-2 select-none"
          onKeyDown={onKey}
        >
          {from > 0 && <li role="none" style={{ height: from * ROW_HEIGHT }} />}
          {around.map((row, i) => (
            <SceneRow
              key={row.object.id}
              row={row}
              place={from + i}
              count={rows.length}
              isPicked={isPicked.has(row.object.id)}
              isRigged={rigged.has(row.object.id)}
              onPick={pick}
              accepts={accepts}
              onDrop={drop}
            />
          ))}
          <li role="none" style={{ height: (rows.length - from - around.length) * ROW_HEIGHT }} />
          {all.length === 0 && (
            <li role="none" className="px-3 py-2 text-soft">
              Nothing in the scene yet.{' '}
              <button type="button" className="text-umber underline" onClick={() => picker.current?.click()}>
                Import a mesh
              </button>{' '}
              or{' '}
              <button type="button" className="text-umber underline" onClick={addLocator}>
                add a locator
              </button>
              .
            </li>
          )}
          {all.length > 0 && rows.length === 0 && (
            <li role="none" className="px-3 py-2 text-soft">
              No object is called that.
            </li>
          )}
        </ul>
      </ContextMenu>
    </section>
  );
}

function SearchField({ value, onChange }: { value: string; onChange(value: string): void }) {
  return (
    <div className="mx-2 mb-1 flex h-6.5 shrink-0 items-center gap-1.5 rounded border border-line bg-raised px-1.5 text-soft focus-within:border-pick">
      <Search size={12} aria-hidden />
      <input
        aria-label="Search the scene"
        placeholder="Search"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Escape') return;
          e.stopPropagation();
          onChange('');
        }}
        className="min-w-0 flex-1 bg-transparent text-xs text-ink outline-none placeholder:text-faint"
      />
      {value !== '' && (
        <button type="button" aria-label="Search no more" className="hover:text-ink" onClick={() => onChange('')}>
          <X size={12} />
        </button>
      )}
    </div>
  );
}

/** What is dragged: all that is picked, where that is among it. */
function draggedWith(id: string): readonly string[] {
  const { objects } = store.getState().ui;
  return objects.includes(id) ? objects : [id];
}

/** Nothing can hang under itself or under what hangs under it. */
function accepts(dragged: string, on: string): boolean {
  const project = selectProject(store.getState());
  if (!project) return false;
  const ids = draggedWith(dragged);
  return !ids.includes(on) && !ids.some((id) => membersOf(project.objects, id).some((o) => o.id === on));
}

/** Onto a row: it hangs under that. Between rows: it stands there, and hangs under what they hang under. */
function drop(dragged: string, on: string, at: DropAt): void {
  const target = selectProject(store.getState())?.objects.find((o) => o.id === on);
  if (!target) return;
  const ids = draggedWith(dragged);
  if (at === 'into') void hangUnder(ids, on);
  else void hangUnder(ids, target.parent, orderObjects(ids, { id: on, where: at }));
}
