import type { LaneView } from '../../maths/lane-view.ts';
import type { ChainPose } from '../../scene/joints.ts';
import type { ObjectTakes } from '../../project/kinds/index.ts';
import type { FormulaValue, ProgramBuilder, ProgramRunner } from '../../expression/index.ts';
import type { AttributePlace, AttributeRole, AttributeType } from '../../geometry/attributes.ts';
import type { InputValue, SettingValue } from '../../project/fields.ts';
import type { Project } from '../../project/schema.ts';
import type { Copies } from '../../copies/copies.ts';
import type { Curves } from '../../curves/curves.ts';
import type { Chain } from '../../chains/chain.ts';
import type { Falloff } from '../../falloffs/falloff.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import type { Matrix } from '../../maths/matrix.ts';
import type { Vec3 } from '../../maths/vector.ts';
import type { Problem } from './problems.ts';
import type { ElementKind, Value, ValueKind } from './values.ts';

/**
 * What an input takes: a kind, or `value`: a number or a vector, single or column alike; `weight`: numbers, or a falloff
 * that is weighed on the points of another input; `geometry`: a mesh, curves or copies; `place`: a point, or a
 * matrix, whose turn counts too.
 */
export type PortKind = ValueKind | 'value' | 'weight' | 'geometry' | 'place';

/** Limits of a typed number: `min`/`max` are what dragging reaches; with `hard`, typing cannot pass them. */
export interface NumberRange {
  min: number;
  max: number;
  hard?: boolean;
}

export interface InputPort {
  id: string;
  label: string;
  kind: PortKind;
  help: string;
  /** What stands in the port until something is typed or connected; none: a wire is required. */
  default?: InputValue;
  range?: NumberRange;
  /** Shown after the number, e.g. `m`. */
  unit?: string;
  /** Takes one value for the whole node, never a column. */
  uniform?: boolean;
  /** Copies become points here because that is what the node is for: its card need not say so. */
  joinsCopies?: boolean;
  /** May stay without a wire and without a default. */
  optional?: boolean;
  /** A place in the world: where it is when the node is put on a mesh, as that stands. */
  starts?: 'middle' | 'top';
  /** Of a weight: how much of the node's change each point gets; none at all is worth a note. */
  isEffect?: boolean;
  /** Of a weight: the input whose points a falloff is weighed on; `mesh` when left out. */
  weighs?: string;
}

/** The value that nodes without outputs make, of an object or for the stage; it has no wire, the stage and bakes ask for it. */
export const SHOWN_PORT = 'shown';

export interface OutputPort {
  id: string;
  label: string;
  /** `value`: a number or a vector, decided by the inputs. */
  kind: PortKind;
  help: string;
  unit?: string;
}

/** A dial of a node that is not a port. */
export type Setting = {
  id: string;
  label: string;
  help: string;
  /** Whether it matters with the other settings as they are; left out: always. */
  shown?: (settings: Settings) => boolean;
} & (
  | { type: 'choice'; options: readonly { value: string; label: string }[]; default: string }
  | { type: 'toggle'; default: boolean }
  | { type: 'number'; default: number; range?: NumberRange; unit?: string; whole?: boolean }
  /** `attributeOf`: it names an attribute, of the mesh at that input; `jointOf`: a joint, of the chain at that input. */
  | { type: 'text'; default: string; attributeOf?: string; jointOf?: string }
  /** A channel of the object in another setting. */
  | { type: 'channel'; default: string; of: string }
  /** Where everything a constraint reads stood when it was made. */
  | { type: 'snapshot'; default: SettingValue }
  /** Matrices that a command worked out. */
  | { type: 'matrices'; default: SettingValue }
  /** What crosses the wall of a module. */
  | { type: 'ways'; default: SettingValue }
  | { type: 'response'; default: SettingValue }
  | { type: 'gradient'; default: SettingValue }
  /** Names with a type, each of which is a port. */
  | { type: 'names'; default: SettingValue; side: 'input' | 'output' }
  | { type: 'formula'; default: string }
  /** Offsets of single points, made in the stage. */
  | { type: 'offsets'; default: SettingValue }
  /** Numbers painted on points in the stage. */
  | { type: 'painted'; default: SettingValue }
  /** With `starts`: it gets a locator of its own there when the node is put on a mesh. */
  | { type: 'object'; takes: ObjectTakes; optional?: boolean; starts?: 'middle' | 'top' }
);

/** Settings with the defaults filled in. */
export type Settings = Readonly<Record<string, SettingValue>>;

/** Numbers or vectors of one chunk; singles are spread, so that a lane always has one entry per element. */
export type LaneKind = 'number' | 'vector';

/**
 * Computes one chunk of a per-element node: `count` elements from `inputs[i]` starting at number `inputAt[i]`
 * into `outputs[j]` starting at `outputAt[j]`. Lanes are Float32; a kernel computes in Float64 inside. An output
 * lane never overlaps an input lane. `first` is the number of the chunk's first element among all.
 */
export type Kernel = (...of: Parameters<ProgramRunner>) => void;

/** What a per-element node decides once its inputs' kinds are known. */
export interface ElementPlan {
  /**
   * Lane kind of each input that the kernel reads, by port, in the order the kernel expects. A mesh is read by name:
   * `position` (when `read` is left out), `normal`, or an attribute.
   */
  inputs: readonly { port: string; lane: LaneKind; read?: string }[];
  /** Kind and role of each output, in the order the kernel writes; without a port it only goes into the mesh. */
  outputs: readonly { port?: string; lane: LaneKind; role?: AttributeRole }[];
  /** The elements are those of the mesh at `from`; it goes out at `port` with outputs written to it by name. */
  mesh?: { port: string; from: string; on: AttributePlace; writes: readonly MeshWrite[] };
}

/** An output that is written to a mesh: as an attribute, or as the positions when it is called `position`. */
export interface MeshWrite {
  output: number;
  name: string;
  type: AttributeType;
  role: AttributeRole;
}

/** What is known when a kernel is made. */
export interface CompileContext {
  report(problem: Problem): void;
}

/** Uniform inputs resolved to numbers, by port. */
export type Uniforms = Readonly<Record<string, number>>;

/** The per-element form of a node: the evaluator runs it chunk by chunk, alone or fused with its neighbours. */
export interface ElementNode {
  /**
   * @param kinds kind of the value at each connected or typed input.
   * @param meshes those that arrived, by port; left out while nothing is evaluated.
   */
  plan(settings: Settings, kinds: Readonly<Record<string, ElementKind>>, meshes?: ReadonlyMap<string, Mesh>): ElementPlan;
  /** Builds the kernel for a plan; may report problems such as a clamped value. */
  compile?(settings: Settings, plan: ElementPlan, uniforms: Uniforms, context: CompileContext): Kernel;
  /**
   * Instead of a kernel: what it computes, as operations on its inputs (in the order of the plan, as wide as their
   * lanes). Nodes that can say it this way become one loop with their neighbours.
   * @returns one value per output of the plan, as wide as its lane.
   */
  program?(b: ProgramBuilder, inputs: readonly FormulaValue[], settings: Settings, plan: ElementPlan): FormulaValue[];
  /** Whether the program is used with these settings; else the kernel is. Left out: where there is a program. */
  isProgram?(settings: Settings): boolean;
  /** Problems of a node with a program that its uniform inputs tell. */
  check?(settings: Settings, uniforms: Uniforms, report: (p: Problem) => void): void;
}

/** An object facet a node depends on (DECISIONS 11). */
export type FacetName =
  | 'source'
  | 'world'
  | 'rest'
  | 'result'
  | 'channels'
  | 'channel'
  | 'carrier'
  | 'members'
  | 'restMembers'
  /** Joints of a chain, where their own channels put them; and where they stand with all that graphs put into them. */
  | 'joints'
  | 'posedJoints'
  /** Where they rest; the same at every frame. */
  | 'restJoints'
  /** The world of what it hangs under. */
  | 'parent'
  /** Its own channels at rest, and its pivot. */
  | 'restChannels';
export interface FacetRef {
  object: string;
  facet: FacetName;
  /** Of the facet `channel`: which. */
  channel?: string;
  /** The outputs it matters for; all when left out. */
  ports?: readonly string[];
}

/** Something of an object that a node makes: its carrier, or the number of one channel. */
export interface DrivenPart {
  readonly object: string;
  readonly channel?: string;
}

export type { LaneView };

/** What a node may ask for while it is evaluated. */
export interface NodeContext {
  readonly settings: Settings;
  /**
   * Whether this output is asked for; the others need not be computed. Once a node has been told no, only outputs that
   * were asked for are taken from it, so that one it left out is worked out when somebody asks for it.
   */
  wants(port: string): boolean;
  /** The value at an input: from its wire, its expression, or typed; undefined when an optional one is empty. */
  input(port: string): Value | undefined;
  /** The value that the input of `looksBack` had so many frames ago. */
  earlier(port: string, frames: number): Value | undefined;
  mesh(port: string): Mesh;
  curves(port: string): Curves;
  copies(port: string): Copies;
  falloff(port: string): Falloff;
  chain(port: string): Chain;
  /** A single number at a port. @throws NodeError when a column arrives. */
  number(port: string): number;
  integer(port: string): number;
  toggle(port: string): boolean;
  /** A lane as it is, not spread where one value stands for all: element i begins at number i · step. A falloff is weighed. */
  view(port: string, kind: LaneKind, count: number): LaneView;
  /** A column or single as one Float32 lane of `count` elements (spread where single). */
  lane(port: string, kind: LaneKind, count: number): Readonly<Float32Array>;
  /** Name, source, result and matrices of an object chosen in a setting. @throws NodeError when it is not there. */
  object(setting: string): ObjectView;
  readonly time: { frame: number; seconds: number; fraction: number };
  /** Numbers for results, all 0. */
  floats(count: number): Float32Array;
  /** The same, but whatever they are: for nodes that write every one of them. */
  room(count: number): Float32Array;
  /** Room to work in, which is given back when the node is done: nothing of it may be in what it puts out. */
  scratch(count: number): Float32Array;
  integers(count: number): Int32Array;
  /** Room for so many matrices: new, or that of one of these inputs where nobody else reads it; each is to be read before its place is written to. */
  matrices(count: number, ...over: readonly string[]): Float64Array;
  report(problem: Problem): void;
  /** What an input is called on the card. */
  label(port: string): string;
  /** Call now and then in long loops: throws `Cancelled` when the result is no longer wanted. */
  checkpoint(): void;
}

/** An object as a node sees it. */
export interface ObjectView {
  readonly id: string;
  readonly name: string;
  /** It was removed from the scene, and is kept for the nodes that read it. */
  readonly isRemoved: boolean;
  /** The mesh in the object's own space, or undefined when it has none. */
  readonly source: Mesh | undefined;
  /** It names a mesh that this project's data lacks. */
  readonly lostSource: boolean;
  /** What Show Mesh made of it, in world space, or undefined. */
  readonly result: Mesh | undefined;
  /** Of a curve object: its splines in its own space, now and at rest. */
  readonly curve: Curves | undefined;
  readonly restCurve: Curves | undefined;
  /** Of a group: what hangs under it, at any depth. */
  readonly members: readonly ObjectView[];
  /** Its joints as a chain, in the world; with none where none hang under it. */
  chain(pose: ChainPose): Chain;
  /** Ids of its joints, in the order of the chain, and each one's own channels as a matrix, now and at rest. */
  readonly joints: readonly JointView[];
  /** What hangs directly under it. */
  readonly children: readonly ObjectView[];
  readonly world: Matrix;
  readonly rest: Matrix;
  /** The world of what it hangs under, now; the identity without a parent. */
  readonly parent: Matrix;
  /** Its own channels at rest as a matrix, and its pivot in its own space. */
  readonly restChannels: Matrix;
  readonly pivot: Vec3;
  /** Metres, degrees or a factor in a channel now, or a custom channel's number; undefined when there is none. */
  channel(id: string): number | undefined;
}

/** A joint of a chain of the scene. */
export interface JointView {
  readonly id: string;
  readonly name: string;
  readonly channels: Matrix;
  readonly restChannels: Matrix;
}

/** Where a node tells of its contacts. */
export interface ContactPorts {
  readonly places: string;
  readonly before: string;
  readonly after: string;
  readonly touching: string;
  readonly ground: string;
}

/** Names that sentences on cards may use. */
export interface SentenceContext {
  objectName(id: SettingValue): string | undefined;
  /** Number at an input, when it is typed. */
  typed(port: string): InputValue | undefined;
  connected(port: string): boolean;
  /** What is connected to an input, in a word or two; undefined when nothing is. */
  source?(port: string): string | undefined;
  /** What a channel of an object is called on screen. */
  channelName?(object: SettingValue, channel: string): string | undefined;
}

/** Everything about a type of node: card, palette entry, help and reference page come from this. */
export interface NodeDefinition {
  /** Kebab-case, never changed once released. */
  id: string;
  version: number;
  title: string;
  group: NodeGroup;
  /** One line: what it computes. */
  summary: string;
  /** Other words people search for. */
  keywords?: readonly string[];
  inputs(settings: Settings): readonly InputPort[];
  outputs(settings: Settings): readonly OutputPort[];
  settings: readonly Setting[];
  /** Inputs that are applied one after the other, the first nearest to the object; they may be put in another order. */
  inOrder?(settings: Settings): readonly string[];
  /** It is a wall of a module: its ports are the ways in or out that its setting `ways` lists. */
  way?: 'in' | 'out';
  /** It finds points by their numbers: another order of points gives something else. */
  byPointNumber?: true;
  /** It moves the mesh at one input by the chain at another, with weights that the mesh has. */
  skins?: { readonly mesh: string; readonly chain: string };
  /** It keeps things out of a ground: its outputs that tell of each contact, and the input that the ground comes in at. */
  contacts?(settings: Settings): ContactPorts;
  /** It is moved on the stage by a handle, through its inputs `translate`, `rotate`, `scale` and `pivotTurn`. */
  handle?: true;
  /** It hands the object in its setting `object` from driver to driver: the input that chooses, and where a switch puts what channels cannot hold. */
  switches?: { readonly dial: string; readonly offsets: string; readonly segment: string };
  /** What it does with its present settings, for the card. */
  sentence(settings: Settings, context: SentenceContext): string;
  /** Object facets read, beyond what wires bring. */
  reads?(settings: Settings): readonly FacetRef[];
  /** The result that it shows on the stage: of which object, or of none, under which one that hangs, and the name typed for it. */
  shows?(settings: Settings): { readonly object: string | null; readonly under: string | null; readonly name: string };
  /** The carriers and channels of objects that it makes, if any. */
  drives?(settings: Settings, project: Project): readonly DrivenPart[];
  /** The frame that everything on its wires is worked out at, where it is not the present one. */
  readsFrame?(settings: Settings, frame: number): number;
  /** An input that is worked out at so many earlier frames too, one by one: `earlier` gives them. */
  looksBack?(settings: Settings): { readonly port: string; readonly frames: number };
  /** Whether it reads the clock itself (expressions are known without this). */
  readsTime?(settings: Settings): boolean;
  /** Output to input: what a skipped or failed node hands on. */
  passes?: Readonly<Record<string, string>>;
  /** Quicker to work out than to keep: single values in, single values out, no geometry looked at. */
  light?: true;
  evaluate?(context: NodeContext): Readonly<Record<string, Value>>;
  elements?: ElementNode;
}

export const NODE_GROUPS = [
  'Bring in',
  'Read and write',
  'Maths',
  'Falloffs',
  'Proximity',
  'Curves',
  'Deformers',
  'Copies',
  'Chains',
  'Matrices',
  'Constraints',
  'Flow',
  'Modules',
] as const;
export type NodeGroup = (typeof NODE_GROUPS)[number];
