import { addObject, newJoint, positionOf, type Matrix, type ObjectRecord, type Vec3 } from '@umberfish/core';
import type { KeyboardEvent, PointerEvent } from 'react';
import { applyEdit, selectProject, store, useSend, useStore } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { middleUnder, placeForPoint, type StageThings } from './thing-at.ts';

/** Drawing joints under the chain or joint that is picked: each click puts the next one, inside of a body in its middle. */
export function useJointDrawing(objects: readonly ObjectRecord[], matrixOf: (id: string) => Matrix) {
  const picked = useStore((s) => s.ui.objects);
  const drawing = useStore((s) => s.ui.drawing);
  const send = useSend();
  const object = picked.length === 1 ? objects.find((o) => o.id === picked[0]) : undefined;
  const isDrawing = drawing && (object?.type === 'chain' || object?.type === 'joint');

  /** A click adds a joint. Whether it did. */
  const onClick = (things: StageThings, e: PointerEvent): boolean => {
    const project = selectProject(store.getState());
    if (!isDrawing || !object || !project) return false;
    const last: Vec3 | undefined = object.type === 'joint' ? positionOf(matrixOf(object.id)) : undefined;
    const place = middleUnder(things, e) ?? placeForPoint(things, e, last, 'none');
    if (!place) return true;
    const made = newJoint(project, object.id, place);
    applyEdit('Draw joint', addObject(made));
    send(objectsPicked([made.id]));
    send(uiSet({ drawing: true }));
    return true;
  };

  /** Escape and Enter end drawing. Whether the key was meant for it. */
  const onKey = (e: KeyboardEvent): boolean => {
    if (!isDrawing || (e.key !== 'Escape' && e.key !== 'Enter')) return false;
    send(uiSet({ drawing: false }));
    e.preventDefault();
    return true;
  };
  return { isDrawing, onClick, onKey };
}
