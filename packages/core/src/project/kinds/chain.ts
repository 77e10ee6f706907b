import { defineKind } from './kind.ts';

/** Joints: those that hang under it. Nothing of its own is drawn. */
export const chain = defineKind({
  type: 'chain',
  label: 'chain',
  tag: 'chain',
  fits: ['chain', 'locator'],
  drawn: 'nothing',
  holds: false,
  fields: {},
  fresh: {},
  source: [],
});
