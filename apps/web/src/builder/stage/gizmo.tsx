import {
  channelsToStandAt,
  inverseOf,
  localMatrix,
  multiply,
  parentSpace,
  reachOf,
  transformPoint,
  translation,
  type Vec3,
  writeChannels,
} from '@umberfish/core';
import { useEffect } from 'react';
import { Vector3, type Object3D } from 'three';
import { poseNow, usePose } from '../../engine/pose.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, store } from '../../state/store.ts';
import { changePivot, tidied } from '../scene/pose-commands.ts';
import { altHeld, standAt, useHandle, useTool } from './use-handle.ts';
import type { View } from './view.ts';

/** The handle on the picked object: writes its own channels, about its pivot, or the pivot itself; a drag is one step. */
export function Gizmo({ view, objectId }: { view: View; objectId: string }) {
  const pose = usePose();
  const { proxy, controls, invalidate, isDragged } = useHandle<'channels' | 'pivot'>(view, 0.8, {
    begin: () => (altHeld() || store.getState().ui.tool === 'pivot' ? 'pivot' : 'channels'),
    move: (at, what, gesture) => (what === 'pivot' ? writePivot(objectId, at, gesture) : writePlace(objectId, at, gesture)),
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

/** Reads channels back from where the handle was taken to. */
function writePlace(objectId: string, proxy: Object3D, gesture: string): void {
  const pose = poseNow();
  const object = pose?.objects.get(objectId);
  if (!pose || !object) return;
  proxy.updateMatrix();
  const { pivot } = object;
  const world = multiply(
    Float64Array.from(proxy.matrix.elements),
    Float64Array.from(proxy.matrix.elements),
    translation([-pivot[0], -pivot[1], -pivot[2]]),
  );
  const space = parentSpace(pose.objects, object, 'channels', pose.driven);
  const values = channelsToStandAt(object, world, space)?.values;
  if (!values) return;
  const driven = pose.driven(objectId)?.channels ?? {};
  // Only what the tool changes: the others keep their digits, and their keys.
  const part = { move: 'translate', turn: 'rotate', size: 'scale', pivot: '' }[store.getState().ui.tool];
  const mine = Object.entries(tidied(values)).filter(([c]) => c.startsWith(part) && !(c in driven));
  const rounded = Object.fromEntries(mine.map(([c, v]) => [c, Number(v.toFixed(c.startsWith('rotate') ? 4 : 5)) + 0]));
  const { frame, autoKey, animating } = store.getState().ui;
  const open = animating ? reachOf(catalogue(), pose.project).objects.get(objectId) : undefined;
  const given = open ? Object.fromEntries(Object.entries(rounded).filter(([c]) => open.includes(c))) : rounded;
  applyEdit(`Move ${object.name}`, writeChannels(objectId, given, frame, autoKey), gesture);
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
