import { Stroke, type Brush, type PaintSurface, type Vec3 } from '@umberfish/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { Vector3 } from 'three';
import { gestureEnded } from '../../state/project-slice.ts';
import { selectProject, store, useSend, useStore } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import type { DrawnItem } from '../stage/drawn-items.ts';
import { surfaceUnderPointer, type StageThings, type Thing } from '../stage/thing-at.ts';
import { acrossOf, askPaintable, isPaintedOn, numbersOf, paintedNode, tellHeld, writePaint } from './painting.ts';

/** The rim of the brush on the screen: pixels from the corner of the stage. */
export interface Ring {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
}

interface Touch {
  readonly place: Vec3;
  readonly point: number;
  readonly pressure: number;
  readonly positions: Float32Array;
}

/** A stroke that goes on; what is touched before the mesh is known waits. */
interface Ongoing {
  readonly gesture: string;
  stroke: Stroke | null;
  ground: PaintSurface | null;
  readonly waiting: Touch[];
}

/** Painting with the pointer: a drag that begins on a mesh paints, one beside it turns the view. */
export function usePainting(root: RefObject<HTMLDivElement | null>) {
  const send = useSend();
  const isOn = useStore((s) => s.ui.painting !== null);
  const [ring, setRing] = useState<Ring | null>(null);
  const ongoing = useRef<Ongoing | null>(null);

  const isMeant = (item: DrawnItem | undefined): boolean => {
    const node = paintedNode(store.getState());
    return node !== null && item !== undefined && isPaintedOn(node, item);
  };
  const touchOf = (e: PointerEvent, { item, place, point }: Thing): Touch | null =>
    item && place && point !== undefined && isMeant(item)
      ? {
          ...{ place: [place.x, place.y, place.z] as Vec3, point, positions: item.mesh.positions },
          pressure: e.pointerType === 'pen' ? Math.max(0.02, e.pressure) : 1,
        }
      : null;

  const showRing = (all: StageThings, e: PointerEvent, place: Vector3 | undefined) => {
    const at = root.current?.getBoundingClientRect();
    if (!at || !place) return setRing(null);
    const { reach } = store.getState().ui.brush;
    const aside = new Vector3().setFromMatrixColumn(all.view.camera.matrixWorld, 0).multiplyScalar(reach).add(place);
    const [a, b] = [place.clone().project(all.view.camera), aside.project(all.view.camera)];
    const radius = Math.hypot(((b.x - a.x) * all.canvas.width) / 2, ((b.y - a.y) * all.canvas.height) / 2);
    setRing({ x: e.clientX - at.left, y: e.clientY - at.top, radius });
  };

  const paint = (now: Ongoing, touch: Touch) => {
    if (!now.stroke || !now.ground) return void now.waiting.push(touch);
    const { pointCount } = now.ground;
    if (touch.positions.length < pointCount * 3) return;
    const ground = { ...now.ground, positions: touch.positions };
    writePaint(now.stroke.touch(touch.place, touch.point, touch.pressure, ground), pointCount, 'Paint', now.gesture);
  };

  const start = async (now: Ongoing, item: DrawnItem, held: { take: boolean; smooth: boolean }) => {
    const { ui } = store.getState();
    const node = paintedNode(store.getState());
    const project = selectProject(store.getState());
    const mesh = node && (await askPaintable(node, ui.brush.across));
    if (!node || !project || !mesh) return;
    if (mesh.pointCount !== item.mesh.topology.pointCount) {
      ongoing.current = null;
      return void send(
        remarked({ text: 'This has other points than the node that is painted. Show that node to paint on it.', kind: 'wrong' }),
      );
    }
    const brush: Brush = {
      ...ui.brush,
      mode: held.smooth ? 'smooth' : held.take ? (ui.brush.mode === 'take' ? 'add' : 'take') : ui.brush.mode,
    };
    now.ground = { pointCount: mesh.pointCount, positions: item.mesh.positions, neighbours: mesh.neighbours };
    now.stroke = new Stroke(now.ground, brush, numbersOf(node, mesh, ui.brush.locked), acrossOf(project, mesh));
    for (const touch of now.waiting.splice(0)) paint(now, touch);
    if (ongoing.current !== now) finish(now);
  };

  const finish = (now: Ongoing) => {
    send(gestureEnded());
    if (now.stroke) tellHeld(now.stroke.held);
  };

  /** Whether a stroke begins. Alt takes away instead, Shift evens out; Ctrl picks a point. */
  const begin = (all: StageThings, e: PointerEvent): boolean => {
    if (!isOn || e.button !== 0) return false;
    const hit = surfaceUnderPointer(all, e);
    const touch = touchOf(e, hit);
    if (!touch || !hit.item) return false;
    if (e.ctrlKey) {
      send(uiSet({ element: touch.point }));
      return true;
    }
    all.view.controls.enabled = false;
    const now: Ongoing = { gesture: `brush ${performance.now()}`, stroke: null, ground: null, waiting: [touch] };
    ongoing.current = now;
    void start(now, hit.item, { take: e.altKey, smooth: e.shiftKey });
    return true;
  };

  /** Whether a stroke goes on, or the brush is shown where it would paint. */
  const move = (all: StageThings, e: PointerEvent): boolean => {
    if (!isOn) return false;
    if (e.buttons !== 0 && !ongoing.current) return false;
    const hit = surfaceUnderPointer(all, e);
    showRing(all, e, isMeant(hit.item) ? hit.place : undefined);
    const touch = touchOf(e, hit);
    if (ongoing.current && touch) paint(ongoing.current, touch);
    return true;
  };

  const end = (all: StageThings | null): boolean => {
    const now = ongoing.current;
    if (!now) return false;
    ongoing.current = null;
    if (all) all.view.controls.enabled = true;
    // A stroke that is over before the mesh is known is painted when it is.
    if (now.stroke) finish(now);
    return true;
  };

  const leave = () => setRing(null);

  /** Escape ends painting. */
  const onKey = (e: KeyboardEvent): boolean => {
    if (!isOn || e.key !== 'Escape') return false;
    send(uiSet({ painting: null }));
    setRing(null);
    e.preventDefault();
    return true;
  };
  return { isOn, ring: isOn ? ring : null, begin, move, end, leave, onKey };
}
