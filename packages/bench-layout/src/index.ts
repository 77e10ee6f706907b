export { CARD_WIDTH, FOLDED_SECTION } from './card-size.ts';
export { shownPorts, type Around, type ShownPorts } from './fold.ts';
export { readability, type Readability } from './readable.ts';
export type { Tidied } from './tidied.ts';
export { wirePath, type Place } from './wire-path.ts';
