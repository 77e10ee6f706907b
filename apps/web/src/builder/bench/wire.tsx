import { summaryAt, type WireRecord, setPins } from '@umberfish/core';
import { wirePath, type Place } from '@umberfish/bench-layout';
import { BaseEdge, EdgeLabelRenderer, useReactFlow, type EdgeProps } from '@xyflow/react';
import { memo, type PointerEvent } from 'react';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectGraph, store, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { wireWords } from './wire-words.ts';
import type { WireEdge } from './flow.ts';

/** A wire: one ink line for a single, a double line for a column; it bends at its pins. */
export const Wire = memo(function Wire(props: EdgeProps<WireEdge>) {
  const { sourceX, sourceY, targetX, targetY, selected, data } = props;
  const wire = data?.wire;
  const form = useStore((s) => (wire ? summaryAt(s.evaluation.reports.get(wire.from.node), wire.from.port)?.form : undefined));
  const pins = (!data?.bare && wire?.pins) || [];
  const ends: Place[] = [[sourceX, sourceY], ...pins, [targetX, targetY]];
  const path = wirePath(ends);
  const isHovered = useStore(
    (s) => wire !== undefined && s.ui.hovered?.node === wire.from.node && s.ui.hovered.port === wire.from.port,
  );
  const ink = selected || isHovered ? 'var(--pick)' : 'var(--umber)';
  const doubled = form === 'column';
  const width = (doubled ? 4 : 1.4) + (isHovered ? 0.8 : 0);
  return (
    <>
      <g
        data-hovered={isHovered || undefined}
        onPointerEnter={() => wire && restOn(wire.from)}
        onPointerLeave={() => restOn(null)}
      >
        <BaseEdge path={path} interactionWidth={14} style={{ stroke: ink, strokeWidth: width }} className="wire-ink" />
      </g>
      {wire && isHovered && <WireLabel wire={wire} at={middleOf(ends)} />}
      {doubled && <path d={path} fill="none" stroke="var(--paper)" strokeWidth={1.6} className="pointer-events-none" />}
      {wire && (selected || pins.length > 0) && (
        <EdgeLabelRenderer>
          {selected &&
            !data?.bare &&
            ends
              .slice(1)
              .map((end, i) => (
                <PinDot
                  key={`new ${i}`}
                  wire={wire}
                  index={i}
                  at={[(end[0] + ends[i][0]) / 2, (end[1] + ends[i][1]) / 2]}
                  isNew
                />
              ))}
          {pins.map((at, i) => (
            <PinDot key={i} wire={wire} index={i} at={at} />
          ))}
        </EdgeLabelRenderer>
      )}
    </>
  );
});

/** The pointer rests on a wire so long before it is told what runs through it (ms). */
const RESTS_FOR = 140;
let resting = 0;

/** All wires of an output are shown, and what runs through them is told, once the pointer rests on one. */
function restOn(ref: WireRecord['from'] | null): void {
  window.clearTimeout(resting);
  if (ref === null) {
    if (store.getState().ui.hovered) store.dispatch(uiSet({ hovered: null }));
    return;
  }
  resting = window.setTimeout(() => store.dispatch(uiSet({ hovered: { node: ref.node, port: ref.port } })), RESTS_FOR);
}

/** Half way along the bends of a wire. */
function middleOf(ends: readonly Place[]): Place {
  const i = Math.floor((ends.length - 1) / 2);
  const [a, b] = [ends[i], ends[i + 1]];
  return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
}

/** What runs through a wire: how many, and from where to where they go. */
function WireLabel({ wire, at }: { wire: WireRecord; at: Place }) {
  const { node, port } = wire.from;
  const summary = useStore((s) => summaryAt(s.evaluation.reports.get(node), port));
  const statistics = useStore((s) => s.evaluation.statistics.get(`${node}.${port}`));
  const words = summary && wireWords(summary, statistics);
  if (!words) return null;
  return (
    <EdgeLabelRenderer>
      <span
        data-wire-label
        className="number pointer-events-none absolute rounded-sm bg-ink px-1.5 py-0.5 text-[10.5px] whitespace-nowrap text-paper"
        style={{ transform: `translate(-50%, calc(-100% - 6px)) translate(${at[0]}px, ${at[1]}px)`, zIndex: 6 }}
      >
        {words}
      </span>
    </EdgeLabelRenderer>
  );
}

/** A bend of a wire, or on a picked wire the place for a new one: drag it; double-click takes it away. */
function PinDot({ wire, index, at, isNew = false }: { wire: WireRecord; index: number; at: Place; isNew?: boolean }) {
  const flow = useReactFlow();
  const write = (pins: readonly Place[], gesture: string | null) => {
    const graph = selectGraph(store.getState());
    if (graph) applyEdit(isNew ? 'Add wire pin' : 'Move wire pin', setPins(graph.id, wire.id, pins), gesture);
  };
  const down = (e: PointerEvent<HTMLButtonElement>) => {
    e.stopPropagation();
    const { pins } = wire;
    const gesture = `pin ${performance.now()}`;
    let moved = false;
    const move = (m: globalThis.PointerEvent) => {
      const to = flow.screenToFlowPosition({ x: m.clientX, y: m.clientY });
      const place: Place = [Math.round(to.x), Math.round(to.y)];
      moved = true;
      write(
        isNew ? [...pins.slice(0, index), place, ...pins.slice(index)] : pins.map((p, i) => (i === index ? place : p)),
        gesture,
      );
    };
    const up = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      if (moved) store.dispatch(gestureEnded());
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
  };
  return (
    <button
      type="button"
      data-pin={isNew ? undefined : index}
      data-new-pin={isNew ? index : undefined}
      aria-label={isNew ? 'Bend the wire here' : 'Wire pin'}
      title={isNew ? 'Drag to bend the wire' : 'Drag to move; double-click to straighten'}
      onPointerDown={down}
      onDoubleClick={(e) => {
        e.stopPropagation();
        if (!isNew)
          write(
            wire.pins.filter((_, i) => i !== index),
            null,
          );
      }}
      className={`nodrag nopan pointer-events-auto absolute size-2.5 cursor-move rounded-full border ${isNew ? 'border-dashed border-pick bg-paper' : 'border-umber bg-raised'}`}
      style={{ transform: `translate(-50%, -50%) translate(${at[0]}px, ${at[1]}px)`, zIndex: 5 }}
    />
  );
}
