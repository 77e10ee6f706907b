import { z } from 'zod';
import { id, pointSetSchema, vec3 } from '../fields.ts';
import { defineKind } from './kind.ts';

/** What shows a mesh: its own, or what graphs make. */
export const mesh = defineKind({
  type: 'mesh',
  label: 'mesh',
  tag: 'mesh',
  fits: ['mesh', 'locator'],
  drawn: 'mesh',
  holds: false,
  fields: {
    /** Content id of the asset, where it brings a mesh of its own. */
    mesh: id.nullable(),
    sets: z.array(pointSetSchema).max(200).readonly(),
    /** Colour on the stage of meshes without materials: linear r, g, b; null is the stage's own clay. */
    colour: vec3.nullable(),
  },
  fresh: { mesh: null, sets: [], colour: null },
  source: ['mesh', 'sets'],
});
