import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { Object3D, type Vector3 } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import type { Offsets } from '@umberfish/core';
import { setSetting } from '../../state/edits.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import type { View } from './view.ts';

interface Props {
  view: View;
  /** The Hand Offsets node. */
  node: string;
  point: number;
  /** Points of the mesh it works on. */
  points: number;
  at: Vector3;
}

/** The handle on one point: what it is dragged by is added to the offsets of a Hand Offsets node. */
export function PointGizmo({ view, node, point, points, at }: Props) {
  const { scene, gl, invalidate, camera } = useThree();
  const proxy = useMemo(() => new Object3D(), []);
  const controls = useMemo(() => new TransformControls(camera, gl.domElement), [camera, gl]);
  const drag = useRef<{ gesture: string; from: Vector3; before: Offsets } | null>(null);

  useEffect(() => {
    const helper = controls.getHelper();
    scene.add(proxy, helper);
    controls.setSize(0.7);
    controls.setMode('translate');
    controls.setSpace('world');
    controls.setColors('#a8321f', '#5d6638', '#3f5f63', '#8a2f52');
    controls.attach(proxy);
    const onDragging = (e: { value: unknown }) => {
      view.controls.enabled = !e.value;
      const before = offsetsOf(node);
      drag.current = e.value && before ? { gesture: `point ${performance.now()}`, from: proxy.position.clone(), before } : null; // prettier-ignore
      if (!e.value) store.dispatch(gestureEnded());
    };
    const onChange = () => {
      const now = drag.current;
      if (now)
        write(node, withMove(now.before, point, points, proxy.position.clone().sub(now.from)), now.gesture);
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
  }, [controls, proxy, scene, view, invalidate, node, point, points]);

  // While it is dragged the handle leads; else it stands at the point.
  useEffect(() => {
    if (drag.current) return;
    proxy.position.copy(at);
    proxy.updateMatrixWorld();
    invalidate();
  }, [at, proxy, invalidate]);
  return null;
}

function offsetsOf(node: string): Offsets | undefined {
  const record = selectGraph(store.getState())?.nodes.find((n) => n.id === node);
  const value = record?.settings.offsets;
  if (value && typeof value === 'object' && 'moves' in value) return value;
  return record && { points: 0, index: [], moves: [] };
}

/** Offsets with one point moved by some more. */
function withMove(before: Offsets, point: number, points: number, by: Vector3): Offsets {
  const at = before.index.indexOf(point);
  const index = at < 0 ? [...before.index, point] : before.index;
  const moves = at < 0 ? [...before.moves, 0, 0, 0] : [...before.moves];
  const i = (at < 0 ? before.index.length : at) * 3;
  [by.x, by.y, by.z].forEach((v, axis) => (moves[i + axis] = Number((moves[i + axis] + v).toFixed(5))));
  return { points: before.points || points, index, moves };
}

function write(node: string, offsets: Offsets, gesture: string): void {
  const graph = selectGraph(store.getState());
  if (graph) applyEdit('Move point', setSetting(graph.id, node, 'offsets', offsets), gesture);
}
