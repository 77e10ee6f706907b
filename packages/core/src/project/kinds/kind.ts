import { z } from 'zod';
import { animatedSchema, channelsSchema, customChannelSchema, id, name, sixteen, vec3 } from '../fields.ts';

/** What settings of nodes take: objects that bring a mesh, a curve or members, that have a place, or any. */
export type ObjectTakes = 'mesh' | 'any' | 'locator' | 'curve' | 'group';

/** What each is called in a sentence. */
export const TAKES_WORDS: Readonly<Record<ObjectTakes, string>> = {
  mesh: 'a mesh object',
  curve: 'a curve object',
  group: 'a group',
  locator: 'a locator',
  any: 'an object',
};

/** What every object has, besides its id and its kind. */
const common = {
  name,
  parent: id.nullable(),
  channels: channelsSchema,
  /** Channels of the remembered undeformed state. */
  rest: channelsSchema,
  custom: z.array(customChannelSchema).max(200).readonly(),
  /** Keys or expressions of channels, by channel; they stand before the typed numbers. */
  animated: z.record(z.string(), animatedSchema).readonly(),
  /** Channels that neither the stage nor the fields may change, and those that are not shown. */
  locked: z.array(z.string().max(80)).max(300).readonly(),
  hidden: z.array(z.string().max(80)).max(300).readonly(),
  /** The place the channels turn and size about, in the object's own space, metres. */
  pivot: vec3,
  /** A typed or frozen carrier: sixteen numbers, column by column; null is the identity. */
  carrier: sixteen.nullable(),
  visible: z.boolean(),
};

/** All that is particular to a kind of object. */
export interface ObjectKind {
  /** What it is called, in full and in the scene list. */
  readonly label: string;
  readonly tag: string;
  /** What it can stand for in settings, besides those that take any. */
  readonly fits: readonly ObjectTakes[];
  /** What the stage shows of it by itself: its mesh, its curve, a cross where it is, or nothing. */
  readonly drawn: 'mesh' | 'curve' | 'cross' | 'nothing';
  /** Whether graphs read what hangs under it, as one. */
  readonly holds: boolean;
  /** Its own fields that graphs read; where one of them changes, what is made from it is made again. */
  readonly source: readonly string[];
}

/** A kind of object, with the fields that only it has and what they are when it is new. */
export function defineKind<const T extends string, F extends z.ZodRawShape>(
  kind: { readonly type: T; readonly fields: F; readonly fresh: z.infer<z.ZodObject<F>> } & Omit<ObjectKind, 'source'> & {
      readonly source: readonly (keyof F & string)[];
    },
) {
  return { ...kind, schema: z.object({ id, type: z.literal(kind.type), ...common, ...kind.fields }).readonly() };
}
