import { curveSchema } from '../fields.ts';
import { defineKind } from './kind.ts';

/** Splines drawn by hand. */
export const curve = defineKind({
  type: 'curve',
  label: 'curve',
  tag: 'curve',
  fits: ['curve', 'locator'],
  drawn: 'curve',
  holds: false,
  fields: {
    curve: curveSchema,
    /** The curve as it was remembered; null is the curve as it is. */
    restCurve: curveSchema.nullable(),
  },
  fresh: { curve: { splines: [] }, restCurve: null },
  source: ['curve', 'restCurve'],
});
