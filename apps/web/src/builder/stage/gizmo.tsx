import {
  channelsToStandAt,
  handleWrites,
  heldWords,
  inverseOf,
  localMatrix,
  multiply,
  parentSpace,
  reachOf,
  transformPoint,
  translation,
  type Vec3,
  writeChannels,
  type HandleDrag,
} from '@umberfish/core';
import { useEffect } from 'react';
import { Vector3, type Object3D } from 'three';
import { poseNow, usePose } from '../../engine/pose.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, store } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { changePivot, tidied } from '../scene/pose-commands.ts';
import { altHeld, standAt, useHandle, useTool } from './use-handle.ts';
import type { View } from './view.ts';

/** The handle on the picked object: writes its own channels, about its pivot, or the pivot itself; a drag is one step. */
export function Gizmo({ view, objectId }: { view: View; objectId: string }) {
  const pose = usePose();
  const { proxy, controls, invalidate, isDragged } = useHandle<HandleDrag | 'pivot'>(view, 0.8, {
    begin: (at) => {
      if (store.getState().ui.heldAxes !== null) store.dispatch(uiSet({ heldAxes: null }));
      if (altHeld() || store.getState().ui.tool === 'pivot') return 'pivot';
      const begin = channelsAt(objectId, at);
      return begin && { begin, moved: new Set() };
    },
    move: (at, drag, gesture) => (drag === 'pivot' ? writePivot(objectId, at, gesture) : writePlace(objectId, at, drag, gesture)),
  });

  useTool(controls, invalidate);

  // The handle stands at the pivot: P × C × L × Tp. While it is dragged, it leads and is not put back.
  useEffect(() => {
    const object = pose?.objects.get(objectId);
    if (!pose || !object || isDragged()) return;
    const at = parentSpace(pose.objects, object, 'channels', pose.driven);
    multiply(at, at, localMatrix(object, 'channels', pose.driven));
    multiply(at, at, translation(object.pivot));
    standAt(proxy, at);
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whether it is dragged is asked, not followed
  }, [pose, objectId, proxy, invalidate]);

  return null;
}

/** The channels with which the object would stand where the handle is: of the part that the tool changes. */
function channelsAt(objectId: string, proxy: Object3D): Record<string, number> | undefined {
  const pose = poseNow();
  const object = pose?.objects.get(objectId);
  if (!pose || !object) return undefined;
  proxy.updateMatrix();
  const { pivot } = object;
  const world = multiply(
    Float64Array.from(proxy.matrix.elements),
    Float64Array.from(proxy.matrix.elements),
    translation([-pivot[0], -pivot[1], -pivot[2]]),
  );
  const values = channelsToStandAt(object, world, parentSpace(pose.objects, object, 'channels', pose.driven))?.values;
  const part = { move: 'translate', turn: 'rotate', size: 'scale', pivot: '' }[store.getState().ui.tool];
  return values && Object.fromEntries(Object.entries(tidied(values)).filter(([c]) => c.startsWith(part)));
}

/** Writes the axes that the handle moved, and says which of them stay. */
function writePlace(objectId: string, proxy: Object3D, drag: HandleDrag, gesture: string): void {
  const pose = poseNow();
  const object = pose?.objects.get(objectId);
  const now = channelsAt(objectId, proxy);
  if (!pose || !object || !now) return;
  const { frame, autoKey, animating, heldAxes } = store.getState().ui;
  const open = animating ? (reachOf(catalogue(), pose.project).objects.get(objectId) ?? []) : undefined;
  const { values, held } = handleWrites(object, drag, now, { driven: pose.driven(objectId)?.channels ?? {}, open });
  const words = held.length > 0 ? heldWords(object, held) : null;
  if (words !== heldAxes) store.dispatch(uiSet({ heldAxes: words }));
  if (Object.keys(values).length > 0) applyEdit(`Move ${object.name}`, writeChannels(objectId, values, frame, autoKey), gesture);
}

/** Puts the pivot where the handle was taken to; the object stays. */
function writePivot(objectId: string, proxy: Object3D, gesture: string): void {
  const pose = poseNow();
  const into = pose && inverseOf(pose.world(objectId));
  if (!into) return;
  const at = proxy.getWorldPosition(new Vector3());
  const pivot = transformPoint(into, [at.x, at.y, at.z]).map((v) => Number(v.toFixed(5)) + 0) as unknown as Vec3;
  applyEdit('Move the pivot', changePivot(objectId, pivot), gesture);
}
