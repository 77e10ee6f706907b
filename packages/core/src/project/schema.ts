import { z } from 'zod';
import { ROTATION_ORDERS } from '../maths/rotation.ts';

// Without this zod probes for `new Function`, which the page's content security policy forbids and reports.
z.config({ jitless: true });

export const PROJECT_FORMAT = 'umberfish-project';
export const PROJECT_VERSION = 6;

const id = z.string().min(1).max(80);
const name = z.string().max(200);
const finite = z.number().finite();
const vec3 = z.tuple([finite, finite, finite]).readonly();

const keySchema = z
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

const sixteen = z.array(finite).length(16).readonly();

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

const settingValueSchema = z.union([
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

const controlPointSchema = z
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

const splineSchema = z
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

export const objectSchema = z
  .object({
    id,
    name,
    type: z.enum(['group', 'mesh', 'locator', 'curve', 'prop', 'chain']),
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
    /** Colour on the stage of meshes without materials: linear r, g, b; null is the stage's own clay. */
    colour: vec3.nullable(),
    /** Content id of the mesh asset, for mesh objects that bring their own geometry. */
    mesh: id.nullable(),
    /** What is drawn, for curve objects. */
    curve: curveSchema.nullable(),
    /** The curve as it was remembered; null is the curve as it is. */
    restCurve: curveSchema.nullable(),
    sets: z.array(pointSetSchema).max(200).readonly(),
  })
  .readonly();

/**
 * An object that was removed from the scene while nodes read it: it stands in no list and is never drawn, and goes on
 * as it did (DECISIONS 10). `frames` tells the range its motion was worked out over, where its own keys do not tell it.
 */
export const removedSchema = z
  .object({
    object: objectSchema,
    frames: z.object({ first: z.number().int(), last: z.number().int() }).readonly().nullable(),
  })
  .readonly();

export const nodeSchema = z
  .object({
    id,
    type: z.string().min(1).max(80),
    version: z.number().int().min(1),
    /** Empty: the title of the definition. */
    title: name,
    position: z.tuple([finite, finite]).readonly(),
    inputs: z.record(z.string(), inputValueSchema).readonly(),
    settings: z.record(z.string(), settingValueSchema).readonly(),
    skip: z.boolean(),
    /** Output ports with a probe. */
    probes: z.array(z.string()).readonly(),
  })
  .readonly();

export const wireSchema = z
  .object({
    id,
    from: z.object({ node: id, port: z.string() }).readonly(),
    to: z.object({ node: id, port: z.string() }).readonly(),
    /** Where the wire bends, in order, in bench coordinates. */
    pins: z
      .array(z.tuple([finite, finite]).readonly())
      .max(50)
      .readonly(),
  })
  .readonly();

export const SECTION_TINTS = ['plain', 'sand', 'clay', 'moss', 'slate'] as const;

/** A titled box round some nodes, with a note. A node is in one section at most. */
export const sectionSchema = z
  .object({
    id,
    title: name,
    note: z.string().max(5000),
    tint: z.enum(SECTION_TINTS),
    nodes: z.array(id).max(20_000).readonly(),
    /** Shown as one card. */
    folded: z.boolean(),
  })
  .readonly();

export const graphSchema = z
  .object({
    id,
    name,
    nodes: z.array(nodeSchema).max(20_000).readonly(),
    wires: z.array(wireSchema).max(100_000).readonly(),
    sections: z.array(sectionSchema).max(1000).readonly(),
    /** The node whose geometry or values the stage shows instead of the graph's results. */
    preview: id.nullable(),
  })
  .readonly();

/** Header of a mesh asset in the document; the arrays are kept beside it, under the same id. */
export const assetSchema = z
  .object({
    /** Content hash of the mesh. */
    id,
    name,
    points: z.number().int().min(0),
    faces: z.number().int().min(0),
    /** File it was read from, units and up axis it was read with; for people. */
    origin: z.string().max(500),
  })
  .readonly();

/** The first and the last frame of a range lie within this, either way of 0: eleven hours at 24 frames a second. */
export const FRAME_LIMIT = 1_000_000;

export const projectSchema = z
  .object({
    format: z.literal(PROJECT_FORMAT),
    version: z.literal(PROJECT_VERSION),
    id,
    name,
    /** Frames per second. */
    frameRate: z.number().min(1).max(1000),
    range: z.object({ first: z.number().int(), last: z.number().int() }).readonly(),
    objects: z.array(objectSchema).max(100_000).readonly(),
    removed: z.array(removedSchema).max(10_000).readonly(),
    graphs: z.array(graphSchema).max(1000).readonly(),
    assets: z.array(assetSchema).max(10_000).readonly(),
  })
  .readonly();

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
export type ObjectRecord = z.infer<typeof objectSchema>;
export type RemovedRecord = z.infer<typeof removedSchema>;
export type NodeRecord = z.infer<typeof nodeSchema>;
export type WireRecord = z.infer<typeof wireSchema>;
export type SectionRecord = z.infer<typeof sectionSchema>;
export type ControlPoint = z.infer<typeof controlPointSchema>;
export type SplineRecord = z.infer<typeof splineSchema>;
export type CurveRecord = z.infer<typeof curveSchema>;
export type PointSet = z.infer<typeof pointSetSchema>;
export type Names = z.infer<typeof namesSchema>;
export type Offsets = z.infer<typeof offsetsSchema>;
export type GraphRecord = z.infer<typeof graphSchema>;
export type AssetRecord = z.infer<typeof assetSchema>;
export type Project = z.infer<typeof projectSchema>;

export const REST_CHANNELS: Channels = {
  translate: [0, 0, 0],
  rotate: [0, 0, 0],
  order: 'xyz',
  scale: [1, 1, 1],
};

/** A new project: no objects, no graph, 24 frames a second, frames 1 to 120. */
export function makeProject(projectId: string, projectName: string): Project {
  return {
    format: PROJECT_FORMAT,
    version: PROJECT_VERSION,
    id: projectId,
    name: projectName,
    frameRate: 24,
    range: { first: 1, last: 120 },
    objects: [],
    removed: [],
    graphs: [],
    assets: [],
  };
}

/** A new object at the origin. */
export function makeObject(
  objectId: string,
  objectName: string,
  type: ObjectRecord['type'],
  extras: Partial<ObjectRecord> = {},
): ObjectRecord {
  const channels = extras.channels ?? REST_CHANNELS;
  return {
    id: objectId,
    name: objectName,
    type,
    parent: null,
    channels,
    rest: channels,
    custom: [],
    animated: {},
    locked: [],
    hidden: [],
    pivot: [0, 0, 0],
    carrier: null,
    visible: true,
    colour: null,
    mesh: null,
    curve: null,
    restCurve: null,
    sets: [],
    ...extras,
  };
}
