import { defineKind } from './kind.ts';

/** A place in the scene. */
export const locator = defineKind({
  type: 'locator',
  label: 'locator',
  tag: 'loc',
  fits: ['locator'],
  drawn: 'cross',
  holds: false,
  fresh: {},
  source: [],
});

/** Its own fields, for the schema. */
export const locatorFields = () => ({});
