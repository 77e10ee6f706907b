import type { LooseEnd } from './catalogue.ts';

/** What the palette is opened for: a wire end in the air, and where a new node goes (in bench coordinates). */
export interface PaletteRequest {
  readonly end: LooseEnd | null;
  readonly at: { x: number; y: number } | null;
}

/** Asks for the palette; the page shows it. */
export const PALETTE_EVENT = 'umberfish:palette';

export function openPalette(request: PaletteRequest): void {
  window.dispatchEvent(new CustomEvent<PaletteRequest>(PALETTE_EVENT, { detail: request }));
}
