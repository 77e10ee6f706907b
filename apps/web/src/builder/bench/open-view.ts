import type { ReactFlowInstance } from '@xyflow/react';
import { CARD_WIDTH } from '@umberfish/bench-layout';
import { FIT, type BenchNode, type WireEdge } from './flow.ts';

/** Below this zoom cards show their title, their picture and their wires only. */
export const READABLE = 0.45;
/** A graph opens at least at this zoom. */
const OPENS_AT = 0.85;

/**
 * The view that a graph opens with: all of it where that can be read, else a part of it that can: its end, with as much of
 * what leads there as fits.
 */
export async function openView(flow: ReactFlowInstance<BenchNode, WireEdge>): Promise<void> {
  await flow.fitView(FIT);
  if (flow.getZoom() >= OPENS_AT) return;
  const cards = flow.getNodes().filter((n) => n.type === 'card' && !n.hidden);
  const last = cards.reduce((a, b) => (b.position.x > a.position.x ? b : a), cards[0]);
  const pane = document.querySelector('[data-bench] .react-flow');
  if (!last || !pane) return;
  const { width, height } = pane.getBoundingClientRect();
  // The last card stands at the right, in the middle of the height.
  const right = last.position.x + CARD_WIDTH + 24;
  const middle = last.position.y + (last.measured?.height ?? 120) / 2;
  const low = Math.min(...cards.map((c) => c.position.y)) - 60;
  const high = Math.max(...cards.map((c) => c.position.y + (c.measured?.height ?? 120))) + 30;
  const isWhole = (high - low) * OPENS_AT <= height;
  const centre = isWhole ? (low + high) / 2 : middle;
  await flow.setViewport({ x: width - right * OPENS_AT, y: height / 2 - centre * OPENS_AT, zoom: OPENS_AT });
}
