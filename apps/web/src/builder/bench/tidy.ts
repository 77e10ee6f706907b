import type { GraphRecord } from '@umberfish/core';
import { CARD_WIDTH, type Place } from '@umberfish/bench-layout';

/** The box round cards at their places. */
export function boxRound(places: ReadonlyMap<string, Place>, heights: ReadonlyMap<string, number>) {
  const all = [...places];
  const x = Math.min(...all.map(([, p]) => p[0]));
  const y = Math.min(...all.map(([, p]) => p[1]));
  const right = Math.max(...all.map(([, p]) => p[0] + CARD_WIDTH));
  const bottom = Math.max(...all.map(([id, p]) => p[1] + (heights.get(id) ?? 120)));
  return { x, y, width: right - x, height: bottom - y };
}

/** Where picked cards go when they are aligned: left edges, tops, or spread evenly downwards. */
export function alignedPositions(
  graph: GraphRecord,
  ids: readonly string[],
  how: 'left' | 'top' | 'spread',
  heights: ReadonlyMap<string, number>,
): Map<string, Place> {
  const nodes = graph.nodes.filter((n) => ids.includes(n.id)).sort((a, b) => a.position[1] - b.position[1]);
  const left = Math.min(...nodes.map((n) => n.position[0]));
  const top = Math.min(...nodes.map((n) => n.position[1]));
  let next = top;
  return new Map(
    nodes.map((n) => {
      const y = next;
      next += (heights.get(n.id) ?? 120) + 24;
      return [n.id, how === 'left' ? [left, n.position[1]] : how === 'top' ? [n.position[0], top] : [n.position[0], y]];
    }),
  );
}
