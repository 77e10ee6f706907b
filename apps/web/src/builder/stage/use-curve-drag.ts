import { useRef, type PointerEvent } from 'react';
import { Vector3 } from 'three';
import { changeSpline, movePart, placeOfPart, transformPoint, type CurvePick, type ObjectOf } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { snapped, toOwn } from './curve-points.ts';
import { curveHoldAt, inSightPlane, placeUnder, type StageThings } from './thing-at.ts';

/** A pointer that moved less than this has clicked (pixels). */
const STILL = 4;

interface Drag {
  readonly object: ObjectOf<'curve'>;
  readonly pick: CurvePick;
  /** Where it was in the world when it was taken. */
  readonly from: Vector3;
  readonly down: { readonly clientX: number; readonly clientY: number };
  readonly gesture: string;
  moves: boolean;
}

/** Points of curves are dragged as they are seen, without picking their curve first. */
export function useCurveDrag() {
  const drag = useRef<Drag | null>(null);

  /** Takes hold of the point under the pointer, of any curve that may be picked. Whether there is one. */
  const begin = (things: StageThings, e: PointerEvent): boolean => {
    const { ui } = store.getState();
    // A handle that is under the pointer has taken it already.
    if (e.button !== 0 || e.shiftKey || ui.drawing || ui.choosing || !things.view.controls.enabled) return false;
    const curves = things.objects.filter((o) => o.type === 'curve' && things.pickable.has(o.id)) as ObjectOf<'curve'>[];
    // The picked one first: where several lie on one another it is the one that is meant.
    const inOrder = [...curves].sort((a, b) => Number(ui.objects.includes(b.id)) - Number(ui.objects.includes(a.id)));
    for (const object of inOrder) {
      const pick = curveHoldAt(things, e, object, ui.objects.includes(object.id) ? ui.curvePoint : null);
      const at = pick && placeOfPart(object.curve.splines[pick.spline], pick.point, pick.part);
      if (!pick || !at) continue;
      const from = new Vector3(...transformPoint(things.matrixOf(object.id), at));
      drag.current = { object, pick, from, down: e, gesture: `curve point ${performance.now()}`, moves: false };
      things.view.controls.enabled = false;
      return true;
    }
    return false;
  };

  /** Takes it along. Whether something is dragged. */
  const move = (things: StageThings, e: PointerEvent): boolean => {
    const d = drag.current;
    if (!d) return false;
    if (!d.moves) {
      if (Math.hypot(e.clientX - d.down.clientX, e.clientY - d.down.clientY) < STILL) return true;
      d.moves = true;
      store.dispatch(objectsPicked([d.object.id]));
      store.dispatch(uiSet({ curvePoint: d.pick }));
    }
    const { snap } = store.getState().ui;
    const onSurface = snap === 'surface' && d.pick.part === 'at' ? placeUnder(things, e) : undefined;
    const place = onSurface ?? inSightPlane(things, e, d.from);
    const own = place && toOwn(things.matrixOf(d.object.id), snapped(place, d.pick.part === 'at' ? snap : 'none'));
    if (!own) return true;
    applyEdit(
      'Move curve point',
      changeSpline(d.object.id, d.pick.spline, (s) => movePart(s, d.pick.point, d.pick.part, own)),
      d.gesture,
    );
    return true;
  };

  /** Lets go. Whether something was dragged: else it was a click. */
  const end = (things: StageThings | null): boolean => {
    const d = drag.current;
    drag.current = null;
    if (!d) return false;
    if (things) things.view.controls.enabled = true;
    if (d.moves) store.dispatch(gestureEnded());
    return d.moves;
  };

  return { begin, move, end };
}
