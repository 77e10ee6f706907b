import { defineKind } from './kind.ts';

/** Joints; so far a place like a prop. */
export const chain = defineKind({
  type: 'chain',
  label: 'chain',
  tag: 'chain',
  fits: ['locator'],
  drawn: 'nothing',
  holds: false,
  fresh: {},
  source: [],
});

/** Its own fields, for the schema. */
export const chainFields = () => ({});
