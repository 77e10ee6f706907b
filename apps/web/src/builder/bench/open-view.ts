import type { ReactFlowInstance } from '@xyflow/react';
import type { BenchView } from '../../state/left-off.ts';
import { FIT, type BenchNode, type WireEdge } from './flow.ts';

/** Below this zoom cards show their title, their picture and their wires only. */
export const READABLE = 0.45;
/** A graph opens at least at this zoom. */
const OPENS_AT = 0.85;

/**
 * The view that a graph opens with: all of it where that can be read, else a part of it that can: its beginning, with as
 * much of what follows as fits. A graph that was looked at before opens as it was left, if that shows any of it.
 */
export async function openView(flow: ReactFlowInstance<BenchNode, WireEdge>, left?: BenchView): Promise<void> {
  if (left && showsCard(flow, left)) return void (await flow.setViewport(left));
  await flow.fitView(FIT);
  if (flow.getZoom() >= OPENS_AT) return;
  const cards = flow.getNodes().filter((n) => n.type === 'card' && !n.hidden);
  const first = cards.reduce((a, b) => (b.position.x < a.position.x ? b : a), cards[0]);
  const pane = document.querySelector('[data-bench] .react-flow');
  if (!first || !pane) return;
  const { height } = pane.getBoundingClientRect();
  const low = Math.min(...cards.map((c) => c.position.y)) - ABOVE;
  const high = Math.max(...cards.map((c) => c.position.y + (c.measured?.height ?? 120))) + BESIDE;
  const isWhole = (high - low) * OPENS_AT <= height;
  const centre = isWhole ? (low + high) / 2 : first.position.y + (first.measured?.height ?? 120) / 2;
  await flow.setViewport({ x: (BESIDE - first.position.x) * OPENS_AT, y: height / 2 - centre * OPENS_AT, zoom: OPENS_AT });
}

/** Room above cards, for titles of sections, and beside them (pixels at full size). */
const ABOVE = 60;
const BESIDE = 28;

/** Whether a view shows any card. */
function showsCard(flow: ReactFlowInstance<BenchNode, WireEdge>, view: BenchView): boolean {
  const pane = document.querySelector('[data-bench] .react-flow')?.getBoundingClientRect();
  if (!pane) return false;
  return flow.getNodes().some((n) => {
    const [x, y] = [n.position.x * view.zoom + view.x, n.position.y * view.zoom + view.y];
    const [wide, high] = [(n.measured?.width ?? 0) * view.zoom, (n.measured?.height ?? 0) * view.zoom];
    return n.type === 'card' && !n.hidden && x < pane.width && x + wide > 0 && y < pane.height && y + high > 0;
  });
}
