import type { Place } from './wire-path.ts';

/** Where everything stands in a tidied graph. */
export interface Tidied {
  readonly places: ReadonlyMap<string, Place>;
  /** Pins of the wires that would run behind a card without; others run straight. */
  readonly pins: ReadonlyMap<string, readonly Place[]>;
}
