import { PROJECT_VERSION } from './schema.ts';

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
};

/** Changes every record of a list; anything else is left for the schema to refuse. */
function each(list: unknown, change: (record: Json) => Json): unknown {
  if (!Array.isArray(list)) return list;
  return list.map((r: unknown) => (typeof r === 'object' && r !== null ? change(r as Json) : r));
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
