import type { ObjectRecord } from './kinds/index.ts';
import type { GraphRecord, NodeRecord, Project, WireRecord } from './schema.ts';

/** What differs between two lists of records: those that are other or new, and the order of all where it is another. */
export interface ListDifference<T> {
  readonly records: readonly T[];
  readonly order?: readonly string[];
  /** The whole list, where two records have one id and none can be told by it. */
  readonly whole?: readonly T[];
}

/** What differs in a record of plain objects: another value, or what differs in the fields it has. */
export type DeepDifference =
  { readonly to: unknown } | { readonly fields: Readonly<Record<string, DeepDifference>>; readonly gone: readonly string[] };

/** What differs in a node, such as the blocks of points that a stroke of a brush touched. */
export interface NodeDifference {
  readonly id: string;
  readonly inside: DeepDifference;
}

/** What differs in a graph: fields of its own, and its nodes and wires. */
export interface GraphDifference {
  readonly id: string;
  readonly fields: Partial<Omit<GraphRecord, 'nodes' | 'wires'>>;
  readonly nodes?: Omit<ListDifference<NodeRecord>, 'records'> & { readonly records: readonly (NodeRecord | NodeDifference)[] };
  readonly wires?: ListDifference<WireRecord>;
}

/**
 * What differs between a project and a later one, by the identity of records: an edit shares what it does not change, so
 * that this is small, and so is the way to whoever keeps the earlier one.
 */
export interface ProjectDifference {
  readonly fields: Partial<Omit<Project, 'objects' | 'graphs'>>;
  readonly objects?: ListDifference<ObjectRecord>;
  readonly graphs?: {
    readonly changed: readonly (GraphDifference | GraphRecord)[];
    readonly order?: readonly string[];
    /** All graphs are here, as they are. */
    readonly isWhole?: true;
  };
}

type WithId = { readonly id: string };

/** The difference that makes `after` of `before`. */
export function differenceOf(before: Project, after: Project): ProjectDifference {
  const fields = changedFields(before, after, ['objects', 'graphs']);
  const objects = listDifference(before.objects, after.objects);
  const graphs = listDifference(before.graphs, after.graphs);
  const known = new Map(before.graphs.map((g) => [g.id, g]));
  return {
    fields,
    ...(objects && { objects }),
    ...(graphs && {
      graphs: {
        changed: graphs.whole ?? graphs.records.map((g) => graphDifference(known.get(g.id), g)),
        ...(graphs.order && { order: graphs.order }),
        ...(graphs.whole && { isWhole: true as const }),
      },
    }),
  };
}

function graphDifference(before: GraphRecord | undefined, after: GraphRecord): GraphDifference | GraphRecord {
  if (!before) return after;
  const nodes = listDifference(before.nodes, after.nodes);
  const wires = listDifference(before.wires, after.wires);
  const fields = changedFields(before, after, ['nodes', 'wires']);
  const known = new Map(nodes && !nodes.whole ? before.nodes.map((n) => [n.id, n]) : []);
  const inside = (n: NodeRecord): NodeRecord | NodeDifference => {
    const was = known.get(n.id);
    return was ? { id: n.id, inside: deepDifference(was, n) } : n;
  };
  return {
    ...{ id: after.id, fields },
    ...(nodes && { nodes: { ...nodes, records: nodes.records.map(inside) } }),
    ...(wires && { wires }),
  };
}

const isPlain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** What differs between two values, by the identity of what they are made of; lists are told whole. */
export function deepDifference(before: unknown, after: unknown): DeepDifference {
  if (!isPlain(before) || !isPlain(after)) return { to: after };
  const fields: Record<string, DeepDifference> = {};
  for (const key of Object.keys(after))
    if (!Object.hasOwn(before, key) || before[key] !== after[key])
      Object.defineProperty(fields, key, {
        value: Object.hasOwn(before, key) ? deepDifference(before[key], after[key]) : { to: after[key] },
        enumerable: true,
      });
  return { fields, gone: Object.keys(before).filter((key) => !Object.hasOwn(after, key)) };
}

/** The later value, of the earlier one and what differs. */
export function withDeepDifference(before: unknown, difference: DeepDifference): unknown {
  if ('to' in difference) return difference.to;
  const gone = new Set(difference.gone);
  const entries = new Map(Object.entries(before as Record<string, unknown>).filter(([key]) => !gone.has(key)));
  for (const [key, d] of Object.entries(difference.fields)) entries.set(key, withDeepDifference(entries.get(key), d));
  return Object.fromEntries(entries);
}

function changedFields<T extends object, K extends keyof T>(before: T, after: T, without: readonly K[]): Partial<Omit<T, K>> {
  const out: Partial<T> = {};
  // What is there no more is told as undefined.
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)] as (keyof T)[]))
    if (!without.includes(key as K) && before[key] !== after[key]) out[key] = after[key];
  return out;
}

const areApart = (list: readonly WithId[]): boolean => new Set(list.map((r) => r.id)).size === list.length;

function listDifference<T extends WithId>(before: readonly T[], after: readonly T[]): ListDifference<T> | undefined {
  if (before === after) return undefined;
  if (!areApart(before) || !areApart(after)) return { records: [], whole: after };
  const inPlace = before.length === after.length && after.every((r, i) => r.id === before[i].id);
  if (inPlace) return { records: after.filter((r, i) => r !== before[i]) };
  const known = new Map(before.map((r) => [r.id, r]));
  return { records: after.filter((r) => known.get(r.id) !== r), order: after.map((r) => r.id) };
}

/**
 * The later project, of the earlier one and what differs; every record that does not differ is the same object as before, so
 * that what is remembered by record stays. @throws Error when the difference was made from another project
 */
export function withDifference(before: Project, { fields, objects, graphs }: ProjectDifference): Project {
  return {
    ...before,
    ...fields,
    objects: objects ? withList(before.objects, objects) : before.objects,
    graphs: graphs ? withGraphs(before.graphs, graphs) : before.graphs,
  };
}

function withGraphs(
  before: readonly GraphRecord[],
  { changed, order, isWhole }: NonNullable<ProjectDifference['graphs']>,
): readonly GraphRecord[] {
  if (isWhole) return changed as readonly GraphRecord[];
  const known = new Map(before.map((g) => [g.id, g]));
  const records = changed.map((g): GraphRecord => {
    if (!('fields' in g)) return g;
    const was = known.get(g.id);
    if (!was) throw new Error('The document changed in a way that cannot be followed.');
    const nodes = g.nodes ? withList(was.nodes, { ...g.nodes, records: g.nodes.records.map(nodeIn(was.nodes)) }) : was.nodes;
    return { ...was, ...g.fields, nodes, wires: g.wires ? withList(was.wires, g.wires) : was.wires };
  });
  return withList(before, order ? { records, order } : { records });
}

/** The node that a difference makes of the one of a list. */
function nodeIn(before: readonly NodeRecord[]): (record: NodeRecord | NodeDifference) => NodeRecord {
  const known = new Map(before.map((n) => [n.id, n]));
  return (record) => {
    if (!('inside' in record)) return record;
    const was = known.get(record.id);
    if (!was) throw new Error('The document changed in a way that cannot be followed.');
    return withDeepDifference(was, record.inside) as NodeRecord;
  };
}

function withList<T extends WithId>(before: readonly T[], { records, order, whole }: ListDifference<T>): readonly T[] {
  if (whole) return whole;
  const changed = new Map(records.map((r) => [r.id, r]));
  if (!order) return before.map((r) => changed.get(r.id) ?? r);
  const known = new Map(before.map((r) => [r.id, r]));
  return order.map((id) => {
    const record = changed.get(id) ?? known.get(id);
    if (!record) throw new Error('The document changed in a way that cannot be followed.');
    return record;
  });
}
