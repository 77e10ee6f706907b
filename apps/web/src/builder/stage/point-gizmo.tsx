import { movedAxes, type Offsets, setSetting, type Vec3 } from '@umberfish/core';
import { useEffect } from 'react';
import type { Vector3 } from 'three';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { useHandle } from './use-handle.ts';
import type { View } from './view.ts';
import { catalogue } from '../../state/catalogue.ts';

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
  const { proxy, controls, invalidate, isDragged } = useHandle<{ from: Vector3; before: Offsets }>(view, 0.7, {
    begin(handle) {
      const before = offsetsOf(node);
      return before && { from: handle.position.clone(), before };
    },
    move(handle, { from, before }, gesture) {
      write(node, withMove(before, point, points, handle.position.clone().sub(from)), gesture);
    },
  });

  useEffect(() => {
    controls.setMode('translate');
    controls.setSpace('world');
  }, [controls]);

  // While it is dragged the handle leads; else it stands at the point.
  useEffect(() => {
    if (isDragged()) return;
    proxy.position.copy(at);
    proxy.updateMatrixWorld();
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whether it is dragged is asked, not followed
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
  const from = moves.slice(i, i + 3) as unknown as Vec3;
  const to = [from[0] + by.x, from[1] + by.y, from[2] + by.z] as const;
  movedAxes(from, from, to, 5).forEach((v, axis) => (moves[i + axis] = v));
  return { points: before.points || points, index, moves };
}

function write(node: string, offsets: Offsets, gesture: string): void {
  const graph = selectGraph(store.getState());
  if (graph) applyEdit('Move point', setSetting(catalogue(), graph.id, node, 'offsets', offsets), gesture);
}
