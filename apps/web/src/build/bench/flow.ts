import { memoize, type GraphRecord, type NodeRecord, type WireRecord } from '@umberfish/core';
import type { Edge, Node } from '@xyflow/react';

export const CARD_WIDTH = 160;

export type CardNode = Node<Record<string, never>, 'card'>;
export type WireEdge = Edge<{ wire: WireRecord }, 'wire'>;

const NO_DATA: Record<string, never> = {};

/** Flow items are made once per record: an edit makes new ones only for the records it changed. */
const cardOf = memoize((n: NodeRecord): CardNode => ({
  id: n.id,
  type: 'card',
  position: { x: n.position[0], y: n.position[1] },
  data: NO_DATA,
  width: CARD_WIDTH,
}));
const edgeOf = memoize((w: WireRecord): WireEdge => ({
  id: w.id,
  type: 'wire',
  source: w.from.node,
  sourceHandle: w.from.port,
  target: w.to.node,
  targetHandle: w.to.port,
  data: { wire: w },
}));

/** Cards of a graph; keeps what the flow knows of them (measured sizes, selection) where the record is the same. */
export function syncCards(
  graph: GraphRecord,
  picked: readonly string[],
  before: readonly CardNode[],
): CardNode[] {
  const known = new Map(before.map((n) => [n.id, n]));
  return graph.nodes.map((record) => {
    const fresh = cardOf(record);
    const old = known.get(record.id);
    const selected = picked.includes(record.id);
    if (!old) return selected ? { ...fresh, selected } : fresh;
    const moved = old.position.x !== fresh.position.x || old.position.y !== fresh.position.y;
    return moved || (old.selected ?? false) !== selected
      ? { ...old, position: fresh.position, selected }
      : old;
  });
}

export function syncWires(graph: GraphRecord, before: readonly WireEdge[]): WireEdge[] {
  const known = new Map(before.map((e) => [e.id, e]));
  return graph.wires.map((w) => {
    const old = known.get(w.id);
    return old && old.data?.wire === w ? old : edgeOf(w);
  });
}
