import { z } from 'zod';
import { finite, name } from '../fields.ts';
import { defineKind } from './kind.ts';
import { controlSchema } from './locator.ts';

const axis = z.union([z.literal(0), z.literal(1), z.literal(2)]);

/** Where a joint may turn to, from its rest, as its parent sees it; degrees. Axes are the joint's own. */
export const limitSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('hinge'), axis, from: finite, to: finite }).readonly(),
  z.object({ kind: z.literal('cone'), axis, lean: finite, from: finite, to: finite }).readonly(),
]);

export type JointLimitRecord = z.infer<typeof limitSchema>;

/** A joint of a chain: it hangs under the chain, or under another joint of it. */
export const joint = defineKind({
  type: 'joint',
  label: 'joint',
  tag: 'joint',
  // A place like a locator, but never the one that is meant where nothing was chosen.
  fits: ['any', 'locator'],
  drawn: 'joint',
  holds: false,
  fields: {
    /** The shape it is taken hold of by; null: its bones. */
    control: controlSchema.nullable(),
    /** For solvers: 0 turns freely, 1 not at all. */
    stiffness: z.number().min(0).max(1),
    /** For the centre of mass: kilograms, or any unit. */
    mass: z.number().min(0).max(1e9),
    /** For solvers; null: it turns as it likes. */
    limit: limitSchema.nullable(),
    /** Names, besides its own, whose weights it takes. */
    also: z.array(name).max(10_000).readonly(),
  },
  fresh: { control: null, stiffness: 0, mass: 1, limit: null, also: [] },
  source: ['stiffness', 'mass', 'limit', 'also'],
});
