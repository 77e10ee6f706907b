import { z } from 'zod';
import { ROTATION_ORDERS } from '../maths/rotation.ts';

// Without this zod probes for `new Function`, which the page's content security policy forbids and reports.
z.config({ jitless: true });

/*
 * What records consist of: names, numbers, matrices, keys, curves, and the values of settings.
 */

export const id = z.string().min(1).max(80);
export const name = z.string().max(200);
/** Long enough for the weights of any joint: of its name, each character may become several. */
export const attributeName = z.string().max(2500);
export const finite = z.number().finite();
export const vec3 = z.tuple([finite, finite, finite]).readonly();

export const keySchema = z
  .object({
    frame: finite,
    value: finite,
    /** What the way from the key before arrives at, where that is another number: then it jumps here. */
    arrives: finite.optional(),
    /** Handles towards the key before and after: frames and value from the key (`in` from what arrives). */
    in: z.tuple([finite, finite]).readonly(),
    out: z.tuple([finite, finite]).readonly(),
    /** Of the way to the next key. */
    shape: z.enum(['curve', 'straight', 'step']),
    /** Whether the two handles stay in one line. */
    tied: z.boolean(),
  })
  .readonly();

/** What a track does outside its keys: the nearest value, the same again, the same again carried on, or straight on. */
export const TRACK_ENDS = ['hold', 'cycle', 'cycle-on', 'straight'] as const;

/** Keys of one number, in the order of their frames, no two at the same. */
export const trackSchema = z
  .object({
    keys: z.array(keySchema).min(1).max(100_000).readonly(),
    before: z.enum(TRACK_ENDS),
    after: z.enum(TRACK_ENDS),
  })
  .readonly();

/** Something that is worked out at each frame. */
export const animatedSchema = z.union([
  z.object({ expression: z.string().max(10_000) }).readonly(),
  z.object({ keys: trackSchema }).readonly(),
]);

/** A number typed by hand, or an expression or keys, which are worked out at each frame. */
export const numberSourceSchema = z.union([finite, animatedSchema]);

/** What stands in an input that has no wire. */
export const inputValueSchema = z.union([
  numberSourceSchema,
  z.tuple([numberSourceSchema, numberSourceSchema, numberSourceSchema]).readonly(),
  z.boolean(),
  z.string().max(10_000),
]);

const responsePointSchema = z
  .object({
    at: finite,
    value: finite,
    in: z.tuple([finite, finite]).readonly(),
    out: z.tuple([finite, finite]).readonly(),
    shape: z.enum(['curve', 'straight', 'step']),
  })
  .readonly();

export const responseSchema = z
  .object({ points: z.array(responsePointSchema).max(200).readonly(), invert: z.boolean() })
  .readonly();

/** Colours along 0..1, linear red, green and blue, straight between stops. */
export const gradientSchema = z
  .object({
    stops: z
      .array(z.object({ at: finite, colour: vec3 }).readonly())
      .min(1)
      .max(50)
      .readonly(),
  })
  .readonly();

/** Names with a type, such as what a formula takes and gives. */
export const NAME_TYPES = ['number', 'vector', 'colour'] as const;
export const namesSchema = z
  .object({
    names: z
      .array(z.object({ name: z.string().max(60), type: z.enum(NAME_TYPES) }).readonly())
      .max(16)
      .readonly(),
  })
  .readonly();

const pointIndices = z.array(z.number().int().min(0)).max(2_000_000).readonly();

/** Offsets made by hand: the points moved, xyz metres for each, and how many points the mesh had. */
export const offsetsSchema = z
  .object({ points: z.number().int().min(0), index: pointIndices, moves: z.array(finite).readonly() })
  .readonly()
  .refine((o) => o.moves.length === o.index.length * 3, 'there must be three numbers for each point');

/** Points lie in blocks of so many for what is painted on them. */
export const PAINT_BLOCK = 256;

/** Numbers of some points of a block: which of it, and the number of each. */
const paintedBlockSchema = z
  .object({
    index: z
      .array(
        z
          .number()
          .int()
          .min(0)
          .max(PAINT_BLOCK - 1),
      )
      .max(PAINT_BLOCK)
      .readonly(),
    values: z.array(finite).max(PAINT_BLOCK).readonly(),
  })
  .readonly()
  .refine((b) => b.values.length === b.index.length, 'there must be a number for each point');

/**
 * Numbers painted on the points of a mesh: by attribute, and by the number of the block, so that a stroke replaces the
 * blocks that it touches and no others.
 */
export const paintedSchema = z
  .object({
    /** How many points the mesh had. */
    points: z.number().int().min(0),
    columns: z.record(attributeName, z.record(z.string().regex(/^\d{1,5}$/), paintedBlockSchema).readonly()).readonly(),
  })
  .readonly();

export const sixteen = z.array(finite).length(16).readonly();

/** Where all that a constraint reads stood when it was made: world matrices, column by column (DECISIONS 3). */
export const snapshotSchema = z
  .object({
    drivers: z.array(sixteen).max(100).readonly(),
    /** The world of the child's parent, and the carrier the child had. */
    parent: sixteen,
    carrier: sixteen,
    /** The child's own channels as a matrix, and its pivot. */
    child: sixteen,
    pivot: vec3,
  })
  .readonly();

/** Matrices of a node, column by column: one for each span of time between switches. */
export const matricesSchema = z.object({ matrices: z.array(sixteen).max(1000).readonly() }).readonly();

/** How a dial is laid out: what people get hold of. */
export const WAY_CONTROLS = [
  'number',
  'slider',
  'switch',
  'choice',
  'colour',
  'place',
  'response',
  'gradient',
  'object',
  'wire',
] as const;
/** Where the locator stands that a module asks for: at the picked object's origin, the middle or the top of its bounds, or the world's. */
export const WAY_STARTS = ['origin', 'middle', 'top', 'world'] as const;

/** Something that crosses the wall of a module: an input or an output, or a setting of a node inside. */
export const waySchema = z
  .object({
    /** Uses hold on to it; never changed. */
    id: z.string().min(1).max(80),
    name,
    /** Kind of its port; `setting` where it is not a port but a setting of nodes inside. */
    kind: z.string().min(1).max(40),
    unit: z.string().max(20),
    help: z.string().max(2000),
    /** What stands in it until something is typed or connected; null: nothing. */
    default: z.union([inputValueSchema, z.null()]),
    /** What dragging reaches, and whether typing cannot pass it. */
    range: z.object({ min: finite, max: finite, hard: z.boolean() }).readonly().nullable(),
    optional: z.boolean(),
    group: z.string().max(80),
    control: z.enum(WAY_CONTROLS),
    /** Shown only while another way has this value. */
    shown: z
      .object({ way: z.string().max(80), is: z.union([finite, z.boolean(), z.string().max(200)]) })
      .readonly()
      .nullable(),
    start: z.enum(WAY_STARTS),
    /** Settings of nodes inside that it stands for. */
    sets: z
      .array(z.object({ node: id, setting: z.string().max(80) }).readonly())
      .max(200)
      .readonly(),
  })
  .readonly();
export const waysSchema = z.object({ ways: z.array(waySchema).max(500).readonly() }).readonly();

export const settingValueSchema = z.union([
  finite,
  z.boolean(),
  z.string().max(10_000),
  z.null(),
  responseSchema,
  gradientSchema,
  namesSchema,
  offsetsSchema,
  snapshotSchema,
  matricesSchema,
  waysSchema,
  paintedSchema,
]);

export const channelsSchema = z
  .object({
    /** Metres. */
    translate: vec3,
    /** Degrees about x, y, z; applied in `order`. */
    rotate: vec3,
    order: z.enum(ROTATION_ORDERS),
    scale: vec3,
  })
  .readonly();

export const controlPointSchema = z
  .object({
    /** Metres, in the object's own space. */
    at: vec3,
    /** Offsets of the handles towards the point before and the next; only Bézier splines use them. */
    in: vec3,
    out: vec3,
    /** Degrees about the curve. */
    roll: finite,
    /** Factor of what is laid along or swept. */
    width: finite,
  })
  .readonly();

export const splineSchema = z
  .object({
    type: z.enum(['poly', 'bezier', 'b-spline']),
    closed: z.boolean(),
    points: z.array(controlPointSchema).max(10_000).readonly(),
  })
  .readonly();

/** The splines of a curve object, in its own space. */
export const curveSchema = z.object({ splines: z.array(splineSchema).max(1000).readonly() }).readonly();

/** A number of an object's own, that graphs read and animators key. */
export const customChannelSchema = z
  .object({
    /** What graphs and keys call it; never changed. */
    id,
    name,
    value: finite,
    default: finite,
    min: finite,
    max: finite,
    unit: z.string().max(20),
  })
  .readonly();

/** Points of a mesh chosen by hand, under a name; graphs find it as a yes-or-no attribute of the mesh. */
export const pointSetSchema = z.object({ name, points: pointIndices }).readonly();

export type Key = z.infer<typeof keySchema>;
export type KeyTrack = z.infer<typeof trackSchema>;
export type Animated = z.infer<typeof animatedSchema>;
export type Snapshot = z.infer<typeof snapshotSchema>;
export type Matrices = z.infer<typeof matricesSchema>;
export type CustomChannel = z.infer<typeof customChannelSchema>;
export type NumberSource = z.infer<typeof numberSourceSchema>;
export type InputValue = z.infer<typeof inputValueSchema>;
export type SettingValue = z.infer<typeof settingValueSchema>;
export type Channels = z.infer<typeof channelsSchema>;
export type ControlPoint = z.infer<typeof controlPointSchema>;
export type SplineRecord = z.infer<typeof splineSchema>;
export type CurveRecord = z.infer<typeof curveSchema>;
export type PointSet = z.infer<typeof pointSetSchema>;
export type Names = z.infer<typeof namesSchema>;
export type Way = z.infer<typeof waySchema>;
export type Ways = z.infer<typeof waysSchema>;
export type Offsets = z.infer<typeof offsetsSchema>;
export type Painted = z.infer<typeof paintedSchema>;
