import { useEffect } from 'react';
import { Matrix4, type Object3D } from 'three';
import {
  channelsMatrix,
  decompose,
  identity,
  invert,
  multiply,
  objectsById,
  parentSpace,
  translation,
  type Vec3,
} from '@umberfish/core';
import { changeObject } from '../../state/edits.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { useHandle } from './use-handle.ts';
import type { View } from './view.ts';

const MODES = { move: 'translate', turn: 'rotate', size: 'scale' } as const;

/** The handle on the picked object: writes its own channels, about its pivot; a drag is one step. */
export function Gizmo({ view, objectId }: { view: View; objectId: string }) {
  const tool = useStore((s) => s.ui.tool);
  const space = useStore((s) => s.ui.toolSpace);
  const project = useStore(selectProject);
  const { proxy, controls, invalidate, isDragged } = useHandle<true>(view, 0.8, {
    begin: () => true,
    move: (at, _start, gesture) => writeChannels(objectId, at, gesture),
  });

  useEffect(() => {
    controls.setMode(MODES[tool]);
    controls.setSpace(tool === 'size' ? 'local' : space);
    invalidate();
  }, [controls, tool, space, invalidate]);

  // The handle stands at the pivot: P × C × L × Tp. While it is dragged, it leads and is not put back.
  useEffect(() => {
    const object = project?.objects.find((o) => o.id === objectId);
    if (!project || !object || isDragged()) return;
    const at = parentSpace(objectsById(project.objects), object);
    multiply(at, at, channelsMatrix(object.channels, object.pivot));
    multiply(at, at, translation(object.pivot));
    new Matrix4().fromArray(Array.from(at)).decompose(proxy.position, proxy.quaternion, proxy.scale);
    proxy.updateMatrixWorld();
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whether it is dragged is asked, not followed
  }, [project, objectId, proxy, invalidate]);

  return null;
}

/** Reads channels back from where the handle was taken to. */
function writeChannels(objectId: string, proxy: Object3D, gesture: string): void {
  const { project } = store.getState().project;
  const object = project?.objects.find((o) => o.id === objectId);
  if (!project || !object) return;
  proxy.updateMatrix();
  const inverse = identity();
  if (!invert(inverse, parentSpace(objectsById(project.objects), object))) return;
  const own = multiply(inverse, inverse, Float64Array.from(proxy.matrix.elements));
  const d = decompose(own, object.channels.order);
  const tidy = (v: Vec3, digits: number): Vec3 =>
    v.map((x) => Number(x.toFixed(digits)) + 0) as unknown as Vec3;
  const { pivot } = object;
  const channels = {
    ...object.channels,
    translate: tidy([d.translate[0] - pivot[0], d.translate[1] - pivot[1], d.translate[2] - pivot[2]], 5),
    rotate: tidy(d.anglesInRadians.map((a) => (a * 180) / Math.PI) as unknown as Vec3, 4),
    scale: tidy(d.scale, 5),
  };
  applyEdit(`Move ${object.name}`, changeObject(objectId, { channels }), gesture);
}
