import { z } from 'zod';
import { animatedSchema, channelsSchema, customChannelSchema, id, name, sixteen, vec3 } from '../fields.ts';
import { chainFields } from './chain.ts';
import { curveFields } from './curve.ts';
import { groupFields } from './group.ts';
import { jointFields } from './joint.ts';
import { locatorFields } from './locator.ts';
import { meshFields } from './mesh.ts';
import { propFields } from './prop.ts';

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

const kind = <const T extends string, F extends z.ZodRawShape>(type: T, fields: F) =>
  z.object({ id, type: z.literal(type), ...common, ...fields }).readonly();

/** An object of any kind; a new kind is a line here and one in `index.ts`. */
export const objectSchema = z.discriminatedUnion('type', [
  kind('group', groupFields()),
  kind('mesh', meshFields()),
  kind('locator', locatorFields()),
  kind('curve', curveFields()),
  kind('prop', propFields()),
  kind('chain', chainFields()),
  kind('joint', jointFields()),
]);

export type ObjectRecord = z.infer<typeof objectSchema>;
