import { z } from 'zod';
import { finite, id, vec3 } from '../fields.ts';
import { defineKind } from './kind.ts';

export const CONTROL_SHAPES = ['ring', 'square', 'ball', 'arrow', 'cross', 'curve'] as const;

/** What is taken hold of on the stage: a shape, in the locator's own space. */
export const controlSchema = z
  .object({
    shape: z.enum(CONTROL_SHAPES),
    /** Metres across; of a drawn curve a factor. */
    size: finite,
    /** Linear r, g, b. */
    colour: vec3,
    /** Where its middle is, metres. */
    offset: vec3,
    /** The curve object whose drawing it takes, in that object's own space. */
    curve: id.nullable(),
    /** Drawn over everything, or hidden behind what is in front. */
    inFront: z.boolean(),
  })
  .readonly();

export type Control = z.infer<typeof controlSchema>;

/** A plain ring. */
export const NEW_CONTROL: Control = {
  shape: 'ring',
  size: 0.4,
  colour: [0.25, 0.03, 0.09],
  offset: [0, 0, 0],
  curve: null,
  inFront: true,
};

/** A place in the scene. */
export const locator = defineKind({
  type: 'locator',
  label: 'locator',
  tag: 'loc',
  fits: ['locator'],
  drawn: 'cross',
  holds: false,
  fields: {
    /** Null: the plain cross. */
    control: controlSchema.nullable(),
  },
  fresh: { control: null },
  source: [],
});
