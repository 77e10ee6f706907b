import { CARD_WIDTH, FOLDED_SECTION } from '@umberfish/bench-layout';
import type { Node } from '@xyflow/react';

/** Space between a section's edge and its cards; the title stands above the box. */
const MARGIN = 16;
export const FOLDED_SIZE = FOLDED_SECTION;

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The box round some cards; undefined when there are none. */
export function boxOf(cards: readonly Pick<Node, 'position' | 'measured'>[]): Box | undefined {
  if (cards.length === 0) return undefined;
  let left = Infinity,
    top = Infinity,
    right = -Infinity,
    bottom = -Infinity;
  for (const c of cards) {
    left = Math.min(left, c.position.x);
    top = Math.min(top, c.position.y);
    right = Math.max(right, c.position.x + CARD_WIDTH);
    bottom = Math.max(bottom, c.position.y + (c.measured?.height ?? 120));
  }
  return {
    x: left - MARGIN,
    y: top - MARGIN,
    width: right - left + 2 * MARGIN,
    height: bottom - top + 2 * MARGIN,
  };
}

/** A folded section stands in the middle of where its box was. */
export const foldedPlace = (box: Box): { x: number; y: number } => ({
  x: Math.round(box.x + (box.width - FOLDED_SIZE.width) / 2),
  y: Math.round(box.y + (box.height - FOLDED_SIZE.height) / 2),
});
