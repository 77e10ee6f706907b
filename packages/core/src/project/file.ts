import type { z } from 'zod';
import type { Attribute } from '../geometry/attributes.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { MeshError } from '../geometry/topology.ts';
import { renamedWeights, withRenamedWeights } from '../chains/skin-weights.ts';
import { migrate } from './migrations.ts';
import { withoutMark } from '../words.ts';
import { withOwnIds } from './own-ids.ts';
import { CHANNEL_LIMIT, channelName, channelsOf, channelValue, isChannelNumber, withChannels } from '../scene/channels.ts';
import { keysIn, trackOf } from '../scene/keys.ts';
import { withoutUnread, withRemoved } from '../scene/removed.ts';
import { grouped } from '../words.ts';
import { wrongShape } from '../wrong-shape.ts';
import type { Animated } from './fields.ts';
import { type ObjectRecord } from './kinds/index.ts';
import { meshFromData, MeshDataError, meshToData } from './mesh-data.ts';
import { moduleKey } from './modules.ts';
import { FRAME_LIMIT, projectSchema, type GraphRecord, type NodeRecord, type Project } from './schema.ts';

/** Meshes by their asset id. */
export type Assets = ReadonlyMap<string, Mesh>;

/** A project as it is opened: the document, the meshes it uses, and what had to be put right on the way. */
export interface OpenedProject {
  readonly project: Project;
  readonly assets: Assets;
  readonly repairs: readonly string[];
}

/** Why a project file cannot be opened: one sentence with the place in the file. */
export class ProjectFileError extends Error {}

/** The most characters of a project file that are read; a larger one is refused, not half read. */
export const MOST_FILE_CHARACTERS = 400_000_000;

/**
 * A project with all the meshes it uses as one JSON text. The order of keys is fixed, so equal projects give
 * equal texts.
 */
export function writeProjectFile(project: Project, assets: Assets): string {
  const meshes = project.assets.flatMap(({ id }) => {
    const mesh = assets.get(id);
    return mesh ? [[id, meshToData(mesh)] as const] : [];
  });
  return JSON.stringify({ ...withoutUnread(project), meshes: Object.fromEntries(meshes) }, null, 1);
}

/**
 * Reads a project file: JSON, version, schema, meshes; then puts right what can be (wires and parents that lead
 * nowhere), and tells it.
 * @throws ProjectFileError with one sentence; nothing is half read.
 */
export function readProjectFile(text: string): OpenedProject {
  if (text.length > MOST_FILE_CHARACTERS) throw new ProjectFileError(`The file is larger than ${MOST_FILE_CHARACTERS / 1e6} MB.`);
  let json: unknown;
  try {
    json = JSON.parse(withoutMark(text));
  } catch (error) {
    throw new ProjectFileError(`The file is not JSON: ${(error as Error).message}. Was it cut short?`);
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json) || !('format' in json)) {
    throw new ProjectFileError('The file is JSON, but not an Umberfish project.');
  }
  const { meshes, ...document } = json as Record<string, unknown>;
  let migrated: Record<string, unknown>;
  try {
    migrated = migrate(document);
  } catch (error) {
    throw new ProjectFileError((error as Error).message);
  }
  const repairs: string[] = [];
  const project = repair(check(projectSchema, migrated, 'project'), repairs);
  const assets = new Map<string, Mesh>();
  const asPresent = presentMeshes(project);
  const found = typeof meshes === 'object' && meshes !== null ? (meshes as Record<string, unknown>) : {};
  for (const asset of project.assets) {
    if (!Object.hasOwn(found, asset.id)) {
      repairs.push(
        `The mesh "${asset.name}" is missing from the file; objects that use it are empty until it is imported again.`,
      );
      continue;
    }
    try {
      assets.set(asset.id, withKnownMaterials(asPresent(meshFromData(found[asset.id])), asset.name, repairs));
    } catch (error) {
      if (!(error instanceof MeshError || error instanceof MeshDataError)) throw error;
      throw new ProjectFileError(`meshes.${asset.id} ("${asset.name}"): ${error.message}`);
    }
  }
  return { project, assets, repairs };
}

/** A mesh whose faces have no material that is not in its list; what had has none, which is told. */
function withKnownMaterials(mesh: Mesh, name: string, repairs: string[]): Mesh {
  const isMaterial = (a: Attribute) => a.name === 'material' && a.on === 'face' && a.type === 'integer';
  const isKnown = (m: number) => m >= -1 && m < mesh.materials.length;
  const numbers = mesh.attributes.find(isMaterial)?.data;
  if (!numbers || numbers.every(isKnown)) return mesh;
  repairs.push(`Faces of "${name}" had materials that are not in its list; they have none now.`);
  const data = Int32Array.from(numbers, (m) => (isKnown(m) ? m : -1));
  return { ...mesh, attributes: mesh.attributes.map((a) => (isMaterial(a) ? { ...a, data } : a)) };
}

/** Brings meshes as they were stored up to the present, for the joints of a project: what their weights are called. */
export function presentMeshes({ objects }: Project): (mesh: Mesh) => Mesh {
  const joints = objects.flatMap((o) => (o.type === 'joint' ? [o.name, ...o.also] : []));
  const renamed = renamedWeights(joints);
  return (mesh) => withRenamedWeights(mesh, renamed);
}

/** Checks a document that comes without its meshes (from the browser's store). @throws ProjectFileError */
export function readProjectDocument(document: unknown): { project: Project; repairs: readonly string[] } {
  const repairs: string[] = [];
  if (typeof document !== 'object' || document === null) throw new ProjectFileError('There is no project there.');
  try {
    return {
      project: repair(check(projectSchema, migrate(document as Record<string, unknown>), 'project'), repairs),
      repairs,
    };
  } catch (error) {
    throw error instanceof ProjectFileError ? error : new ProjectFileError((error as Error).message);
  }
}

function check<T>(schema: z.ZodType<T>, data: unknown, what: string): T {
  const result = schema.safeParse(data);
  if (result.success) return result.data;
  throw new ProjectFileError(wrongShape(result.error, what));
}

function repair(asRead: Project, repairs: string[]): Project {
  const project = withOwnIds(asRead, repairs);
  const objectIds = new Set(withRemoved(project).objects.map((o) => o.id));
  for (const r of project.removed) objectIds.delete(r.object.id);
  const parents = new Map(project.objects.map((o) => [o.id, o.parent]));
  const looped = underThemselves(parents);
  const objects = project.objects.map((each) => {
    const o = withinReach(withKeysInOrder(each, repairs), repairs);
    if (o.parent === null || (objectIds.has(o.parent) && !looped.has(o.id))) return o;
    repairs.push(`The parent of "${o.name}" is ${objectIds.has(o.parent) ? 'below it' : 'missing'}; it now stands in the world.`);
    return { ...o, parent: null };
  });
  const graphs = project.graphs.map((g) => soundGraph(g, repairs));
  const modules = soundModules(project, repairs);
  const removed = project.removed.map((r) => ({ ...r, object: { ...withKeysInOrder(r.object, repairs), parent: null } }));
  return { ...project, range: withinLimit(project.range, repairs), objects, removed, graphs, modules };
}

/** Modules each once, with sound graphs. @throws ProjectFileError where nodes cannot be told apart */
function soundModules({ modules, graphs }: Project, repairs: string[]): Project['modules'] {
  if (modules.length === 0) return modules;
  // Nodes inside of uses are called by paths.
  for (const g of graphs)
    for (const n of g.nodes)
      if (n.id.includes('/'))
        throw new ProjectFileError(`project.graphs: the id "${n.id}" of a node has a "/", which parts the ids in a path.`);
  const known = new Set<string>();
  const ids = new Set(graphs.map((g) => g.id));
  return modules.flatMap((m) => {
    const wrong = wrongInside(m.graph);
    if (wrong) throw new ProjectFileError(`project.modules: ${wrong}`);
    if (known.has(moduleKey(m)) || ids.has(m.graph.id)) {
      repairs.push(`The module "${m.name}" was there twice, or its graph was; the first is kept.`);
      return [];
    }
    known.add(moduleKey(m));
    ids.add(m.graph.id);
    return [{ ...m, graph: soundGraph(m.graph, repairs) }];
  });
}

/** Why the nodes of a module's graph cannot be told apart, in a sentence. */
export function wrongInside(graph: GraphRecord): string | undefined {
  const seen = new Set<string>();
  for (const { id } of graph.nodes) {
    if (seen.has(id)) return `two nodes in "${graph.name}" have the id "${id}".`;
    if (id.includes('/')) return `the id "${id}" of a node in "${graph.name}" has a "/", which parts the ids in a path.`;
    seen.add(id);
  }
  return undefined;
}

/** A graph without wires and sections that lead nowhere; what was left out is told. */
function soundGraph(g: GraphRecord, repairs: string[]): GraphRecord {
  const mine = new Set(g.nodes.map((n) => n.id));
  const taken = new Set<string>();
  const wires = g.wires.filter((w) => {
    const end = `${w.to.node}.${w.to.port}`;
    const fits = mine.has(w.from.node) && mine.has(w.to.node) && !taken.has(end);
    if (fits) taken.add(end);
    return fits;
  });
  if (wires.length < g.wires.length) {
    const lost = g.wires.length - wires.length;
    repairs.push(
      `${lost} ${lost === 1 ? 'wire' : 'wires'} in "${g.name}" led nowhere or doubled another, and ${lost === 1 ? 'was' : 'were'} left out.`,
    );
  }
  const boxed = new Set<string>();
  const sections = g.sections.map((box) => {
    const nodes = box.nodes.filter((n) => mine.has(n) && !boxed.has(n));
    nodes.forEach((n) => boxed.add(n));
    if (nodes.length === box.nodes.length) return box;
    repairs.push(`The section "${box.title}" named nodes that are missing or in another section.`);
    return { ...box, nodes };
  });
  return { ...g, wires, sections, nodes: g.nodes.map((n) => withInputKeysInOrder(n, repairs)) };
}

function withinLimit(range: Project['range'], repairs: string[]): Project['range'] {
  const limited = (frame: number) => Math.max(-FRAME_LIMIT, Math.min(FRAME_LIMIT, frame));
  const [first, last] = [limited(range.first), limited(range.last)];
  if (first === range.first && last === range.last) return range;
  const most = grouped(FRAME_LIMIT);
  repairs.push(
    `The range went from frame ${grouped(range.first)} to ${grouped(range.last)}; it may lie within −${most} and ${most}, and was cut there.`,
  );
  return { first, last };
}

/** An object whose typed channels can be drawn; what was beyond that is told. */
function withinReach(object: ObjectRecord, repairs: string[]): ObjectRecord {
  const beyond = channelsOf(object).flatMap((c) => {
    const value = channelValue(object, c) ?? 0;
    return isChannelNumber(value) ? [] : [[c, Math.sign(value) * CHANNEL_LIMIT] as const];
  });
  if (beyond.length === 0) return object;
  const names = beyond.map(([c]) => channelName(object, c)).join(', ');
  repairs.push(`"${object.name}" had numbers beyond ${grouped(CHANNEL_LIMIT)} in ${names}; they were taken back to that.`);
  return withChannels(object, Object.fromEntries(beyond));
}

/** Keys in the order of their frames, one at each; what had to be put so is told. */
function inOrder<T>(source: T, whose: string, repairs: string[]): T | Animated {
  const track = keysIn(source);
  if (!track || track.keys.every((k, i) => i === 0 || track.keys[i - 1].frame < k.frame)) return source;
  const ordered = trackOf(track.keys, track);
  const lost = track.keys.length - ordered.keys.length;
  repairs.push(
    `Keys of ${whose} were not in the order of their frames; they are now.${lost > 0 ? ` Of several at one frame the last was kept; ${lost} ${lost === 1 ? 'was' : 'were'} left out.` : ''}`,
  );
  return { keys: ordered };
}

function withKeysInOrder(object: ObjectRecord, repairs: string[]): ObjectRecord {
  const entries = Object.entries(object.animated).map(
    ([channel, source]) => [channel, inOrder(source, `"${object.name}", ${channelName(object, channel)},`, repairs)] as const,
  );
  return entries.every(([channel, source]) => source === object.animated[channel])
    ? object
    : { ...object, animated: Object.fromEntries(entries) };
}

function withInputKeysInOrder(node: NodeRecord, repairs: string[]): NodeRecord {
  const whose = (port: string) => `"${node.title || node.type}", ${port},`;
  const entries = Object.entries(node.inputs).map(([port, value]) => {
    if (!Array.isArray(value)) return [port, inOrder(value, whose(port), repairs)] as const;
    const parts = value.map((part: unknown) => inOrder(part, whose(port), repairs));
    return [port, parts.every((p, i) => p === value[i]) ? value : parts] as const;
  });
  return entries.every(([port, value]) => value === node.inputs[port])
    ? node
    : { ...node, inputs: Object.fromEntries(entries) as NodeRecord['inputs'] };
}

/** Objects that hang under themselves; each is looked at once. */
function underThemselves(parents: ReadonlyMap<string, string | null>): Set<string> {
  const found = new Set<string>();
  const walkOf = new Map<string, number>();
  let walk = 0;
  for (const start of parents.keys()) {
    walk++;
    let at: string | null = start;
    for (; at !== null && parents.has(at) && !walkOf.has(at); at = parents.get(at) ?? null) walkOf.set(at, walk);
    if (at === null || walkOf.get(at) !== walk) continue;
    for (let o = at; !found.has(o); o = parents.get(o) as string) found.add(o);
  }
  return found;
}
