import type { z } from 'zod';

/** What settings of nodes take: objects that bring a mesh, a curve or members, that have a place, or any. */
export type ObjectTakes = 'mesh' | 'any' | 'locator' | 'curve' | 'group' | 'chain';

/** What each is called in a sentence. */
export const TAKES_WORDS: Readonly<Record<ObjectTakes, string>> = {
  mesh: 'a mesh object',
  curve: 'a curve object',
  group: 'a group',
  chain: 'a chain of joints',
  locator: 'a locator',
  any: 'an object',
};

/** All that is particular to a kind of object. */
export interface ObjectKind {
  /** What it is called, in full and in the scene list. */
  readonly label: string;
  readonly tag: string;
  /** What it can stand for in settings, besides those that take any. */
  readonly fits: readonly ObjectTakes[];
  /** What the stage shows of it by itself: its mesh, its curve, a cross where it is, the bones from it, or nothing. */
  readonly drawn: 'mesh' | 'curve' | 'cross' | 'joint' | 'nothing';
  /** Whether graphs read what hangs under it, as one. */
  readonly holds: boolean;
  /** Its own fields that graphs read; where one of them changes, what is made from it is made again. */
  readonly source: readonly string[];
}

/**
 * A kind of object: `fields` are its own, `fresh` is what they are when it is new, `source` names those that graphs read.
 */
export const defineKind = <const T extends string, F extends z.ZodRawShape>(
  kind: {
    readonly type: T;
    readonly fields: F;
    readonly fresh: z.infer<z.ZodObject<F>>;
    readonly source: readonly (keyof F & string)[];
  } & Omit<ObjectKind, 'source'>,
) => kind;
