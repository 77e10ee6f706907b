import { defineKind } from './kind.ts';

/** Something to hang objects under, which graphs can read as one. */
export const group = defineKind({
  type: 'group',
  label: 'group',
  tag: 'group',
  fits: ['group'],
  drawn: 'nothing',
  holds: true,
  fields: {},
  fresh: {},
  source: [],
});
