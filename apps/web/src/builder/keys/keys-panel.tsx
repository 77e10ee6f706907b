import {
  movedKeys,
  stretchedFrame,
  stretchedKeys,
  trackAt,
  trackOf,
  withoutKeys,
  type Key,
  type KeyTrack,
  smallest,
  changeTracks,
  chosenAt,
  type ChosenKeys,
} from '@umberfish/core';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { applyEdit, selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { ContextMenu, type MenuItems } from '../../ui/context-menu.tsx';
import { eachKey } from './each-key.ts';
import { rowsOf } from './key-frames.ts';
import { KeysArea } from './keys-area.tsx';
import { inksOf } from './keys-drawing.tsx';
import { KeysBar } from './keys-bar.tsx';
import { fitted, ROW, RULER, type KeysView } from './view.ts';

/** Keys that were copied: by row, with frames counted from the first of them. */
let copied: { first: number; keys: ReadonlyMap<string, readonly Key[]> } | null = null;

/** Keys of what is picked (of everything when nothing is), as rows or as curves. */
export function KeysPanel() {
  const project = useStore(selectProject);
  const objects = useStore((s) => s.ui.objects);
  const nodes = useStore((s) => s.ui.nodes);
  const mode = useStore((s) => s.ui.keys);
  const frame = useStore((s) => s.ui.frame);
  const send = useSend();
  const [chosen, setChosen] = useState<ChosenKeys>(new Map());
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [top, setTop] = useState(0);
  const root = useRef<HTMLElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const scroll = useCallback((by: number) => list.current?.scrollBy(0, by), []);
  const animating = useStore((s) => s.ui.animating);
  const rows = useMemo(
    () => (project ? rowsOf(project, { animating, objects, nodes }) : []),
    [project, animating, objects, nodes],
  );
  const seen = useMemo(() => (mode === 'curves' ? rows.filter((r) => !hidden.has(r.key)) : rows), [mode, rows, hidden]);
  const inks = useMemo(() => inksOf(rows), [rows]);
  const range = project?.range ?? { first: 1, last: 2 };
  const [view, setView] = useState<KeysView>(() => fitted(rows, range));
  const names = rows.map((r) => r.key).join('|');
  // Another set of keys is looked at as a whole.
  useEffect(() => {
    setView(fitted(rows, range));
    setChosen(new Map());
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what the keys are does not matter, only whose they are
  }, [names, range.first, range.last]);

  if (!project || mode === 'off') return null;
  const fit = () => setView(fitted(seen, range));
  const change = (
    label: string,
    how: (track: KeyTrack, frames: readonly number[]) => KeyTrack | undefined,
    gesture: string | null = null,
  ) => applyEdit(label, changeTracks(rows, chosen, how), gesture);
  const remove = () => {
    change('Delete keys', withoutKeys);
    setChosen(new Map());
  };
  const all = () => setChosen(new Map(seen.map((r) => [r.key, r.track.keys.map((k) => k.frame)])));
  const copy = () => {
    const keys = new Map(rows.map((r) => [r.key, r.track.keys.filter((k) => chosen.get(r.key)?.includes(k.frame))]));
    const frames = [...keys.values()].flat().map((k) => k.frame);
    if (frames.length > 0) copied = { first: smallest(frames), keys };
  };
  const paste = () => {
    if (!copied) return;
    const { first, keys } = copied;
    const shifted = (row: string) => (keys.get(row) ?? []).map((k) => ({ ...k, frame: k.frame - first + frame }));
    const into: ChosenKeys = new Map(rows.map((r) => [r.key, shifted(r.key).map((k) => k.frame)]));
    const byTrack = new Map(rows.map((r) => [r.track, r.key]));
    applyEdit(
      'Paste keys',
      changeTracks(rows, into, (t) => trackOf([...t.keys, ...shifted(byTrack.get(t) ?? '')], t)),
    );
    setChosen(into);
  };
  const stretch = (time: number, value: number) => {
    change('Stretch keys', (t, frames) => stretchedKeys(t, frames, { frame, value: trackAt(t, frame) }, { time, value }));
    setChosen(chosenAt(chosen, (f) => stretchedFrame(f, frame, time)));
  };
  const nudge = (by: number) => {
    change('Move keys', (t, frames) => movedKeys(t, frames, (k) => ({ frame: k.frame + by, value: k.value })));
    setChosen(chosenAt(chosen, (f) => f + by));
  };
  const onKey = (e: KeyboardEvent) => {
    if ((e.target as HTMLElement).closest('input')) return;
    const command = e.ctrlKey || e.metaKey;
    if (e.key === 'Delete' || e.key === 'Backspace') remove();
    else if (e.key === 'Escape') setChosen(new Map());
    else if (command && e.key.toLowerCase() === 'a') all();
    else if (command && e.key.toLowerCase() === 'c') copy();
    else if (command && e.key.toLowerCase() === 'v') paste();
    else if (!command && e.key.toLowerCase() === 'f') fit();
    else if (e.key === 'ArrowLeft' && chosen.size > 0) nudge(-1);
    else if (e.key === 'ArrowRight' && chosen.size > 0) nudge(1);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const count = [...chosen.values()].reduce((n, f) => n + f.length, 0);
  /** On the keys of a row, or of what is chosen. */
  const menuAt = (target: Element): MenuItems => {
    const row = rows.find((r) => r.key === target.closest<HTMLElement>('[data-row]')?.dataset.row);
    const none = count === 0;
    return [
      ...(row
        ? [
            {
              label: 'Choose its keys',
              onSelect: () => setChosen(new Map([[row.key, row.track.keys.map((k) => k.frame)]])),
            },
          ]
        : []),
      { label: 'Choose all keys', keys: 'Ctrl A', onSelect: all },
      null,
      { label: 'Copy', keys: 'Ctrl C', disabled: none, onSelect: copy },
      { label: 'Paste at this frame', keys: 'Ctrl V', disabled: copied === null, onSelect: paste },
      { label: 'Delete', keys: 'Del', disabled: none, onSelect: remove },
      null,
      ...(['curve', 'straight', 'step'] as const).map((s) => ({
        label: `${s[0].toUpperCase()}${s.slice(1)} between keys`,
        disabled: none,
        onSelect: () =>
          change(
            'Shape of keys',
            eachKey(() => ({ shape: s })),
          ),
      })),
      null,
      { label: 'Show all keys', keys: 'F', onSelect: fit },
    ];
  };
  return (
    <ContextMenu itemsAt={menuAt}>
      <section
        ref={root}
        aria-label="Keys"
        tabIndex={0}
        onKeyDown={onKey}
        data-keys-panel={mode}
        data-rows={rows.length}
        data-chosen={count}
        className="flex h-full flex-col bg-paper outline-none"
      >
        <KeysBar
          rows={rows}
          chosen={chosen}
          onChange={change}
          onFit={fit}
          onRemove={remove}
          onCopy={copy}
          onPaste={paste}
          onStretch={stretch}
          canPaste={copied !== null}
          onMoved={(by) => setChosen(chosenAt(chosen, (f) => f + by))}
        />
        <div className="flex min-h-0 flex-1">
          <ul
            ref={list}
            className="w-[200px] shrink-0 overflow-y-auto border-r border-line text-xs"
            style={{ marginTop: RULER }}
            onScroll={(e) => setTop(e.currentTarget.scrollTop)}
          >
            {rows.map((r) => (
              <li key={r.key} className="flex items-center gap-1.5 px-2" style={{ height: ROW }}>
                {mode === 'curves' && (
                  <span
                    className={`h-0.5 w-3 shrink-0 ${hidden.has(r.key) ? 'opacity-20' : ''}`}
                    style={{ background: inks.get(r.key) }}
                  />
                )}
                <button
                  type="button"
                  data-row={r.key}
                  aria-pressed={!hidden.has(r.key)}
                  className={`min-w-0 flex-1 truncate text-left ${hidden.has(r.key) && mode === 'curves' ? 'text-faint line-through' : 'hover:text-umber'}`}
                  onClick={(e) => {
                    if (mode === 'curves' && !e.shiftKey) {
                      const next = new Set(hidden);
                      if (!next.delete(r.key)) next.add(r.key);
                      return setHidden(next);
                    }
                    setChosen(new Map([...(e.shiftKey ? chosen : []), [r.key, r.track.keys.map((k) => k.frame)]]));
                  }}
                >
                  <span className="text-soft">{r.owner}</span> {r.label}
                </button>
              </li>
            ))}
            {rows.length === 0 && (
              <li className="p-2 leading-snug text-soft">
                No keys {objects.length + nodes.length > 0 ? 'on what is picked' : 'yet'}. Pick{' '}
                {animating ? 'something' : 'objects or cards'} and press K, or click a channel's letter.
              </li>
            )}
          </ul>
          <KeysArea
            rows={seen}
            inks={inks}
            mode={mode}
            view={view}
            onView={setView}
            chosen={chosen}
            onChosen={setChosen}
            frame={frame}
            onFrame={(f) => send(uiSet({ frame: f, playing: false }))}
            onFocus={() => root.current?.focus()}
            top={top}
            onScroll={scroll}
          />
        </div>
      </section>
    </ContextMenu>
  );
}
