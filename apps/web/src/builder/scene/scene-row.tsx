import { changeObject, kindOf, type HierarchyRow } from '@umberfish/core';
import { Eye, EyeOff, Lock, LockOpen } from 'lucide-react';
import { memo, useRef, type MouseEvent, type ReactNode } from 'react';
import { applyEdit } from '../../state/store.ts';
import { DROP_LOOKS, useDragRow, type DropAt } from '../../ui/drag-row.ts';

/** A row as deep as this or deeper starts where the name still has room. */
const DEEPEST_INDENT = 7;

interface Props {
  row: HierarchyRow;
  /** Its place among all rows, and how many there are. */
  place: number;
  count: number;
  isPicked: boolean;
  /** A graph shows or drives it. */
  isRigged: boolean;
  onPick(id: string, more: boolean): void;
  accepts(dragged: string, on: string): boolean;
  onDrop(dragged: string, on: string, at: DropAt): void;
}

/** An object in the list: what it is, its name, whether it is shown and may be picked on the stage. */
export const SceneRow = memo(function SceneRow({ row, place, count, isPicked, isRigged, onPick, accepts, onDrop }: Props) {
  const { object, level } = row;
  const { id, name, visible, pickable } = object;
  const own = useRef<HTMLLIElement>(null);
  const drop = useDragRow(own, {
    id,
    list: 'scene',
    takesIn: true,
    accepts: (dragged) => accepts(dragged, id),
    onDrop: (dragged, at) => onDrop(dragged, id, at),
  });
  return (
    <li
      ref={own}
      role="treeitem"
      aria-label={name}
      aria-selected={isPicked}
      aria-level={level + 1}
      aria-posinset={place + 1}
      aria-setsize={count}
      data-object={id}
      data-drop={drop ?? undefined}
      onClick={(e) => onPick(id, e.shiftKey || e.ctrlKey || e.metaKey)}
      className={`group flex h-6.5 cursor-pointer items-center gap-2 border-l-[3px] pr-2 ${isPicked ? 'border-l-pick bg-pick-wash' : 'border-l-transparent hover:bg-sunk'} ${visible ? '' : 'text-faint'} ${drop ? DROP_LOOKS[drop] : ''}`}
      style={{ paddingLeft: 8 + Math.min(level, DEEPEST_INDENT) * 16 }}
    >
      <span className="number w-10 shrink-0 text-right text-[10.5px] text-faint">{kindOf(object).tag}</span>
      <span className="min-w-0 flex-1 truncate" title={name}>
        {name}
      </span>
      {isRigged && <span className="rounded-sm border border-umber px-1 text-[10px] leading-4 text-umber">rig</span>}
      <Toggle
        label={pickable ? `Lock ${name}: not picked or dragged on the stage` : `Unlock ${name}`}
        isPlain={pickable}
        onToggle={() => applyEdit(pickable ? 'Lock' : 'Unlock', changeObject(id, { pickable: !pickable }))}
      >
        {pickable ? <LockOpen size={13} /> : <Lock size={13} />}
      </Toggle>
      <Toggle
        label={visible ? `Hide ${name}` : `Show ${name}`}
        isPlain={visible}
        onToggle={() => applyEdit(visible ? 'Hide' : 'Show', changeObject(id, { visible: !visible }))}
      >
        {visible ? <Eye size={13} /> : <EyeOff size={13} />}
      </Toggle>
    </li>
  );
});

/** A small button at the end of a row, seen while the pointer is there, or where something is not as it is plainly. */
function Toggle(props: { label: string; isPlain: boolean; onToggle(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={props.label}
      title={props.label}
      onClick={(e: MouseEvent) => {
        e.stopPropagation();
        props.onToggle();
      }}
      className={`rounded p-0.5 text-faint hover:text-ink ${props.isPlain ? 'w-0 overflow-hidden px-0 opacity-0 group-hover:w-auto group-hover:px-0.5 group-hover:opacity-100 focus-visible:w-auto focus-visible:opacity-100' : ''}`}
    >
      {props.children}
    </button>
  );
}
