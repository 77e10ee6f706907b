import {
  compose,
  decompose,
  inverseOf,
  movedAxes,
  multiply,
  ONE,
  resolveGraph,
  type GraphRecord,
  type InputValue,
  type Matrix,
  type NodeRecord,
  type RotationOrder,
  type Vec3,
  unrolled,
  setInput,
  setSetting,
} from '@umberfish/core';
import { useEffect } from 'react';
import type { Object3D, Vector3 } from 'three';
import { applyEdit, selectGraph, store, useStore } from '../../state/store.ts';
import { altHeld, standAt, useHandle, useTool } from './use-handle.ts';
import type { View } from './view.ts';
import { catalogue } from '../../state/catalogue.ts';

/** The picked node, when it is a Transform whose numbers are typed (a handle cannot write through a wire). */
export function transformPicked(graph: GraphRecord | undefined, nodes: readonly string[]): string | undefined {
  if (!graph || nodes.length !== 1) return undefined;
  const node = resolveGraph(catalogue(), graph).get(nodes[0]);
  if (!node?.definition?.handle || node.record.skip) return undefined;
  const isTyped = ['translate', 'rotate', 'scale', 'pivotTurn'].every((p) => !node.wires.has(p) && typedVector(node.record, p));
  return isTyped && (node.settings.sequence ?? 'srt') === 'srt' ? node.record.id : undefined;
}

/** Three typed numbers; undefined when one of them is keyed or an expression. */
function typedVector(node: NodeRecord, port: string): Vec3 | undefined {
  const standard = port === 'scale' ? 1 : 0;
  const v = node.inputs[port] ?? [standard, standard, standard];
  if (typeof v === 'number') return [v, v, v];
  return Array.isArray(v) && v.every((x) => typeof x === 'number') ? (v as unknown as Vec3) : undefined;
}

interface Start {
  readonly what: 'pivot' | 'transform';
  readonly from: Vector3;
  readonly pivot: Vec3;
  /** What is typed, and what the handle stood for in those terms. */
  readonly typed: Parts;
  readonly begin: Parts;
}

/** The numbers of a Transform: metres, degrees, ×. */
type Parts = Readonly<Record<'translate' | 'rotate' | 'scale', Vec3>>;

/** The handle of a Transform node: it edits the node, never an object. It stands where the pivot is taken to. */
export function TransformGizmo({ view, node: id }: { view: View; node: string }) {
  const graph = useStore(selectGraph);
  const node = graph?.nodes.find((n) => n.id === id);
  const pivot = useStore((s) => s.evaluation.reports.get(id)?.outputs.pivot?.single) as Vec3 | undefined;
  const { proxy, controls, invalidate, isDragged } = useHandle<Start>(view, 0.8, {
    begin(at) {
      const typed = node && typedParts(node);
      const begin = pivot && typed && partsAt(node, at, pivot, typed);
      const what = altHeld() || store.getState().ui.tool === 'pivot' ? 'pivot' : 'transform';
      return begin && { what, from: at.position.clone(), pivot, typed, begin };
    },
    move: (at, start, gesture) =>
      start.what === 'pivot' ? writePivot(id, at, start, gesture) : writeTransform(id, at, start, gesture),
  });

  useTool(controls, invalidate);

  useEffect(() => {
    if (!node || !pivot || isDragged()) return;
    const at = multiply(axesOf(node, pivot), axesOf(node, pivot), changeOf(node));
    standAt(proxy, at);
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whether it is dragged is asked, not followed
  }, [node, pivot, proxy, invalidate]);
  return null;
}

const RADIANS = Math.PI / 180;
const radians = (v: Vec3): Vec3 => [v[0] * RADIANS, v[1] * RADIANS, v[2] * RADIANS];

/** The pivot's place and axes in the world. */
const axesOf = (node: NodeRecord, pivot: Vec3): Matrix =>
  compose(pivot, radians(typedVector(node, 'pivotTurn') ?? [0, 0, 0]), 'xyz', ONE);

const orderOf = (node: NodeRecord) => (node.settings.order ?? 'xyz') as RotationOrder;

/** What the node does, seen from its pivot. */
const changeOf = (node: NodeRecord): Matrix =>
  compose(
    typedVector(node, 'translate') ?? [0, 0, 0],
    radians(typedVector(node, 'rotate') ?? [0, 0, 0]),
    orderOf(node),
    typedVector(node, 'scale') ?? ONE,
  );

function find(id: string): { graph: GraphRecord; node: NodeRecord } | undefined {
  const graph = selectGraph(store.getState());
  const node = graph?.nodes.find((n) => n.id === id);
  return graph && node ? { graph, node } : undefined;
}

const tidy = (v: Vec3, digits: number): Vec3 => v.map((x) => Number(x.toFixed(digits)) + 0) as unknown as Vec3;

const typedParts = (node: NodeRecord): Parts => ({
  translate: typedVector(node, 'translate') ?? [0, 0, 0],
  rotate: typedVector(node, 'rotate') ?? [0, 0, 0],
  scale: typedVector(node, 'scale') ?? ONE,
});

/** The numbers with which the node would be where the handle is; the turn as near as can be to the typed one. */
function partsAt(node: NodeRecord, proxy: Object3D, pivot: Vec3, { rotate: near }: Parts): Parts | undefined {
  const into = inverseOf(axesOf(node, pivot));
  if (!into) return undefined;
  proxy.updateMatrix();
  const order = orderOf(node);
  const d = decompose(multiply(into, into, Float64Array.from(proxy.matrix.elements)), order);
  const degrees = d.anglesInRadians.map((a) => a / RADIANS) as unknown as Vec3;
  return { translate: d.translate, rotate: unrolled(degrees, near, order), scale: d.scale };
}

/** Writes the axes that the handle moved since it was taken hold of. */
function writeTransform(id: string, proxy: Object3D, { pivot, typed, begin }: Start, gesture: string): void {
  const found = find(id);
  const now = found && partsAt(found.node, proxy, pivot, typed);
  if (!now) return;
  const { tool } = store.getState().ui;
  const port = tool === 'turn' ? 'rotate' : tool === 'size' ? 'scale' : 'translate';
  const value = movedAxes(typed[port], begin[port], now[port], port === 'rotate' ? 4 : 5);
  applyEdit('Transform by its handle', setInput(found.graph.id, id, port, value as InputValue), gesture);
}

/** Takes the pivot along with the handle: from now on it is typed. */
function writePivot(id: string, proxy: Object3D, { from, pivot }: Start, gesture: string): void {
  const found = find(id);
  if (!found) return;
  const by = proxy.position.clone().sub(from);
  const at = tidy([pivot[0] + by.x, pivot[1] + by.y, pivot[2] + by.z], 5);
  const { graph } = found;
  applyEdit(
    'Move the pivot of a Transform',
    (p) => setInput(graph.id, id, 'pivotPlace', at)(setSetting(catalogue(), graph.id, id, 'pivot', 'typed')(p)),
    gesture,
  );
}
