import { matrixAt } from '../maths/matrix.ts';
import { memoize } from '../memo.ts';
import type { Driven, DrivenBy } from './world.ts';

/** What graphs put into all objects of a project, packed: thousands of carriers are one array to make and to send. */
export interface PackedDriven {
  /** Objects that a graph puts a carrier under, and the carriers in their order, sixteen numbers each. */
  readonly carried: readonly string[];
  readonly carriers: Readonly<Float64Array>;
  /** Numbers that graphs put into channels, by object. */
  readonly channels: ReadonlyMap<string, NonNullable<Driven['channels']>>;
}

export const NOTHING_DRIVEN: PackedDriven = {
  carried: [],
  carriers: new Float64Array(),
  channels: new Map(),
};

/** The same, in the form that world matrices are asked with. Kept with what is packed. */
export const drivenIn = memoize(({ carried, carriers, channels }: PackedDriven): DrivenBy => {
  const places = new Map(carried.map((object, i) => [object, i]));
  return (object) => {
    const place = places.get(object);
    const numbers = channels.get(object);
    if (place === undefined) return numbers && { channels: numbers };
    return { carrier: matrixAt(carriers, place), channels: numbers };
  };
});
