import { z } from 'zod';
import { finite, id, name } from './fields.ts';

/** What of a rig an animator is given, in the order and under the names they see it. */
const partSchema = z.discriminatedUnion('kind', [
  z
    .object({
      kind: z.literal('object'),
      /** The object, and which of its channels. */
      object: id,
      channels: z.array(z.string().max(80)).max(300).readonly(),
      /** Empty: its own name. */
      name,
    })
    .readonly(),
  z
    .object({
      kind: z.literal('dials'),
      /** A node of a graph (a use of a module, or any other), and which of its inputs. */
      node: id,
      dials: z.array(z.string().max(80)).max(300).readonly(),
      name,
      /** What a dial is called here, where its own name says too little. */
      names: z.record(z.string().max(80), name).readonly().optional(),
    })
    .readonly(),
]);

export const handOutSchema = z
  .object({
    pages: z
      .array(z.object({ id, name, parts: z.array(partSchema).max(2000).readonly() }).readonly())
      .max(100)
      .readonly(),
  })
  .readonly();

const dialValue = z.union([finite, z.boolean(), z.tuple([finite, finite, finite]).readonly()]);

/** Numbers of channels by object, and what stands in inputs by node: a whole pose or a part of one. */
export const poseValuesSchema = z
  .object({
    objects: z.record(z.string().max(200), z.record(z.string().max(80), finite).readonly()).readonly(),
    dials: z.record(z.string().max(200), z.record(z.string().max(80), dialValue).readonly()).readonly(),
  })
  .readonly();

export const poseSchema = z
  .object({
    id,
    name,
    /** A small picture of the stage, as a data URL. */
    picture: z.string().max(400_000).startsWith('data:image/').nullable(),
    values: poseValuesSchema,
  })
  .readonly();

/** Two words that tell the sides of a rig apart in names. */
export const sidesSchema = z
  .array(z.object({ left: z.string().min(1).max(40), right: z.string().min(1).max(40) }).readonly())
  .max(20)
  .readonly();

export type HandOut = z.infer<typeof handOutSchema>;
export type HandOutPage = HandOut['pages'][number];
export type HandOutPart = HandOutPage['parts'][number];
export type PoseValues = z.infer<typeof poseValuesSchema>;
export type DialValue = z.infer<typeof dialValue>;
export type PoseRecord = z.infer<typeof poseSchema>;
export type Sides = z.infer<typeof sidesSchema>;

/** The pairs that a new project has. */
export const USUAL_SIDES: Sides = [
  { left: 'left', right: 'right' },
  { left: 'Left', right: 'Right' },
];
