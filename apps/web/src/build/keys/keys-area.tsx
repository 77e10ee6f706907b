import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import { movedKeys, trackAt, type Key } from '@umberfish/core';
import { changeTracks, type ChosenKeys, type TrackRow } from '../../state/key-edits.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { frameAt, ROW, RULER, stepFor, valueAt, xOf, yOf, zoomed, type Box, type KeysView } from './view.ts';

interface Props {
  rows: readonly TrackRow[];
  mode: 'rows' | 'curves';
  view: KeysView;
  onView(v: KeysView): void;
  chosen: ChosenKeys;
  onChosen(c: ChosenKeys): void;
  frame: number;
  onFrame(f: number): void;
  onFocus(): void;
}

/** What is being dragged. */
type Drag =
  | { kind: 'scrub' }
  | { kind: 'pan'; x: number; view: KeysView }
  | { kind: 'box'; from: [number, number]; to: [number, number] }
  | {
      kind: 'keys';
      from: [number, number];
      rows: readonly TrackRow[];
      chosen: ChosenKeys;
      gesture: string;
      copies: boolean;
      moved: boolean;
    }
  | { kind: 'handle'; row: TrackRow; key: Key; side: 'in' | 'out'; gesture: string };

/** Inks of the page, so that curves can be told from the paper by day and by night. */
const LINE = ['var(--rust)', 'var(--moss)', 'var(--sea)', 'var(--clay)', 'var(--pick)', 'var(--ink)'];
const MANY = 400;

/** Keys over frames: squares in rows, or curves with their handles. */
export function KeysArea({ rows, mode, view, onView, chosen, onChosen, frame, onFrame, onFocus }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<Box>({ width: 600, height: 170 });
  const [drag, setDrag] = useState<Drag | null>(null);
  const range = useStore((s) => selectProject(s)?.range) ?? { first: 1, last: 2 };

  useLayoutEffect(() => {
    const element = svg.current?.parentElement;
    if (!element) return;
    const measure = () =>
      setBox({ width: Math.max(50, element.clientWidth), height: Math.max(60, element.clientHeight) });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  // Wheel listeners of React are passive; zooming must keep the page still.
  useEffect(() => {
    const element = svg.current;
    if (!element) return;
    const onWheel = (e: WheelEvent) => {
      e.preventDefault();
      const at = element.getBoundingClientRect();
      if (e.shiftKey && mode === 'curves') {
        const about = valueAt(view, box, e.clientY - at.top);
        const f = Math.exp(e.deltaY * 0.0015);
        onView({ ...view, low: about + (view.low - about) * f, high: about + (view.high - about) * f });
      } else onView(zoomed(view, Math.exp(e.deltaY * 0.0015), frameAt(view, box, e.clientX - at.left)));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [view, box, mode, onView]);

  const y = (_row: TrackRow, i: number, key: Key) => (mode === 'curves' ? yOf(view, box, key.value) : RULER + i * ROW + ROW / 2); // prettier-ignore
  const isChosen = (row: TrackRow, key: Key) => chosen.get(row.key)?.includes(key.frame) ?? false;
  const local = (e: PointerEvent): [number, number] => {
    const at = svg.current?.getBoundingClientRect();
    return [e.clientX - (at?.left ?? 0), e.clientY - (at?.top ?? 0)];
  };

  const onDown = (e: PointerEvent<SVGSVGElement>) => {
    onFocus();
    e.currentTarget.setPointerCapture(e.pointerId);
    const [px, py] = local(e);
    if (e.button === 1) return setDrag({ kind: 'pan', x: px, view });
    if (e.button !== 0) return;
    const gesture = `keys ${performance.now()}`;
    const target = e.target as SVGElement;
    const row = rows.find((r) => r.key === target.dataset.row);
    const key = row?.track.keys.find((k) => k.frame === Number(target.dataset.frame));
    if (row && key && target.dataset.side) {
      return setDrag({ kind: 'handle', row, key, side: target.dataset.side as 'in' | 'out', gesture });
    }
    if (row && key) {
      let next = chosen;
      if (e.shiftKey) {
        const mine = chosen.get(row.key) ?? [];
        const others = mine.filter((f) => f !== key.frame);
        next = new Map([...chosen, [row.key, others.length === mine.length ? [...mine, key.frame] : others]]);
      } else if (!isChosen(row, key)) next = new Map([[row.key, [key.frame]]]);
      onChosen(next);
      return setDrag({
        kind: 'keys',
        from: [px, py],
        rows,
        chosen: next,
        gesture,
        copies: e.altKey,
        moved: false,
      });
    }
    if (py < RULER) {
      onFrame(Math.round(frameAt(view, box, px)));
      return setDrag({ kind: 'scrub' });
    }
    if (!e.shiftKey) onChosen(new Map());
    setDrag({ kind: 'box', from: [px, py], to: [px, py] });
  };

  const onMove = (e: PointerEvent) => {
    if (!drag) return;
    const [px, py] = local(e);
    if (drag.kind === 'scrub') onFrame(Math.round(frameAt(view, box, px)));
    else if (drag.kind === 'pan') {
      const by = ((drag.x - px) / box.width) * (drag.view.to - drag.view.from);
      onView({ ...drag.view, from: drag.view.from + by, to: drag.view.to + by });
    } else if (drag.kind === 'box') setDrag({ ...drag, to: [px, py] });
    else if (drag.kind === 'keys') {
      const frames = Math.round(frameAt(view, box, px) - frameAt(view, box, drag.from[0]));
      const values =
        mode === 'curves' && !e.shiftKey ? valueAt(view, box, py) - valueAt(view, box, drag.from[1]) : 0;
      if (!drag.moved && Math.hypot(px - drag.from[0], py - drag.from[1]) < 3) return;
      if (!drag.moved) setDrag({ ...drag, moved: true });
      // Always from where they were when the drag began, so that nothing it passes over is lost.
      const label = drag.copies ? 'Copy keys' : 'Move keys';
      applyEdit(
        label,
        changeTracks(drag.rows, drag.chosen, (t, f) => movedKeys(t, f, (k) => ({ frame: k.frame + frames, value: Number((k.value + values).toFixed(6)) }), drag.copies)), // prettier-ignore
        drag.gesture,
      );
      onChosen(new Map([...drag.chosen].map(([row, f]) => [row, f.map((x) => x + frames)])));
    } else {
      const { row, key, side } = drag;
      const dx = frameAt(view, box, px) - key.frame;
      const dy = valueAt(view, box, py) - key.value;
      const sign = side === 'out' ? 1 : -1;
      const handle: [number, number] = [sign * Math.max(0.01, dx * sign), dy];
      const other = side === 'out' ? 'in' : 'out';
      const reach = Math.abs(key[other][0]);
      const tied = key.tied ? { [other]: [-sign * reach, (-sign * reach * handle[1]) / handle[0]] } : {};
      const edit = changeTracks([row], new Map([[row.key, [key.frame]]]), (t) => ({ ...t, keys: t.keys.map((k) => (k.frame === key.frame ? { ...k, ...tied, [side]: handle, shape: 'curve' } : k)) })); // prettier-ignore
      applyEdit('Handle of a key', edit, drag.gesture);
    }
  };

  const onUp = () => {
    if (drag?.kind === 'box') {
      const [x0, x1] = [drag.from[0], drag.to[0]].sort((a, b) => a - b);
      const [y0, y1] = [drag.from[1], drag.to[1]].sort((a, b) => a - b);
      if (x1 - x0 + y1 - y0 > 5) {
        const next = new Map(chosen);
        rows.forEach((r, i) => {
          const inside = r.track.keys.filter((k) => {
            const [kx, ky] = [xOf(view, box, k.frame), y(r, i, k)];
            return kx >= x0 && kx <= x1 && ky >= y0 && ky <= y1;
          });
          if (inside.length > 0)
            next.set(r.key, [...new Set([...(next.get(r.key) ?? []), ...inside.map((k) => k.frame)])]);
        });
        onChosen(next);
      }
    }
    if (drag) store.dispatch(gestureEnded());
    setDrag(null);
  };

  return (
    <div className="relative min-w-0 flex-1 overflow-hidden">
      <svg
        ref={svg}
        width={box.width}
        height={box.height}
        data-keys-area
        className="absolute inset-0 touch-none select-none"
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
      >
        <rect
          x={xOf(view, box, range.first)}
          width={Math.max(0, xOf(view, box, range.last) - xOf(view, box, range.first))}
          y={RULER}
          height={box.height}
          fill="var(--paper-raised)"
        />
        <Ruler view={view} box={box} />
        {mode === 'curves' && <Values view={view} box={box} />}
        {rows.map((r, i) =>
          mode === 'rows' ? (
            <line
              key={r.key}
              x1={0}
              x2={box.width}
              y1={RULER + (i + 1) * ROW}
              y2={RULER + (i + 1) * ROW}
              stroke="var(--line)"
            />
          ) : (
            <path
              key={r.key}
              d={curveOf(r, view, box)}
              fill="none"
              stroke={LINE[i % LINE.length]}
              strokeWidth={1.5}
              data-curve={r.key}
            />
          ),
        )}
        <line
          x1={xOf(view, box, frame)}
          x2={xOf(view, box, frame)}
          y1={0}
          y2={box.height}
          stroke="var(--umber)"
          strokeWidth={1.5}
          pointerEvents="none"
        />
        {rows.map((r, i) =>
          seenKeys(r, view).map((k) => (
            <KeyMark
              key={`${r.key} ${k.frame}`}
              row={r}
              k={k}
              x={xOf(view, box, k.frame)}
              y={y(r, i, k)}
              on={isChosen(r, k)}
              handles={mode === 'curves'}
              view={view}
              box={box}
            />
          )),
        )}
        {drag?.kind === 'box' && (
          <rect
            x={Math.min(drag.from[0], drag.to[0])}
            y={Math.min(drag.from[1], drag.to[1])}
            width={Math.abs(drag.to[0] - drag.from[0])}
            height={Math.abs(drag.to[1] - drag.from[1])}
            fill="var(--pick-wash)"
            fillOpacity={0.4}
            stroke="var(--pick)"
            strokeDasharray="3 2"
          />
        )}
      </svg>
    </div>
  );
}

/** Keys inside the view; of very many, as many as can be told apart. */
function seenKeys(row: TrackRow, view: KeysView): readonly Key[] {
  const inside = row.track.keys.filter((k) => k.frame >= view.from && k.frame <= view.to);
  if (inside.length <= MANY) return inside;
  const step = Math.ceil(inside.length / MANY);
  return inside.filter((_, i) => i % step === 0);
}

/** A key: a square, told from the others by being filled when it is chosen; with its handles. */
function KeyMark({
  row,
  k,
  x,
  y,
  on,
  handles,
  view,
  box,
}: {
  row: TrackRow;
  k: Key;
  x: number;
  y: number;
  on: boolean;
  handles: boolean;
  view: KeysView;
  box: Box;
}) {
  const size = k.shape === 'step' ? 7 : 8;
  const common = { 'data-row': row.key, 'data-frame': k.frame };
  const ends = handles && on && k.shape === 'curve' ? (['in', 'out'] as const) : [];
  return (
    <>
      {ends.map((side) => {
        const [hx, hy] = [xOf(view, box, k.frame + k[side][0]), yOf(view, box, k.value + k[side][1])];
        return (
          <g key={side}>
            <line x1={x} y1={y} x2={hx} y2={hy} stroke="var(--pick)" pointerEvents="none" />
            <circle
              cx={hx}
              cy={hy}
              r={4}
              fill="var(--paper-raised)"
              stroke="var(--pick)"
              {...common}
              data-side={side}
              className="cursor-grab"
            />
          </g>
        );
      })}
      <rect
        x={x - size / 2}
        y={y - size / 2}
        width={size}
        height={size}
        rx={k.shape === 'curve' ? 4 : 0.5}
        fill={on ? 'var(--pick)' : 'var(--paper)'}
        stroke={on ? 'var(--pick)' : 'var(--ink)'}
        strokeWidth={1.5}
        className="cursor-pointer"
        data-key
        data-on={on}
        {...common}
      />
    </>
  );
}

function curveOf(row: TrackRow, view: KeysView, box: Box): string {
  const steps = Math.min(600, Math.ceil(box.width / 2));
  const parts: string[] = [];
  for (let i = 0; i <= steps; i++) {
    const f = view.from + ((view.to - view.from) * i) / steps;
    parts.push(
      `${i === 0 ? 'M' : 'L'}${((box.width * i) / steps).toFixed(1)} ${yOf(view, box, trackAt(row.track, f)).toFixed(1)}`,
    );
  }
  return parts.join('');
}

function Ruler({ view, box }: { view: KeysView; box: Box }) {
  const step = Math.max(1, stepFor(view.to - view.from, box.width, 46));
  const marks: number[] = [];
  for (let f = Math.ceil(view.from / step) * step; f <= view.to && marks.length < 200; f += step)
    marks.push(f);
  return (
    <g className="number" fontSize={10} fill="var(--ink-faint)" pointerEvents="none">
      <line x1={0} x2={box.width} y1={RULER} y2={RULER} stroke="var(--line-strong)" />
      {marks.map((f) => (
        <g key={f}>
          <line
            x1={xOf(view, box, f)}
            x2={xOf(view, box, f)}
            y1={RULER - 4}
            y2={box.height}
            stroke="var(--line)"
          />
          <text x={xOf(view, box, f) + 3} y={RULER - 6}>
            {f}
          </text>
        </g>
      ))}
    </g>
  );
}

function Values({ view, box }: { view: KeysView; box: Box }) {
  const step = stepFor(view.high - view.low, box.height - RULER, 28);
  const marks: number[] = [];
  for (let v = Math.ceil(view.low / step) * step; v <= view.high && marks.length < 60; v += step)
    marks.push(v);
  return (
    <g className="number" fontSize={10} fill="var(--ink-faint)" pointerEvents="none">
      {marks.map((v) => (
        <g key={v}>
          <line x1={0} x2={box.width} y1={yOf(view, box, v)} y2={yOf(view, box, v)} stroke="var(--line)" />
          <text x={3} y={yOf(view, box, v) - 2}>
            {Number(v.toPrecision(6))}
          </text>
        </g>
      ))}
    </g>
  );
}
