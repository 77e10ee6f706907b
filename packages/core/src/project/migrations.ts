import { renamedWeights, WEIGHT_PREFIX } from '../chains/skin-weights.ts';
import { identity } from '../maths/matrix.ts';
import { standingAt } from '../scene/removed.ts';
import { USUAL_SIDES } from './animation.ts';
import { snapshotSchema } from './fields.ts';
import { makeObject } from './kinds/index.ts';
import { PROJECT_VERSION, type RemovedRecord } from './schema.ts';

type Json = Record<string, unknown>;

/** `MIGRATIONS[n]` takes a document of version n to version n + 1. Version 1 is the first. */
export const MIGRATIONS: Record<number, (document: Json) => Json> = {
  // Sections of a graph, pins of a wire, point sets of an object.
  1: (document) => ({
    ...document,
    graphs: each(document.graphs, (graph) => ({
      sections: [],
      ...graph,
      wires: each(graph.wires, (wire) => ({ pins: [], ...wire })),
    })),
    objects: each(document.objects, (object) => ({ sets: [], ...object })),
  }),
  // Curves of objects.
  2: (document) => ({
    ...document,
    objects: each(document.objects, (object) => ({ curve: null, restCurve: null, ...object })),
  }),
  // Custom, keyed, locked and hidden channels.
  3: (document) => ({
    ...document,
    objects: each(document.objects, (object) => ({
      custom: [],
      animated: {},
      locked: [],
      hidden: [],
      ...object,
    })),
  }),
  // Keys at which the number jumps.
  4: (document) => document,
  // Removed objects that nodes read; a Scene Locator kept the matrices of its own before.
  5: (document) => {
    const removed: RemovedRecord[] = [];
    const graphs = each(document.graphs, (graph) => ({
      ...graph,
      nodes: each(graph.nodes, (node) => withKeptLocator(node, removed)),
    }));
    return { ...document, graphs, removed };
  },
  // Fields of objects only where their kind has them; modules.
  6: (document) => ({
    modules: [],
    ...document,
    objects: each(document.objects, asItsKind),
    removed: each(document.removed, (r) => ({ ...r, object: isRecord(r.object) ? asItsKind(r.object) : r.object })),
  }),
  // Objects that the stage does not pick; views of the stage.
  7: (document) => ({
    modules: [],
    views: [],
    ...document,
    objects: each(document.objects, pickable),
    removed: each(document.removed, (r) => ({ ...r, object: isRecord(r.object) ? pickable(r.object) : r.object })),
  }),
  // Weights of joints whose names are not only letters, digits and spaces are called otherwise.
  11: (document) => {
    const names = Array.isArray(document.objects) ? document.objects.filter(isRecord).filter((o) => o.type === 'joint') : [];
    const renamed = renamedWeights(names.flatMap((o) => [o.name, ...(Array.isArray(o.also) ? o.also : [])]).filter(isText));
    if (renamed.size === 0) return document;
    const [graphs, modules] = [document.graphs, document.modules].map((part) => withWeightsRenamed(part, renamed));
    return { ...document, graphs, modules };
  },
  // Joints that take the weights of others; what is painted.
  10: (document) => ({
    ...document,
    objects: each(document.objects, heir),
    removed: each(document.removed, (r) => ({ ...r, object: isRecord(r.object) ? heir(r.object) : r.object })),
  }),
  // Joints, which no older document has.
  9: (document) => document,
  // Shapes of locators; hand-outs and poses.
  8: (document) => ({
    handOut: null,
    poses: [],
    sides: USUAL_SIDES,
    forAnimation: false,
    ...document,
    objects: each(document.objects, controlled),
    removed: each(document.removed, (r) => ({ ...r, object: isRecord(r.object) ? controlled(r.object) : r.object })),
  }),
};

const controlled = (object: Json): Json => (object.type === 'locator' ? { control: null, ...object } : object);
const heir = (object: Json): Json => (object.type === 'joint' ? { also: [], ...object } : object);
const pickable = (object: Json): Json => ({ pickable: true, ...object });

/** An object with the fields of its kind alone; one that has a mesh or a curve all the same becomes of that kind. */
function asItsKind(object: Json): Json {
  const { mesh, sets, colour, curve, restCurve, ...common } = object;
  const type = mesh ? 'mesh' : curve ? 'curve' : object.type;
  if (type === 'mesh') return { ...common, type, mesh: mesh ?? null, sets, colour: colour ?? null };
  if (type === 'curve') return { ...common, type, curve: curve ?? { splines: [] }, restCurve: restCurve ?? null };
  return common;
}

/** A Scene Locator that kept matrices of its own reads a removed locator that stands there. */
function withKeptLocator(node: Json, removed: RemovedRecord[]): Json {
  const settings = node.settings as Json | undefined;
  const taken = snapshotSchema.safeParse(settings?.frozen);
  if (node.type !== 'scene-locator' || !settings || !('frozen' in settings)) return node;
  const { frozen: _frozen, ...others } = settings;
  if (settings.object || !taken.success) return { ...node, settings: others };
  const [world, rest] = taken.data.drivers.map((d) => Float64Array.from(d));
  const name = typeof node.title === 'string' ? node.title.replace(/ \(removed\)$/, '') : '';
  const made = makeObject(`removed-${String(node.id)}`.slice(0, 80), name, 'locator');
  removed.push({ object: standingAt(made, world ?? identity(), rest ?? world ?? identity()), frames: null });
  return { ...node, settings: { ...others, object: made.id } };
}

/** Settings and keys of settings that name weights, at any depth of a document, with the new names; words of formulas too. */
function withWeightsRenamed(value: unknown, renamed: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string')
    return value.includes(WEIGHT_PREFIX) ? value.replace(/weight_\w*/g, (name) => renamed.get(name) ?? name) : value;
  if (Array.isArray(value)) return value.map((v) => withWeightsRenamed(v, renamed));
  if (!isRecord(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [renamed.get(k) ?? k, withWeightsRenamed(v, renamed)]));
}

const isText = (value: unknown): value is string => typeof value === 'string';
const isRecord = (r: unknown): r is Json => typeof r === 'object' && r !== null;

/** Changes every record of a list; anything else is left for the schema to refuse. */
function each(list: unknown, change: (record: Json) => Json): unknown {
  if (!Array.isArray(list)) return list;
  return list.map((r: unknown) => (isRecord(r) ? change(r) : r));
}

/**
 * Brings a document of any older version up to the present one.
 * @throws Error with a sentence when it is newer than this build, or has no version.
 */
export function migrate(document: Json, migrations = MIGRATIONS, present: number = PROJECT_VERSION): Json {
  let version = document.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    throw new Error('The file has no project version. Is it an Umberfish project?');
  }
  if (version > present) {
    throw new Error(
      `The project was saved by a newer Umberfish (format ${version}; this one reads up to ${present}). Update, then open it again.`,
    );
  }
  let result = document;
  for (; version < present; version++) {
    const step = migrations[version as number];
    if (!step) throw new Error(`Projects of format ${version} can no longer be read.`);
    result = { ...step(result), version: (version as number) + 1 };
  }
  return result;
}
