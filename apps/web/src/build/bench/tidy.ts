import dagre from '@dagrejs/dagre';
import type { GraphRecord } from '@umberfish/core';
import { CARD_WIDTH } from './flow.ts';

/** Places all nodes in columns from left to right along the wires, as tidy as can be; sizes as measured. */
export function tidyPositions(
  graph: GraphRecord,
  heights: ReadonlyMap<string, number>,
): Map<string, readonly [number, number]> {
  const layout = new dagre.graphlib.Graph();
  layout.setGraph({ rankdir: 'LR', nodesep: 28, ranksep: 46, marginx: 0, marginy: 0 });
  layout.setDefaultEdgeLabel(() => ({}));
  for (const n of graph.nodes) layout.setNode(n.id, { width: CARD_WIDTH, height: heights.get(n.id) ?? 120 });
  for (const w of graph.wires) layout.setEdge(w.from.node, w.to.node);
  dagre.layout(layout);
  return new Map(
    graph.nodes.map((n) => {
      const at = layout.node(n.id) as { x: number; y: number; width: number; height: number };
      return [n.id, [Math.round(at.x - at.width / 2), Math.round(at.y - at.height / 2)]];
    }),
  );
}
