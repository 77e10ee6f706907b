import { summaryAt, type WireRecord, setPins } from '@umberfish/core';
import { wirePath, type Place } from '@umberfish/bench-layout';
import { BaseEdge, EdgeLabelRenderer, useReactFlow, type EdgeProps } from '@xyflow/react';
import { memo, type PointerEvent } from 'react';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectGraph, store, useStore } from '../../state/store.ts';
import type { WireEdge } from './flow.ts';

/** A wire: one ink line for a single, a double line for a column; it bends at its pins. */
export const Wire = memo(function Wire(props: EdgeProps<WireEdge>) {
  const { sourceX, sourceY, targetX, targetY, selected, data } = props;
  const wire = data?.wire;
  const form = useStore((s) => (wire ? summaryAt(s.evaluation.reports.get(wire.from.node), wire.from.port)?.form : undefined));
  const pins = (!data?.bare && wire?.pins) || [];
  const ends: Place[] = [[sourceX, sourceY], ...pins, [targetX, targetY]];
  const path = wirePath(ends);
  const ink = selected ? 'var(--pick)' : 'var(--umber)';
  const doubled = form === 'column';
  return (
    <>
      <BaseEdge path={path} interactionWidth={14} style={{ stroke: ink, strokeWidth: doubled ? 4 : 1.4 }} className="wire-ink" />
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
