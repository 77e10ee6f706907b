import {
  kindOf,
  CONSTRAINT_RULES,
  type ConstraintKind,
  hierarchyOf,
  makeObject,
  SHOWN_PORT,
  shownResults,
  type HierarchyRow,
  addObject,
  changeObject,
  freeName,
  newId,
  newLocator,
  newCurve,
} from '@umberfish/core';
import { Eye, EyeOff, Link2, Plus } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { applyEdit, selectProject, store, useSend, useStore } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { constrain } from './constrain.ts';
import { objectMenu, RENAME_EVENT } from './object-menu.ts';
import { FRAME_EVENT } from '../stage/frame-event.ts';
import { removeFrozen } from './pose-commands.ts';
import { ContextMenu, type MenuItems } from '../../ui/context-menu.tsx';
import { Menu } from '../../ui/menu.tsx';
import { useRowWindow } from '../../ui/row-window.ts';
import { catalogue } from '../../state/catalogue.ts';

const ROW_HEIGHT = 26;
/** So many rows beyond those in sight are there too, so that scrolling never shows a gap. */
const ROWS_AROUND = 120;
/** A row as deep as this or deeper starts where the name still has room. */
const DEEPEST_INDENT = 7;
const NO_ROWS: readonly HierarchyRow[] = [];

/** Everything in the scene, by what hangs under what. */
export function SceneTree({ onImport }: { onImport(files: readonly File[]): void }) {
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const send = useSend();
  const picker = useRef<HTMLInputElement>(null);
  const rows = project ? hierarchyOf(project.objects) : NO_ROWS;
  const isPicked = useMemo(() => new Set(picked), [picked]);
  const list = useRef<HTMLUListElement>(null);
  const sight = useRowWindow(list, rows.length, ROW_HEIGHT);
  const from = Math.max(0, sight.first - ROWS_AROUND);
  const around = rows.slice(from, sight.first + sight.visible + ROWS_AROUND);
  const rigged = useMemo(() => new Map(project ? shownResults(catalogue(), project).map((r) => [r.object, r]) : []), [project]);

  const addLocator = () => {
    if (!project) return;
    const made = newLocator(project);
    applyEdit('Add locator', addObject(made));
    send(objectsPicked([made.id]));
  };
  const addCurve = () => {
    if (!project) return;
    const made = newCurve(project);
    applyEdit('Add curve', addObject(made));
    send(objectsPicked([made.id]));
    send(uiSet({ drawing: true }));
  };
  const addGroup = () => {
    if (!project) return;
    const made = makeObject(newId('group'), freeName(project, 'Group'), 'group');
    applyEdit('Add group', addObject(made));
    send(objectsPicked([made.id]));
  };
  const pick = (id: string, more: boolean) => {
    send(objectsPicked(more ? (picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id]) : [id]));
    const result = rigged.get(id);
    if (result) store.dispatch(uiSet({ port: { node: result.node, port: SHOWN_PORT }, tableOn: 'point' }));
  };
  const step = (by: number) => {
    const at = rows.findIndex((r) => r.object.id === picked[picked.length - 1]);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (!next) return;
    pick(next.object.id, false);
    const row = rows.indexOf(next);
    if (row < sight.first || row >= sight.first + sight.visible) sight.scrollTo(row);
  };

  /** On a row, or with the menu key on the picked one. */
  const menuAt = (target: Element): MenuItems => {
    const id = target.closest<HTMLElement>('[data-object]')?.dataset.object ?? picked.at(-1);
    return id === undefined ? [] : objectMenu(id, () => window.dispatchEvent(new CustomEvent(FRAME_EVENT)));
  };

  return (
    <section aria-label="Scene" className="flex h-full flex-col">
      <header className="flex h-9 shrink-0 items-center justify-between pr-2 pl-3">
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
            { label: 'Locator', onSelect: addLocator },
            { label: 'Curve, drawn in the stage', onSelect: addCurve },
            { label: 'Group', onSelect: addGroup },
          ]}
        />
        <input
          ref={picker}
          type="file"
          hidden
          multiple
          data-picker="mesh"
          accept=".obj,.mtl,.glb,.gltf,.bin"
          onChange={(e) => {
            const files = [...(e.target.files ?? [])];
            e.target.value = '';
            if (files.length > 0) onImport(files);
          }}
        />
      </header>
      <ContextMenu itemsAt={menuAt}>
        <ul
          ref={list}
          role="tree"
          aria-label="Objects"
          tabIndex={0}
          onScroll={sight.onScroll}
          className="min-h-0 flex-1 overflow-auto pb-2 select-none"
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown') step(1);
            else if (e.key === 'ArrowUp') step(-1);
            else if (e.key === 'Delete' && picked.length > 0) {
              void removeFrozen(picked);
            } else if (e.key === 'F2' && picked.length > 0) window.dispatchEvent(new CustomEvent(RENAME_EVENT));
            else return;
            e.preventDefault();
          }}
        >
          {from > 0 && <li role="none" style={{ height: from * ROW_HEIGHT }} />}
          {around.map(({ object, level }, i) => {
            const on = isPicked.has(object.id);
            return (
              <li
                key={object.id}
                role="treeitem"
                aria-selected={on}
                aria-level={level + 1}
                aria-posinset={from + i + 1}
                aria-setsize={rows.length}
                data-object={object.id}
                onClick={(e) => pick(object.id, e.shiftKey || e.ctrlKey || e.metaKey)}
                className={`group flex h-6.5 cursor-pointer items-center gap-2 border-l-[3px] pr-2 ${on ? 'border-l-pick bg-pick-wash' : 'border-l-transparent hover:bg-sunk'} ${object.visible ? '' : 'text-faint'}`}
                style={{ paddingLeft: 8 + Math.min(level, DEEPEST_INDENT) * 16 }}
              >
                <span className="number w-10 shrink-0 text-right text-[10.5px] text-faint">{kindOf(object).tag}</span>
                <span className="min-w-0 flex-1 truncate">{object.name}</span>
                {rigged.has(object.id) && (
                  <span className="rounded-sm border border-umber px-1 text-[10px] leading-4 text-umber">rig</span>
                )}
                <button
                  type="button"
                  aria-label={object.visible ? `Hide ${object.name}` : `Show ${object.name}`}
                  onClick={(e) => {
                    e.stopPropagation();
                    applyEdit(object.visible ? 'Hide' : 'Show', changeObject(object.id, { visible: !object.visible }));
                  }}
                  className={`rounded p-0.5 text-faint hover:text-ink ${object.visible ? 'opacity-0 group-hover:opacity-100 focus-visible:opacity-100' : ''}`}
                >
                  {object.visible ? <Eye size={13} /> : <EyeOff size={13} />}
                </button>
              </li>
            );
          })}
          <li role="none" style={{ height: (rows.length - from - around.length) * ROW_HEIGHT }} />
          {rows.length === 0 && (
            <li className="px-3 py-2 text-soft">
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
        </ul>
      </ContextMenu>
    </section>
  );
}
