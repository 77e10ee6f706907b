import {
  arrivalOf,
  movedKeys,
  stretchedFrame,
  stretchedKeys,
  type Key,
  changeTracks,
  chosenAt,
  type ChosenKeys,
  type TrackRow,
} from '@umberfish/core';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { curveOf, FrameLines, KeyMark, Ruler, seenKeys, Values } from './keys-drawing.tsx';
import { boundsOf, StretchBox, stretchTo, type Bounds, type Side } from './stretch-box.tsx';
import { frameAt, ROW, RULER, valueAt, xOf, yOf, zoomed, type Box, type KeysView } from './view.ts';

interface Props {
  rows: readonly TrackRow[];
  /** Inks of the curves, by row. */
  inks: ReadonlyMap<string, string>;
  mode: 'rows' | 'curves';
  view: KeysView;
  onView(v: KeysView): void;
  chosen: ChosenKeys;
  onChosen(c: ChosenKeys): void;
  frame: number;
  onFrame(f: number): void;
  onFocus(): void;
  /** Pixels that rows are scrolled by, and what scrolls them. */
  top: number;
  onScroll(pixels: number): void;
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
  | {
      kind: 'stretch';
      from: [number, number];
      side: Side;
      bounds: Bounds;
      rows: readonly TrackRow[];
      chosen: ChosenKeys;
      gesture: string;
    }
  | { kind: 'handle'; row: TrackRow; key: Key; side: 'in' | 'out'; gesture: string };

/** Keys over frames: squares in rows, or curves with their handles. */
export function KeysArea({ rows, inks, mode, view, onView, chosen, onChosen, frame, onFrame, onFocus, top, onScroll }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<Box>({ width: 600, height: 170 });
  const [drag, setDrag] = useState<Drag | null>(null);
  const range = useStore((s) => selectProject(s)?.range) ?? { first: 1, last: 2 };

  useLayoutEffect(() => {
    const element = svg.current?.parentElement;
    if (!element) return;
    const measure = () => setBox({ width: Math.max(50, element.clientWidth), height: Math.max(60, element.clientHeight) });
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
      // Some systems turn a wheel sideways while Shift is held.
      const turned = e.deltaY || e.deltaX;
      if (e.shiftKey && mode === 'rows') onScroll(turned);
      else if (e.shiftKey) {
        const about = valueAt(view, box, e.clientY - at.top);
        const f = Math.exp(turned * 0.0015);
        onView({ ...view, low: about + (view.low - about) * f, high: about + (view.high - about) * f });
      } else onView(zoomed(view, Math.exp(e.deltaY * 0.0015), frameAt(view, box, e.clientX - at.left)));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [view, box, mode, onView, onScroll]);

  /** Where a row begins. */
  const rowAt = (i: number) => RULER + i * ROW - top;
  const y = (i: number, key: Key) => (mode === 'curves' ? yOf(view, box, key.value) : rowAt(i) + ROW / 2);
  const isSeen = (i: number) => mode === 'curves' || (rowAt(i + 1) > RULER && rowAt(i) < box.height);
  const bounds = useMemo(() => boundsOf(rows, chosen), [rows, chosen]);
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
    if (target.dataset.grip && bounds)
      return setDrag({
        kind: 'stretch',
        from: [px, py],
        side: target.dataset.grip as Side,
        bounds,
        rows,
        chosen,
        gesture,
      });
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
      const values = mode === 'curves' && !e.shiftKey ? valueAt(view, box, py) - valueAt(view, box, drag.from[1]) : 0;
      if (!drag.moved && Math.hypot(px - drag.from[0], py - drag.from[1]) < 3) return;
      if (!drag.moved) setDrag({ ...drag, moved: true });
      // Always from where they were when the drag began, so that nothing it passes over is lost.
      const label = drag.copies ? 'Copy keys' : 'Move keys';
      applyEdit(
        label,
        changeTracks(drag.rows, drag.chosen, (t, f) =>
          movedKeys(t, f, (k) => ({ frame: k.frame + frames, value: Number((k.value + values).toFixed(6)) }), drag.copies),
        ),
        drag.gesture,
      );
      onChosen(chosenAt(drag.chosen, (f) => f + frames));
    } else if (drag.kind === 'stretch') {
      const frames = frameAt(view, box, px) - frameAt(view, box, drag.from[0]);
      const values = valueAt(view, box, py) - valueAt(view, box, drag.from[1]);
      const { about, by } = stretchTo(drag.bounds, drag.side, frames, values);
      applyEdit(
        'Stretch keys',
        changeTracks(drag.rows, drag.chosen, (t, f) => stretchedKeys(t, f, about, by)),
        drag.gesture,
      );
      onChosen(chosenAt(drag.chosen, (f) => stretchedFrame(f, about.frame, by.time)));
    } else {
      const { row, key, side } = drag;
      const dx = frameAt(view, box, px) - key.frame;
      const dy = valueAt(view, box, py) - (side === 'in' ? arrivalOf(key) : key.value);
      const sign = side === 'out' ? 1 : -1;
      const handle: [number, number] = [sign * Math.max(0.01, dx * sign), dy];
      const other = side === 'out' ? 'in' : 'out';
      const reach = Math.abs(key[other][0]);
      const tied = key.tied ? { [other]: [-sign * reach, (-sign * reach * handle[1]) / handle[0]] } : {};
      const edit = changeTracks([row], new Map([[row.key, [key.frame]]]), (t) => ({
        ...t,
        keys: t.keys.map((k) => (k.frame === key.frame ? { ...k, ...tied, [side]: handle, shape: 'curve' } : k)),
      }));
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
            const [kx, ky] = [xOf(view, box, k.frame), y(i, k)];
            return kx >= x0 && kx <= x1 && ky >= y0 && ky <= y1;
          });
          if (inside.length > 0) next.set(r.key, [...new Set([...(next.get(r.key) ?? []), ...inside.map((k) => k.frame)])]);
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
        <FrameLines view={view} box={box} />
        {mode === 'curves' && <Values view={view} box={box} />}
        {mode === 'rows'
          ? rows.map((r, i) => (
              <line key={r.key} x1={0} x2={box.width} y1={rowAt(i + 1)} y2={rowAt(i + 1)} stroke="var(--line)" />
            ))
          : rows.map((r) => (
              <path
                key={r.key}
                d={curveOf(r, view, box)}
                fill="none"
                stroke={inks.get(r.key)}
                strokeWidth={1.5}
                data-curve={r.key}
              />
            ))}
        <FrameLine x={xOf(view, box, frame)} from={RULER} to={box.height} />
        {rows.map((r, i) =>
          !isSeen(i)
            ? null
            : seenKeys(r, view).map((k) => (
                <KeyMark
                  key={`${r.key} ${k.frame}`}
                  row={r}
                  k={k}
                  x={xOf(view, box, k.frame)}
                  y={y(i, k)}
                  on={isChosen(r, k)}
                  handles={mode === 'curves'}
                  view={view}
                  box={box}
                />
              )),
        )}
        {bounds && (
          <StretchBox
            left={xOf(view, box, bounds.first) - 9}
            right={xOf(view, box, bounds.last) + 9}
            {...(mode === 'rows'
              ? { top: Math.max(RULER, rowAt(bounds.top)) + 1, bottom: Math.min(box.height, rowAt(bounds.bottom + 1)) - 1 }
              : { top: yOf(view, box, bounds.high) - 9, bottom: yOf(view, box, bounds.low) + 9 })}
            inValue={mode === 'curves' && bounds.high > bounds.low}
          />
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
        <Ruler view={view} box={box} />
        <FrameLine x={xOf(view, box, frame)} from={0} to={RULER} />
      </svg>
    </div>
  );
}

/** The frame that is shown. */
const FrameLine = ({ x, from, to }: { x: number; from: number; to: number }) => (
  <line x1={x} x2={x} y1={from} y2={to} stroke="var(--umber)" strokeWidth={1.5} pointerEvents="none" />
);
