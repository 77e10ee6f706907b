import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { Matrix4, Object3D } from 'three';
import type { Matrix } from '@umberfish/core';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { gestureEnded } from '../../state/project-slice.ts';
import { store, useStore } from '../../state/store.ts';
import type { View } from './view.ts';

let isAltHeld = false;
window.addEventListener('pointerdown', (e) => (isAltHeld = e.altKey), { capture: true });

/** Whether Alt was held when the pointer went down. */
export const altHeld = (): boolean => isAltHeld;

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

const MODES = { move: 'translate', turn: 'rotate', size: 'scale', pivot: 'translate' } as const;

/** Gives a handle the arrows, rings or boxes of the chosen tool, along the axes that are chosen. */
export function useTool(controls: TransformControls, invalidate: () => void): void {
  const tool = useStore((s) => s.ui.tool);
  const space = useStore((s) => s.ui.toolSpace);
  useEffect(() => {
    controls.setMode(MODES[tool]);
    controls.setSpace(tool === 'size' ? 'local' : space);
    invalidate();
  }, [controls, tool, space, invalidate]);
}

/** Puts a handle's proxy where a matrix has it. */
export function standAt(proxy: Object3D, at: Readonly<Matrix>): void {
  new Matrix4().fromArray(Array.from(at)).decompose(proxy.position, proxy.quaternion, proxy.scale);
  proxy.updateMatrixWorld();
}
