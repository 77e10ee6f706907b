import type { ObjectRecord } from '../project/schema.ts';

/** Kinds of objects a setting takes; `locator` is anything that has a place of its own. */
export type ObjectTakes = 'mesh' | 'any' | 'locator' | 'curve' | 'group';

/** What each is called in a sentence. */
export const TAKES_WORDS: Readonly<Record<ObjectTakes, string>> = {
  mesh: 'a mesh object',
  curve: 'a curve object',
  group: 'a group',
  locator: 'a locator',
  any: 'an object',
};

/** All that is particular to a kind of object. */
export interface ObjectKind {
  /** What it is called, in full and in the scene list. */
  readonly label: string;
  readonly tag: string;
  /** Settings it can stand in, besides those that take any. */
  readonly fits: readonly ObjectTakes[];
  /** What the stage shows of it by itself: its mesh, its curve, a cross where it is, or nothing. */
  readonly drawn: 'mesh' | 'curve' | 'cross' | 'nothing';
  /** Whether graphs read what hangs under it, as one. */
  readonly holds: boolean;
}

/** Every kind of object; a new one is a line here, and its name in the schema. */
export const OBJECT_KINDS: Readonly<Record<ObjectRecord['type'], ObjectKind>> = {
  group: { label: 'group', tag: 'group', fits: ['group'], drawn: 'nothing', holds: true },
  mesh: { label: 'mesh', tag: 'mesh', fits: ['mesh', 'locator'], drawn: 'mesh', holds: false },
  locator: { label: 'locator', tag: 'loc', fits: ['locator'], drawn: 'cross', holds: false },
  curve: { label: 'curve', tag: 'curve', fits: ['curve', 'locator'], drawn: 'curve', holds: false },
  prop: { label: 'prop', tag: 'prop', fits: ['locator'], drawn: 'nothing', holds: false },
  chain: { label: 'chain', tag: 'chain', fits: ['locator'], drawn: 'nothing', holds: false },
};

export const kindOf = ({ type }: Pick<ObjectRecord, 'type'>): ObjectKind => OBJECT_KINDS[type];

/** Whether an object can stand in a setting that takes a kind of object. */
export const fitsSetting = (object: ObjectRecord, takes: ObjectTakes): boolean =>
  takes === 'any' || kindOf(object).fits.includes(takes);
