import { memoize, type GraphRecord, type NodeRecord, type SectionRecord, type WireRecord } from '@umberfish/core';
import type { Edge, Node } from '@xyflow/react';
import { CARD_WIDTH } from '@umberfish/bench-layout';
import { boxOf, FOLDED_SIZE, foldedPlace } from './section-box.ts';

/** Titles of sections stand above their boxes, so there is more room at the top. */
export const FIT = { padding: { top: '60px', right: 0.04, bottom: 0.06, left: 0.04 }, maxZoom: 1 } as const;

export type CardNode = Node<Record<string, never>, 'card'>;
export type SectionNode = Node<{ section: SectionRecord }, 'section'>;
export type BenchNode = CardNode | SectionNode;
export type WireEdge = Edge<{ wire: WireRecord; bare?: boolean }, 'wire'>;

const NO_DATA: Record<string, never> = {};

/** Flow items are made once per record: an edit makes new ones only for the records it changed. */
const cardOf = memoize((n: NodeRecord): CardNode => ({
  id: n.id,
  type: 'card',
  position: { x: n.position[0], y: n.position[1] },
  data: NO_DATA,
  width: CARD_WIDTH,
  zIndex: 1,
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

/** The section each node is in, by node id; worked out once per graph. */
export const sectionOf = memoize((graph: GraphRecord): ReadonlyMap<string, SectionRecord> => {
  const found = new Map<string, SectionRecord>();
  for (const s of graph.sections) for (const n of s.nodes) found.set(n, s);
  return found;
});

/**
 * Cards and sections of a graph; keeps what the flow knows of them (measured sizes, selection) where the record is the
 * same. Cards of a folded section are hidden.
 */
export function syncNodes(
  graph: GraphRecord,
  picked: readonly string[],
  section: string | null,
  before: readonly BenchNode[],
): BenchNode[] {
  const known = new Map(before.map((n) => [n.id, n]));
  const sections = sectionOf(graph);
  const cards = graph.nodes.map((record): CardNode => {
    const fresh = cardOf(record);
    const old = known.get(record.id) as CardNode | undefined;
    const selected = picked.includes(record.id);
    const hidden = sections.get(record.id)?.folded ?? false;
    if (!old) return selected || hidden ? { ...fresh, selected, hidden } : fresh;
    const moved = old.position.x !== fresh.position.x || old.position.y !== fresh.position.y;
    return moved || (old.selected ?? false) !== selected || (old.hidden ?? false) !== hidden
      ? { ...old, position: fresh.position, selected, hidden }
      : old;
  });
  return [...boxes(graph, cards, section, known), ...cards];
}

/** The boxes of all sections round where their cards are now; called again whenever cards move or are measured. */
export function boxes(
  graph: GraphRecord,
  cards: readonly BenchNode[],
  picked: string | null,
  known: ReadonlyMap<string, BenchNode>,
): SectionNode[] {
  const at = new Map(cards.map((c) => [c.id, c]));
  return graph.sections.flatMap((s): SectionNode[] => {
    const box = boxOf(s.nodes.flatMap((n) => at.get(n) ?? []));
    if (!box) return [];
    const place = s.folded ? foldedPlace(box) : box;
    const size = s.folded ? FOLDED_SIZE : box;
    const old = known.get(s.id) as SectionNode | undefined;
    const selected = picked === s.id;
    const same =
      old?.data.section === s &&
      old.position.x === place.x &&
      old.position.y === place.y &&
      old.width === size.width &&
      old.height === size.height &&
      (old.selected ?? false) === selected;
    if (same) return [old];
    return [
      {
        ...old,
        id: s.id,
        type: 'section',
        position: { x: place.x, y: place.y },
        width: size.width,
        height: size.height,
        data: { section: s },
        selected,
        // Picked items are lifted by 1000; a box must stay behind its cards all the same.
        zIndex: s.folded ? 1 : -1001,
        dragHandle: '.section-handle',
      },
    ];
  });
}

/** Wires; those into and out of a folded section end at it, those within it are left out. */
export function syncWires(graph: GraphRecord, before: readonly WireEdge[]): WireEdge[] {
  const known = new Map(before.map((e) => [e.id, e]));
  const sections = sectionOf(graph);
  return graph.wires.flatMap((w): WireEdge[] => {
    const from = sections.get(w.from.node);
    const to = sections.get(w.to.node);
    const source = from?.folded ? from.id : w.from.node;
    const target = to?.folded ? to.id : w.to.node;
    if (source === target && from?.folded) return [];
    const old = known.get(w.id);
    if (old?.data?.wire === w && old.source === source && old.target === target) return [old];
    const plain = edgeOf(w);
    if (source === w.from.node && target === w.to.node) return [plain];
    return [
      {
        ...plain,
        source,
        target,
        ...(from?.folded && { sourceHandle: 'out' }),
        ...(to?.folded && { targetHandle: 'in' }),
        data: { wire: w, bare: true },
      },
    ];
  });
}
