import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { Object3D } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { gestureEnded } from '../../state/project-slice.ts';
import { store } from '../../state/store.ts';
import type { View } from './view.ts';

/** What happens while a handle is dragged. A drag is one gesture, so it is one step of the history. */
export interface HandleActions<Start> {
  /** What is remembered of the moment the drag began; undefined refuses it. */
  begin(proxy: Object3D): Start | undefined;
  move(proxy: Object3D, start: Start, gesture: string): void;
}

/** A handle on the stage: the proxy stands where it is, and is taken along by dragging. */
export function useHandle<Start>(view: View, size: number, actions: HandleActions<Start>) {
  const { scene, gl, invalidate, camera } = useThree();
  const proxy = useMemo(() => new Object3D(), []);
  const controls = useMemo(() => new TransformControls(camera, gl.domElement), [camera, gl]);
  const dragging = useRef<{ start: Start; gesture: string } | null>(null);
  const now = useRef(actions);
  now.current = actions;

  useEffect(() => {
    const helper = controls.getHelper();
    scene.add(proxy, helper);
    controls.setSize(size);
    controls.setColors('#a8321f', '#5d6638', '#3f5f63', '#8a2f52');
    controls.attach(proxy);
    const onDragging = (e: { value: unknown }) => {
      view.controls.enabled = !e.value;
      const start = e.value ? now.current.begin(proxy) : undefined;
      dragging.current = start === undefined ? null : { start, gesture: `handle ${performance.now()}` };
      if (!e.value) store.dispatch(gestureEnded());
    };
    const onChange = () => {
      const drag = dragging.current;
      if (drag) now.current.move(proxy, drag.start, drag.gesture);
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
  }, [controls, proxy, scene, view, invalidate, size]);
  return { proxy, controls, invalidate, isDragged: () => dragging.current !== null };
}
