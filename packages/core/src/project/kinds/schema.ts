import { z } from 'zod';
import { animatedSchema, channelsSchema, customChannelSchema, id, name, sixteen, vec3 } from '../fields.ts';
import { ALL } from './all.ts';

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
  /** Whether it can be picked and dragged on the stage; what hangs under one that cannot, cannot either. */
  pickable: z.boolean(),
};

const schemaOf = <const T extends string, F extends z.ZodRawShape>({ type, fields }: { readonly type: T; readonly fields: F }) =>
  z.object({ id, type: z.literal(type), ...common, ...fields }).readonly();

type SchemaOf<K> = K extends { readonly type: infer T extends string; readonly fields: infer F extends z.ZodRawShape }
  ? ReturnType<typeof schemaOf<T, F>>
  : never;
type SchemasOf<All extends readonly unknown[]> = { readonly [I in keyof All]: SchemaOf<All[I]> };

/** An object of any kind. */
export const objectSchema = z.discriminatedUnion('type', ALL.map(schemaOf) as unknown as SchemasOf<typeof ALL>);

export type ObjectRecord = z.infer<typeof objectSchema>;
