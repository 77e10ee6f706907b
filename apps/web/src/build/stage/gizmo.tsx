import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { Matrix4, Object3D } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
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
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import type { View } from './view.ts';

const MODES = { move: 'translate', turn: 'rotate', size: 'scale' } as const;

/** The handle on the picked object: writes its own channels, about its pivot; a drag is one step. */
export function Gizmo({ view, objectId }: { view: View; objectId: string }) {
  const { scene, gl, invalidate, camera } = useThree();
  const tool = useStore((s) => s.ui.tool);
  const space = useStore((s) => s.ui.toolSpace);
  const project = useStore(selectProject);
  const proxy = useMemo(() => new Object3D(), []);
  const controls = useMemo(() => new TransformControls(camera, gl.domElement), [camera, gl]);
  const gesture = useRef<string | null>(null);

  useEffect(() => {
    const helper = controls.getHelper();
    scene.add(proxy, helper);
    controls.setSize(0.8);
    controls.setColors('#a8321f', '#5d6638', '#3f5f63', '#8a2f52');
    controls.attach(proxy);
    const onDragging = (e: { value: unknown }) => {
      view.controls.enabled = !e.value;
      gesture.current = e.value ? `gizmo ${performance.now()}` : null;
      if (!e.value) store.dispatch(gestureEnded());
    };
    const onChange = () => {
      if (gesture.current) writeChannels(objectId, proxy, gesture.current);
    };
    controls.addEventListener('dragging-changed', onDragging);
    controls.addEventListener('objectChange', onChange);
    controls.addEventListener('change', () => invalidate());
    return () => {
      view.controls.enabled = true;
      controls.detach();
      scene.remove(proxy, helper);
      controls.dispose();
    };
  }, [controls, proxy, scene, view, invalidate, objectId]);

  useEffect(() => {
    controls.setMode(MODES[tool]);
    controls.setSpace(tool === 'size' ? 'local' : space);
    invalidate();
  }, [controls, tool, space, invalidate]);

  // The handle stands at the pivot: P × C × L × Tp. While it is dragged, it leads and is not put back.
  useEffect(() => {
    const object = project?.objects.find((o) => o.id === objectId);
    if (!project || !object || gesture.current) return;
    const at = parentSpace(objectsById(project.objects), object);
    multiply(at, at, channelsMatrix(object.channels, object.pivot));
    multiply(at, at, translation(object.pivot));
    new Matrix4().fromArray(Array.from(at)).decompose(proxy.position, proxy.quaternion, proxy.scale);
    proxy.updateMatrixWorld();
    invalidate();
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
