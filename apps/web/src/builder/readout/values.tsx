import { ArrowDown, ArrowUp } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore, type KeyboardEvent } from 'react';
import { several, COMPARED, summaryAt, type AttributePlace } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import type { TableHeader } from '../../engine/protocol.ts';
import { store, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { download } from '../../storage/files.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { ContextMenu, type MenuItems } from '../../ui/context-menu.tsx';
import { formatCount, formatNumber } from '../../ui/format.ts';
import { CompareBar, CompareMenu } from './compare-bar.tsx';
import { useRowWindow } from '../../ui/row-window.ts';

const ROW_HEIGHT = 24;

/** Whether a column holds differences of two compared ones. */
const isDifference = (part: string): boolean => part.endsWith(COMPARED[2]);

type Sort = { column: number; descending: boolean } | null;
interface Rows {
  first: number;
  numbers: Float64Array;
  elements: Int32Array;
}

const PLACES: readonly { value: AttributePlace; label: string }[] = [
  { value: 'point', label: 'Points' },
  { value: 'corner', label: 'Corners' },
  { value: 'face', label: 'Faces' },
  { value: 'edge', label: 'Edges' },
];

/** The table of what is looked at: a window of rows at a time, fetched from the worker. */
export function Values() {
  const port = useStore((s) => s.ui.port);
  const picture = useSyncExternalStore(engine.geometry.subscribe, engine.geometry.get);
  const { table } = picture;
  const comparing = useStore((s) => s.ui.pinA !== null);
  const words = useStore((s) => (port ? summaryAt(s.evaluation.reports.get(port.node), port.port)?.words : undefined));
  if (!port && !comparing)
    return <p className="p-4 text-soft">Click an output on a card, a wire, or a rigged object to see its values.</p>;
  if (!table) {
    return (
      <>
        <CompareBar table={null} />
        <p className="p-4 text-soft">
          {comparing && !port ? 'Pick an output to compare with A.' : 'No value arrives here. Messages tell why.'}
        </p>
      </>
    );
  }
  if (words)
    return (
      <p className="p-4 leading-relaxed text-soft">
        A falloff: {words}. It has a weight for every place; Weigh Points makes them a column. Preview (P) paints it on what the
        stage shows.
      </p>
    );
  const name = comparing || !port ? 'comparison' : `${port.node}-${port.port}`;
  return <ValueTable key={name} table={table} name={name} />;
}

function ValueTable({ table, name }: { table: TableHeader; name: string }) {
  const send = useSend();
  const element = useStore((s) => s.ui.element);
  const on = useStore((s) => s.ui.tableOn);
  const isMesh = useStore((s) => {
    const kind = s.ui.port ? s.evaluation.statistics.get(`${s.ui.port.node}.${s.ui.port.port}`)?.kind : undefined;
    return kind === 'mesh';
  });
  const [sort, setSort] = useState<Sort>(null);
  const [rows, setRows] = useState<Rows | null>(null);
  const [jump, setJump] = useState('');
  const body = useRef<HTMLDivElement>(null);
  const window_ = useRowWindow(body, table.rows, ROW_HEIGHT);
  const asked = useRef(0);

  useEffect(() => {
    const mine = ++asked.current;
    void engine.rows(window_.first, window_.visible + 1, sort).then((found) => {
      if (found && mine === asked.current) setRows({ first: window_.first, ...found });
    });
  }, [window_.first, window_.visible, sort, table.version, table.rows]);

  const { scrollTo } = window_;
  const show = useCallback((index: number) => void engine.rowOf(index, sort).then((row) => scrollTo(row)), [sort, scrollTo]);

  // A point marked in the stage is brought into sight.
  const shownElement = useRef<number | null>(null);
  useEffect(() => {
    if (element === null || element === shownElement.current) return;
    shownElement.current = element;
    show(element);
  }, [element, show]);

  const onKey = (e: KeyboardEvent) => {
    const page = Math.max(1, window_.visible - 1);
    const moves: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page };
    if (e.key === 'Home') scrollTo(0);
    else if (e.key === 'End') scrollTo(table.rows - 1);
    else if (moves[e.key]) window_.scrollBy(moves[e.key]);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };

  const names = useMemo(
    () => ({ point: 'point', corner: 'corner', face: 'face', edge: 'edge', copy: 'copy', joint: 'joint', single: '' })[table.on],
    [table.on],
  );
  // Names are longer than numbers.
  const first = table.names ? 112 : 64;
  const grid = {
    gridTemplateColumns: `${first}px repeat(${table.columns.length}, minmax(72px, 1fr))`,
    minWidth: first + 74 * table.columns.length,
  };
  const cycle = (column: number) =>
    setSort((now) =>
      now?.column !== column ? { column, descending: false } : now.descending ? null : { column, descending: true },
    );
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-8 shrink-0 items-center gap-2 border-b border-line px-2 text-xs">
        <span className="number whitespace-nowrap text-soft" data-row-count>
          {formatCount(table.rows)}
        </span>
        {isMesh ? (
          <span className="w-24">
            <Choice
              label="Elements"
              value={on}
              options={PLACES}
              onChange={(v) => send(uiSet({ tableOn: v as AttributePlace, element: null }))}
            />
          </span>
        ) : (
          <span className="text-soft">{table.on === 'single' ? 'one value for all' : several(names)}</span>
        )}
        <span className="flex-1" />
        <CompareMenu />
        <Button
          className="!h-6 !px-1.5 text-xs"
          hint="Save the whole table as CSV, sorted as it is here"
          onClick={() => void engine.csv(sort).then((csv) => csv !== null && download(`${name}.csv`, csv, 'text/csv'))}
        >
          CSV
        </Button>
        {table.rows > 1 && (
          <label>
            <input
              aria-label="Go to index"
              value={jump}
              inputMode="numeric"
              placeholder="Go to index"
              onChange={(e) => setJump(e.target.value)}
              onKeyDown={(e) => {
                e.stopPropagation();
                const index = Number(jump);
                if (e.key !== 'Enter' || jump === '' || !Number.isInteger(index)) return;
                const within = Math.max(0, Math.min(table.rows - 1, index));
                send(uiSet({ element: within }));
                show(within);
              }}
              className="h-6 w-20 rounded border border-line-strong bg-raised px-1.5 text-right outline-none focus:border-pick"
            />
          </label>
        )}
      </div>
      <CompareBar table={table} />
      <ContextMenu itemsAt={(target) => rowMenu(target, table, setSort)}>
        <div className="min-h-0 flex-1 overflow-x-auto overflow-y-hidden">
          <div
            role="grid"
            aria-label="Values"
            aria-rowcount={table.rows}
            className="flex h-full flex-col"
            style={{ minWidth: grid.minWidth }}
          >
            <div
              role="row"
              className="grid h-9 shrink-0 items-end border-b border-line bg-raised pr-3 pb-1 text-xs leading-tight"
              style={grid}
            >
              <span role="columnheader" className="px-2 text-right text-faint">
                {names}
              </span>
              {table.columns.map((c, i) => (
                <span key={i} role="columnheader" className="min-w-0">
                  <button
                    type="button"
                    data-column={i}
                    onClick={() => cycle(i)}
                    aria-label={`Sort by ${c.label} ${c.part}`}
                    className="w-full min-w-0 px-2 text-right hover:text-umber"
                  >
                    <span className="block truncate font-semibold">
                      {c.part && i > 0 && table.columns[i - 1].label === c.label ? '\u00a0' : c.label}
                    </span>
                    <span className="flex items-center justify-end gap-1 text-faint">
                      {sort?.column === i && (sort.descending ? <ArrowDown size={11} /> : <ArrowUp size={11} />)}
                      {c.part} {c.unit || (c.part ? '' : '\u00a0')}
                    </span>
                  </button>
                </span>
              ))}
            </div>
            <div
              ref={body}
              role="rowgroup"
              tabIndex={0}
              onKeyDown={onKey}
              onScroll={window_.onScroll}
              data-first={window_.first}
              data-version={table.version}
              className="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto"
            >
              {/* At least as high as the view: rows hang from its lower end. */}
              <div style={{ height: window_.height, minHeight: '100%' }} />
              <div className="sticky bottom-0 left-0" style={{ height: 0 }}>
                <div className="absolute inset-x-0" style={{ bottom: 0, height: window_.viewHeight }}>
                  {rows &&
                    Array.from(rows.elements, (index, r) => {
                      const on_ = index === element && table.on !== 'single';
                      const changed = table.columns.some(
                        (c, i) => isDifference(c.part) && rows.numbers[r * table.columns.length + i] !== 0,
                      );
                      return (
                        <div
                          key={r}
                          role="row"
                          data-row={index}
                          aria-selected={on_}
                          data-changed-row={changed || undefined}
                          onClick={() => send(uiSet({ element: index }))}
                          className={`number grid cursor-pointer items-center border-b border-line pr-1 text-xs ${changed ? 'shadow-[inset_3px_0_0_var(--clay)]' : ''} ${on_ ? 'bg-pick-wash text-pick' : 'hover:bg-sunk'}`}
                          style={{ ...grid, height: ROW_HEIGHT }}
                        >
                          <span role="rowheader" className="truncate px-2 text-right text-faint" title={table.names?.[index]}>
                            {table.on === 'single' ? '' : (table.names?.[index] ?? index)}
                          </span>
                          {table.columns.map((c, i) => {
                            const v = rows.numbers[r * table.columns.length + i];
                            return (
                              <span
                                key={i}
                                role="gridcell"
                                data-column={i}
                                className={`truncate px-2 text-right ${Number.isFinite(v) ? '' : 'text-rust'} ${isDifference(c.part) ? (v === 0 ? 'text-faint' : 'font-semibold text-umber') : ''}`}
                              >
                                {c.whole ? String(v) : formatNumber(v, 4)}
                              </span>
                            );
                          })}
                        </div>
                      );
                    })}
                </div>
              </div>
            </div>
          </div>
        </div>
      </ContextMenu>
    </div>
  );
}

/** What is offered on a row of the table, and on the head of a column. */
function rowMenu(target: Element, table: TableHeader, onSort: (sort: Sort) => void): MenuItems {
  const cell = target.closest<HTMLElement>('[data-column]');
  const row = target.closest<HTMLElement>('[data-row]');
  const column = cell ? Number(cell.dataset.column) : undefined;
  const copy = (text: string) => void navigator.clipboard.writeText(text.replaceAll('−', '-'));
  const cells = [...(row?.querySelectorAll('[role="gridcell"]') ?? [])].map((c) => c.textContent ?? '');
  const mark = Number(row?.dataset.row);
  const rows: MenuItems = row
    ? [
        ...(table.on === 'point'
          ? [{ label: 'Mark it on the stage', onSelect: () => store.dispatch(uiSet({ element: mark })) }]
          : []),
        ...(column === undefined ? [] : [{ label: 'Copy the number', onSelect: () => copy(cells[column] ?? '') }]),
        { label: 'Copy the row', onSelect: () => copy(cells.join('\t')) },
      ]
    : [];
  if (column === undefined || table.rows < 2) return rows;
  return [
    ...rows,
    ...(rows.length > 0 ? [null] : []),
    { label: 'Smallest first', onSelect: () => onSort({ column, descending: false }) },
    { label: 'Largest first', onSelect: () => onSort({ column, descending: true }) },
    { label: 'In order of the index', onSelect: () => onSort(null) },
  ];
}
