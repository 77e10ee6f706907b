import { useRef, useState, type PointerEvent, type RefObject } from 'react';
import { SHOWN_PORT } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { store, useSend } from '../../state/store.ts';
import { nodesPicked, objectsPicked, portPicked, uiSet } from '../../state/ui-slice.ts';
import { chosenSet, pointsInBox, pointsUnderBrush, togglePoint, writeSet } from './choose-points.tsx';
import type { DrawnItem } from './drawn-items.ts';
import { curveHoldAt, thingAt, type StageThings } from './thing-at.ts';
import { useCurveDrag } from './use-curve-drag.ts';
import type { usePainting } from '../paint/use-painting.ts';
import type { Standing } from './use-standing.ts';

/** What the pointer is over: its name, and where to tell it, in pixels from the corner of the stage. */
export interface Hover {
  readonly name: string;
  readonly curve?: string;
  readonly x: number;
  readonly y: number;
}

/** A stroke of the brush: the points of the set as they are now. */
interface Stroke {
  readonly points: Set<number>;
  readonly gesture: string;
}

/** A pointer that moved less than this has clicked (pixels). */
const STILL = 4;

/** What is done with the pointer on the stage of Build: picking, marking points, dragging those of curves, boxes. */
export function useStagePointer(
  root: RefObject<HTMLDivElement | null>,
  { things, byId, items }: Pick<Standing, 'things' | 'byId' | 'items'>,
  /** A click that draws; whether it did. */
  draw: (all: StageThings, e: PointerEvent) => boolean,
  /** The item whose points are marked, and whether one is. */
  ruled: DrawnItem | undefined,
  isMarked: boolean,
  painting: ReturnType<typeof usePainting>,
) {
  const send = useSend();
  const [hover, setHover] = useState<Hover | null>(null);
  const [box, setBox] = useState<{ from: [number, number]; to: [number, number] } | null>(null);
  const press = useRef<{ x: number; y: number } | null>(null);
  const [brush, setBrush] = useState<{ x: number; y: number } | null>(null);
  const stroke = useRef<Stroke | null>(null);
  const curveDrag = useCurveDrag();
  const choosing = () => {
    const { ui } = store.getState();
    return ui.choosing ? items.find((i) => i.object === ui.choosing?.object && !i.ghost) : undefined;
  };

  /** While a set is chosen, Shift and a drag take in what lies in a box; with Alt they take it out. */
  const endBox = (e: PointerEvent, all: StageThings | null): boolean => {
    const item = choosing();
    if (!box || !all || !item) return false;
    setBox(null);
    all.view.controls.enabled = true;
    const [x, y] = [Math.min(box.from[0], e.clientX), Math.min(box.from[1], e.clientY)];
    const size = new DOMRect(x, y, Math.abs(e.clientX - box.from[0]), Math.abs(e.clientY - box.from[1]));
    if (size.width + size.height < 6) return false;
    const inside = new Set(pointsInBox(item, all.view, all.canvas, size));
    const before = chosenSet()?.set.points ?? [];
    writeSet(e.altKey ? before.filter((p) => !inside.has(p)) : [...before, ...inside]);
    return true;
  };

  /** While a set is chosen, Ctrl and a drag paint points in; with Alt they take them out. One stroke is one step. */
  const paint = (e: PointerEvent, all: StageThings, stroke: Stroke) => {
    const item = choosing();
    const { item: hit, place } = thingAt(all, e, true);
    const at = root.current?.getBoundingClientRect();
    if (at) setBrush({ x: e.clientX - at.left, y: e.clientY - at.top });
    if (!item || hit !== item || !place) return;
    for (const p of pointsUnderBrush(item, all.view, all.canvas, place)) stroke.points[e.altKey ? 'delete' : 'add'](p);
    writeSet([...stroke.points], 'Paint points', stroke.gesture);
  };
  const endStroke = (all: StageThings | null): boolean => {
    if (!stroke.current) return false;
    stroke.current = null;
    setBrush(null);
    if (all) all.view.controls.enabled = true;
    send(gestureEnded());
    return true;
  };

  const onPointerDown = (e: PointerEvent) => {
    press.current = { x: e.clientX, y: e.clientY };
    const all = things();
    if (!all || painting.begin(all, e) || (!painting.isOn && curveDrag.begin(all, e))) return;
    if (e.ctrlKey && e.button === 0 && choosing()) {
      all.view.controls.enabled = false;
      stroke.current = { points: new Set(chosenSet()?.set.points), gesture: `brush ${performance.now()}` };
      return paint(e, all, stroke.current);
    }
    if (!e.shiftKey || !choosing() || e.button !== 0) return;
    all.view.controls.enabled = false;
    setBox({ from: [e.clientX, e.clientY], to: [e.clientX, e.clientY] });
  };

  const onPointerUp = (e: PointerEvent) => {
    const from = press.current;
    press.current = null;
    const all = things();
    if (painting.end(all) || endStroke(all) || endBox(e, all) || curveDrag.end(all)) return;
    if (!all || !from || Math.hypot(e.clientX - from.x, e.clientY - from.y) > STILL || e.button !== 0) return;
    if (!draw(all, e)) click(e, all);
  };

  const click = (e: PointerEvent, all: StageThings) => {
    const { ui } = store.getState();
    // A click beside what is painted leaves the brush in the hand.
    if (painting.isOn) return;
    const { item, point, curve, locator } = thingAt(all, e, true);
    if (curve) return takeCurve(curve, all, e);
    if (locator) return send(objectsPicked(e.shiftKey ? [...new Set([...ui.objects, locator])] : [locator]));
    if (ui.choosing) {
      if (item && item === choosing() && point !== undefined) togglePoint(point);
      return;
    }
    if (!item) {
      send(objectsPicked([]));
      return send(nodesPicked([]));
    }
    // With a table open, a click marks the point in it; else it picks the object.
    if (ui.port && point !== undefined && !e.shiftKey) {
      if (item.ref && ui.port.port === SHOWN_PORT && item.ref.node !== ui.port.node) send(portPicked(item.ref));
      return send(uiSet({ element: point, tableOn: 'point' }));
    }
    // From the marked point to another one is measured.
    if (e.shiftKey && isMarked && item === ruled && point !== undefined) return send(uiSet({ measured: point }));
    if (item.object) send(objectsPicked([item.object]));
    else if (item.ref) send(portPicked(item.ref));
    if (point !== undefined) send(uiSet({ element: point }));
  };

  /** Picks a curve, with the point that was clicked at. */
  const takeCurve = (id: string, all: StageThings, e: PointerEvent) => {
    send(objectsPicked([id]));
    const curve = all.objects.find((o) => o.id === id);
    if (curve?.type === 'curve') send(uiSet({ curvePoint: curveHoldAt(all, e, curve, null) }));
  };

  const onPointerMove = (e: PointerEvent) => {
    const all = things();
    // What was let go beside the stage is let go.
    if (e.buttons === 0 && (painting.end(all) || endStroke(all) || curveDrag.end(all))) return;
    if (all && painting.move(all, e)) return setHover(null);
    if (all && stroke.current) return paint(e, all, stroke.current);
    if (all && e.buttons !== 0 && curveDrag.move(all, e)) return setHover(null);
    if (box) return setBox({ ...box, to: [e.clientX, e.clientY] });
    if (!all || e.buttons !== 0) return setHover(null);
    const found = thingAt(all, e, false);
    const thin = found.locator ?? found.curve;
    const name = thin ? byId.get(thin)?.name : found.item?.name;
    const at = root.current?.getBoundingClientRect();
    setHover(name && at ? { name, curve: found.curve, x: e.clientX - at.left, y: e.clientY - at.top } : null);
  };

  const onPointerLeave = () => {
    setHover(null);
    painting.leave();
  };
  return { hover, box, brush, on: { onPointerDown, onPointerUp, onPointerMove, onPointerLeave } };
}
