import { pathTo, usedKey } from '../project/modules.ts';
import { identity, isSameMatrix, matrixAt, product, type Matrix } from '../maths/matrix.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project, RemovedRecord } from '../project/schema.ts';
import { isAnimated, objectsAt, withChannels, withoutPlace } from '../scene/channels.ts';
import type { WorldsOf } from '../scene/hang-under.ts';
import { channelsToStandAt } from '../scene/keep-pose.ts';
import { standingAt, withoutUnread } from '../scene/removed.ts';
import { tracksFor } from '../scene/tracks-for.ts';
import { channelsMatrix, parentSpace, worldMatrix } from '../scene/world.ts';
import { objectsById } from '../scene/objects.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { FacetName } from '../graph/node/definition.ts';
import { facetGraph } from '../graph/network/facets.ts';
import { resolveProject, type ResolvedNode } from '../graph/network/resolve.ts';

/** Motion over more frames is kept in steps. */
const MOST_FRAMES = 10_000;

/** What a node reads of an object so that it goes on when the object is removed; not what it hangs under or holds. */
const KEPT: ReadonlySet<FacetName> = new Set([
  'world',
  'rest',
  'source',
  'result',
  'channel',
  'channels',
  'carrier',
  'restChannels',
]);

/** A project in which nodes read kept objects, and what of their motion could not be kept. */
export interface Kept {
  readonly project: Project;
  /** What could not be kept of places and rests (shear, what was flat), as a share; 0 when all was. */
  readonly residual: number;
}

/**
 * Before objects are removed: those that nodes read are kept for them, each at its place and in its motion at every
 * frame of the range, and at rest (DECISIONS 10). Nodes that drive an object or constrain it do not go on.
 */
export async function keepRemoved(
  catalogue: Catalogue,
  project: Project,
  ids: readonly string[],
  worlds: WorldsOf,
): Promise<Kept> {
  const going = new Set(ids);
  const readers = new Map<string, Map<string, string>>();
  for (const node of resolveProject(catalogue, project).values())
    for (const [setting, object] of keptSettings(node, project))
      if (going.has(object))
        readers.set(node.record.id, (readers.get(node.record.id) ?? new Map<string, string>()).set(setting, object));
  const taken = new Set([...project.objects, ...project.removed.map((r) => r.object)].map((o) => o.id));
  const names = new Map<string, string>();
  const removed: RemovedRecord[] = [];
  let residual = 0;
  for (const id of new Set([...readers.values()].flatMap((s) => [...s.values()]))) {
    const object = objectsById(project.objects).get(id);
    if (!object) continue;
    const made = await standingAlone(catalogue, project, object, worlds);
    const name = freeId(`removed-${id}`.slice(0, 70), taken);
    names.set(id, name);
    removed.push({ object: { ...made.object, id: name }, frames: made.frames });
    residual = Math.max(residual, made.residual);
  }
  /** What nodes inside of a use read is named by the use, in a way that stands for their settings. */
  const readInside = (use: NodeRecord): ReadonlyMap<string, string> | undefined => {
    const inside = [...readers].filter(([id]) => id.startsWith(pathTo(use.id, ''))).flatMap(([, read]) => [...read.values()]);
    const named = Object.entries(use.settings).filter((e): e is [string, string] => inside.includes(e[1] as string));
    return named.length > 0 ? new Map(named) : undefined;
  };
  const reading = (n: NodeRecord): NodeRecord => {
    const mine = readers.get(n.id) ?? (usedKey(n) === undefined ? undefined : readInside(n));
    if (!mine) return n;
    const settings = { ...n.settings };
    for (const [setting, object] of mine) settings[setting] = names.get(object) ?? object;
    return { ...n, settings };
  };
  const graphs = project.graphs.map((g) => ({ ...g, nodes: g.nodes.map(reading) }));
  return {
    project: withoutUnread({ ...project, graphs, removed: [...project.removed, ...removed] }),
    residual,
  };
}

/** The settings by which a node reads objects it does not drive, and the objects. */
function keptSettings(node: ResolvedNode, project: Project): [setting: string, object: string][] {
  const { definition, settings } = node;
  if (!definition) return [];
  const reads = new Set((definition.reads?.(settings) ?? []).flatMap((r) => (KEPT.has(r.facet) ? r.object : [])));
  const made = new Set((definition.drives?.(settings, project) ?? []).map((d) => d.object));
  return definition.settings.flatMap((s) => {
    const value = settings[s.id];
    return s.type === 'object' && typeof value === 'string' && reads.has(value) && !made.has(value) ? [[s.id, value]] : [];
  });
}

function freeId(wanted: string, taken: Set<string>): string {
  let id = wanted;
  for (let n = 2; taken.has(id); n++) id = `${wanted}-${n}`;
  taken.add(id);
  return id;
}

/** An object that hangs under nothing and that nothing drives, but stands where another does. */
interface Alone {
  readonly object: ObjectRecord;
  /** The range its motion was worked out over. */
  readonly frames: RemovedRecord['frames'];
  readonly residual: number;
}

/**
 * Where what carries an object stands still, that becomes its carrier, and its own channels, keys and expressions go on
 * unchanged; else its motion is worked out at every frame of the range.
 */
async function standingAlone(catalogue: Catalogue, project: Project, object: ObjectRecord, worlds: WorldsOf): Promise<Alone> {
  const alone: ObjectRecord = { ...object, parent: null, carrier: null, locked: [], hidden: [] };
  const carriedBy = (m: Readonly<Matrix>): Alone =>
    restingAt(project, object, { object: { ...alone, carrier: [...m] }, frames: null, residual: 0 });
  const byId = objectsById(project.objects);
  if (isCarriedStill(catalogue, project, object)) return carriedBy(parentSpace(byId, object));
  const frames = framesOf(project);
  const bare: Project = {
    ...project,
    objects: project.objects.map((o) => (o === object ? withoutPlace(o) : o)),
  };
  const was = matricesOf(await worlds(project, object.id, frames));
  const spaces = matricesOf(await worlds(bare, object.id, frames));
  const found = frames.flatMap((frame, i) =>
    was[i]?.every(Number.isFinite) && spaces[i].every(Number.isFinite) ? [{ frame, was: was[i], space: spaces[i] }] : [],
  );
  if (found.length === 0) return { ...carriedBy(identity()), residual: 1 };
  const [{ was: stood, space }] = found;
  const isOwn = found.every(({ frame, was, space: s }) => {
    const now = objectsAt(project, frame).get(object.id) ?? object;
    return isSameMatrix(s, space) && isSameMatrix(product(s, channelsMatrix(now.channels, now.pivot)), was);
  });
  if (isOwn) return carriedBy(space);
  const rest = worldMatrix(byId, object.id, 'rest');
  if (found.every((f) => isSameMatrix(f.was, stood)))
    return restingAt(project, object, { object: standingAt(alone, stood, rest), frames: null, residual: 0 });
  const centred: ObjectRecord = { ...withoutPlace(alone), pivot: [0, 0, 0] };
  const { animated, values, residual } = tracksFor(
    centred,
    found.map((f) => f.frame),
    found.map((f) => f.was),
  );
  const moving = { ...withChannels(centred, values), animated: { ...centred.animated, ...animated } };
  return restingAt(project, object, { object: moving, frames: project.range, residual });
}

/** Nothing drives it, and nothing moves or drives what it hangs under. */
function isCarriedStill(catalogue: Catalogue, project: Project, object: ObjectRecord): boolean {
  const byId = objectsById(project.objects);
  const { drivers } = facetGraph(catalogue, project);
  const seen = new Set<ObjectRecord>();
  for (
    let at: ObjectRecord | undefined = object;
    at && !seen.has(at);
    at = at.parent === null ? undefined : byId.get(at.parent)
  ) {
    seen.add(at);
    if (drivers.has(at.id) || (at !== object && isAnimated(at))) return false;
  }
  return true;
}

function framesOf({ range: { first, last } }: Project): number[] {
  const step = Math.max(1, Math.ceil((last - first + 1) / MOST_FRAMES));
  const frames: number[] = [];
  for (let f = first; f <= last; f += step) frames.push(f);
  return frames;
}

const matricesOf = (all: Float64Array | null): Matrix[] =>
  Array.from({ length: (all?.length ?? 0) / 16 }, (_, i) => matrixAt(all as Float64Array, i));

/** With the channels at rest that put it where another rests, as far as they can. */
function restingAt(project: Project, other: ObjectRecord, alone: Alone): Alone {
  const { object } = alone;
  const rest = worldMatrix(objectsById(project.objects), other.id, 'rest');
  const space: Matrix = object.carrier ? Float64Array.from(object.carrier) : identity();
  if (isSameMatrix(product(space, channelsMatrix(object.rest, object.pivot)), rest)) return alone;
  const resting = { ...object, channels: object.rest };
  const found = channelsToStandAt(resting, rest, space);
  if (!found) return { ...alone, residual: 1 };
  return {
    ...alone,
    object: { ...object, rest: withChannels(resting, found.values).channels },
    residual: Math.max(alone.residual, found.residual),
  };
}
