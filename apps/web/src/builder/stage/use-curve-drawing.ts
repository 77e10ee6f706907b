import {
  placeOfPart,
  removePoint,
  transformPoint,
  type Matrix,
  type ObjectRecord,
  changeSpline,
  drawPoint,
  type ObjectOf,
  curveOf,
} from '@umberfish/core';
import { useMemo, type KeyboardEvent, type PointerEvent } from 'react';
import { Vector3 } from 'three';
import { applyEdit, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { holds, toOwn } from './curve-points.ts';
import { curveHoldAt, placeForPoint, type StageThings } from './thing-at.ts';

const NO_HOLDS: readonly Vector3[] = [];

/** Drawing and picking points of the curve that is picked, by pointer and keys. */
export function useCurveDrawing(objects: readonly ObjectRecord[], matrixOf: (id: string) => Matrix) {
  const picked = useStore((s) => s.ui.objects);
  const pick = useStore((s) => s.ui.curvePoint);
  const drawing = useStore((s) => s.ui.drawing);
  const snap = useStore((s) => s.ui.snap);
  const send = useSend();
  const object =
    picked.length === 1 ? objects.find((o): o is ObjectOf<'curve'> => o.id === picked[0] && o.type === 'curve') : undefined;

  /** Where what can be taken hold of is, and what is taken, in world space. */
  const places = useMemo(() => {
    const curve = curveOf(object);
    if (!object || !curve) return { holds: NO_HOLDS, taken: null };
    const inWorld = (at: readonly [number, number, number]) => new Vector3(...transformPoint(matrixOf(object.id), at));
    const at = pick && placeOfPart(curve.splines[pick.spline], pick.point, pick.part);
    return { holds: holds(curve, pick).map((h) => inWorld(h.at)), taken: at ? inWorld(at) : null };
  }, [object, pick, matrixOf]);

  /** A click: adds a point while one is drawing, else takes hold of one. Whether it did either. */
  const onClick = (things: StageThings, e: PointerEvent): boolean => {
    if (!object) return false;
    if (!drawing) {
      const hold = curveHoldAt(things, e, object, pick);
      if (hold) send(uiSet({ curvePoint: hold }));
      return hold !== null;
    }
    const spline = object.curve.splines.length - 1;
    const last = object.curve.splines[spline]?.points.at(-1)?.at;
    const matrix = matrixOf(object.id);
    const place = placeForPoint(things, e, last && transformPoint(matrix, last), snap);
    const own = place && toOwn(matrix, place);
    if (own) applyEdit('Draw point', drawPoint(object.id, spline, own));
    return true;
  };

  /** Escape and Enter end drawing or let go; Delete removes the picked point. Whether the key was meant for the curve. */
  const onKey = (e: KeyboardEvent): boolean => {
    if (!object) return false;
    if ((e.key === 'Escape' || e.key === 'Enter') && (drawing || pick)) send(uiSet({ drawing: false, curvePoint: null }));
    else if (pick && (e.key === 'Delete' || e.key === 'Backspace')) {
      applyEdit(
        'Remove point',
        changeSpline(object.id, pick.spline, (s) => removePoint(s, pick.point)),
      );
      send(uiSet({ curvePoint: null }));
    } else return false;
    e.preventDefault();
    return true;
  };

  return { object, pick: drawing ? null : pick, drawing, ...places, onClick, onKey };
}
