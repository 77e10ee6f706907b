import type { GraphRecord, PortRef } from '@umberfish/core';
import { looseEnd, type LooseEnd } from './catalogue.ts';

/** What the palette is opened for: a wire end in the air, and where a new node goes (in bench coordinates). */
export interface PaletteRequest {
  readonly end: LooseEnd | null;
  readonly at: { x: number; y: number } | null;
  /** Where it opens on the page; in the middle at the top without. */
  readonly screen?: { x: number; y: number };
  /** A node that is replaced by what is chosen. */
  readonly replace?: string;
  /** Only looks for what is there. */
  readonly find?: boolean;
}

/** Asks for the palette; the page shows it. */
export const PALETTE_EVENT = 'umberfish:palette';

export function openPalette(request: PaletteRequest): void {
  window.dispatchEvent(new CustomEvent<PaletteRequest>(PALETTE_EVENT, { detail: request }));
}

/** Offers nodes that give what an input needs, to be placed to the left of its card. */
export function offerFor(graph: GraphRecord, input: PortRef): void {
  const end = looseEnd(graph, input, 'input');
  const at = graph.nodes.find((n) => n.id === input.node)?.position;
  if (end) openPalette({ end, at: at ? { x: at[0] - 196, y: at[1] + 14 } : null });
}
