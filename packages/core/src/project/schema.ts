import { z } from 'zod';
import { handOutSchema, poseSchema, sidesSchema, USUAL_SIDES } from './animation.ts';
import { finite, id, inputValueSchema, name, settingValueSchema, vec3 } from './fields.ts';
import { objectSchema } from './kinds/schema.ts';

export const PROJECT_FORMAT = 'umberfish-project';
export const PROJECT_VERSION = 12;

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
    /** The id of its definition; of a use: its module (`modules.ts`). */
    type: z.string().min(1).max(200),
    version: z.number().int().min(1),
    /** Empty: the title of the definition. */
    title: name,
    position: z.tuple([finite, finite]).readonly(),
    inputs: z.record(z.string(), inputValueSchema).readonly(),
    settings: z.record(z.string(), settingValueSchema).readonly(),
    skip: z.boolean(),
    /** Output ports with a probe. */
    probes: z.array(z.string()).readonly(),
    /** Of a use: what nodes inside have for it alone, by their path: snapshots and the like (DECISIONS 3), probes. */
    own: z
      .record(
        z.string().max(3000),
        z
          .object({ settings: z.record(z.string(), settingValueSchema).readonly(), probes: z.array(z.string()).readonly() })
          .readonly(),
      )
      .readonly()
      .optional(),
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
    /** Graphs of one folder are listed together; a folder is there as long as a graph names it. */
    folder: name.optional(),
    nodes: z.array(nodeSchema).max(20_000).readonly(),
    wires: z.array(wireSchema).max(100_000).readonly(),
    sections: z.array(sectionSchema).max(1000).readonly(),
    /** The node whose geometry or values the stage shows instead of the graph's results. */
    preview: z.string().min(1).max(3000).nullable(),
  })
  .readonly();

/** Dials as they stand for a proof, by way. */
const dialsSchema = z.record(z.string(), inputValueSchema).readonly();
const proven = {
  dials: dialsSchema,
  /** Why it may fail all the same; empty: it may not. Shown ever after. */
  known: z.string().max(1000),
};
const proof = <K extends string, F extends z.ZodRawShape>(kind: K, fields: F) =>
  z.object({ kind: z.literal(kind), ...proven, ...fields }).readonly();

/** What a module promises, checked on its example. Lengths in metres. */
export const proofSchema = z.discriminatedUnion('kind', [
  /** Out is in, to within a length. */
  proof('keeps-rest', { within: finite }),
  /** Over a dial's range, or the frames where no dial is named, nothing jumps (DECISIONS 27). */
  proof('no-pop', { dial: z.string().max(80).nullable(), from: finite, to: finite }),
  /** Edges stay between these factors of what they were. */
  proof('stretch', { least: finite, most: finite }),
  /** The volume stays, to within a fraction of it. */
  proof('volume', { within: finite }),
  /** The area stays, likewise. */
  proof('area', { within: finite }),
  proof('stays-closed', {}),
  proof('finite', {}),
  proof('same-order', {}),
  /** Places of some points, as they were recorded: xyz each, evenly spread over all. */
  proof('as-recorded', { frame: z.number().int(), places: z.array(finite).max(3000).readonly(), within: finite }),
  /** Time, as a multiple of copying the positions. */
  proof('cost', { most: finite }),
]);

/** What proofs are tried on. */
export const EXAMPLES = ['ball', 'block', 'sheet'] as const;

/**
 * A module that the project uses: a graph with a Way In and a Way Out, as of a published version (0: of none). There may be
 * several versions of one. `edited` tells that it was changed since.
 */
export const moduleSchema = z
  .object({
    id,
    version: z.number().int().min(0).max(1_000_000),
    edited: z.boolean(),
    name,
    summary: z.string().max(2000),
    tags: z.array(z.string().max(60)).max(30).readonly(),
    example: z.enum(EXAMPLES),
    proofs: z.array(proofSchema).max(100).readonly(),
    graph: graphSchema,
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

/** A place from which the stage was looked at, to come back to; metres, in the world. */
export const viewSchema = z.object({ id, name, eye: vec3, target: vec3 }).readonly();

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
    modules: z.array(moduleSchema).max(2000).readonly(),
    assets: z.array(assetSchema).max(10_000).readonly(),
    views: z.array(viewSchema).max(100).readonly(),
    /** What animators are given; null: everything. */
    handOut: handOutSchema.nullable(),
    poses: z.array(poseSchema).max(2000).readonly(),
    sides: sidesSchema,
    /** Handed out to be animated: the rig stays as it is. */
    forAnimation: z.boolean(),
  })
  .readonly();

export type RemovedRecord = z.infer<typeof removedSchema>;
export type NodeRecord = z.infer<typeof nodeSchema>;
export type WireRecord = z.infer<typeof wireSchema>;
export type SectionRecord = z.infer<typeof sectionSchema>;
export type GraphRecord = z.infer<typeof graphSchema>;
export type Proof = z.infer<typeof proofSchema>;
export type ModuleRecord = z.infer<typeof moduleSchema>;
export type AssetRecord = z.infer<typeof assetSchema>;
export type ViewRecord = z.infer<typeof viewSchema>;
export type Project = z.infer<typeof projectSchema>;

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
    modules: [],
    assets: [],
    views: [],
    handOut: null,
    poses: [],
    sides: USUAL_SIDES,
    forAnimation: false,
  };
}
