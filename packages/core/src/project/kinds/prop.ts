import { defineKind } from './kind.ts';

/** Something that is carried and shows nothing of its own. */
export const prop = defineKind({
  type: 'prop',
  label: 'prop',
  tag: 'prop',
  fits: ['locator'],
  drawn: 'nothing',
  holds: false,
  fields: {},
  fresh: {},
  source: [],
});
