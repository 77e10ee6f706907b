import { memoize } from '../memo.ts';
import type { SettingValue } from '../project/fields.ts';
import { moduleKey, moduleWithGraph, partsOfPath, pathTo, usedKey } from '../project/modules.ts';
import { isAlike, without } from './records.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';

/*
 * A look inside of a use is a graph like any other: that of its module, its nodes called by their paths, so that what the
 * evaluation says of them is theirs; what belongs to the use stands in it. An edit of it is an edit of the module, and of
 * the use where it changes what belongs to that.
 */

const INSIDE = 'inside ';

/** The id of the graph that shows the inside of a use. */
export const insideOf = (path: string): string => INSIDE + path;

/** What a node that was added to a graph is called there: by its path, inside of a use. */
export const idInGraph = (graph: string, node: string): string => {
  const path = pathOfInside(graph);
  return path === undefined ? node : pathTo(path, node);
};

/** The use that a graph id shows the inside of. */
export const pathOfInside = (graph: string): string | undefined =>
  graph.startsWith(INSIDE) ? graph.slice(INSIDE.length) : undefined;

/** The graph that a node stands in, and what it is called there: the inside of a use, or a graph of the project. */
export function graphWithNode(project: Project, node: string): string | undefined {
  const end = node.lastIndexOf('/');
  if (end >= 0) return insideOf(node.slice(0, end));
  return project.graphs.find((g) => g.nodes.some((n) => n.id === node))?.id;
}

interface Inside {
  readonly module: ModuleRecord;
  /** The graph of the project, the use in it, and the way from there. */
  readonly root: GraphRecord;
  readonly use: NodeRecord;
  readonly within: string;
  /** What the innermost use is set to: as its card says, as uses around it name objects for it, and as is this use's own. */
  readonly settings: NodeRecord['settings'];
}

/** What is inside of a use, by its path; undefined where there is none. */
function insideAt(project: Project, path: string): Inside | undefined {
  const [first, ...more] = partsOfPath(path);
  const root = project.graphs.find((g) => nodesOf(g).has(first));
  const use = root && nodesOf(root).get(first);
  if (!use) return undefined;
  const modules = modulesOf(project.modules);
  let module = modules.get(usedKey(use) ?? '');
  let { settings } = use;
  for (const [i, part] of more.entries()) {
    const next = module && nodesOf(module.graph).get(part);
    const named = module && objectsNamed(module.graph, settings).get(part);
    settings = { ...next?.settings, ...named, ...use.own?.[more.slice(0, i + 1).join('/')]?.settings };
    module = next && modules.get(usedKey(next) ?? '');
  }
  return module && { module, root, use, within: more.join('/'), settings };
}

/** The module that a use is of, by its path. */
export const moduleAt = (project: Project, path: string): ModuleRecord | undefined => insideAt(project, path)?.module;

const nodesOf = memoize((g: GraphRecord): ReadonlyMap<string, NodeRecord> => new Map(g.nodes.map((n) => [n.id, n])));
const modulesOf = memoize(
  (all: readonly ModuleRecord[]): ReadonlyMap<string, ModuleRecord> => new Map(all.map((m) => [moduleKey(m), m])),
);

/** The graph of a project with an id: its own, the inside of a use, or that of a module by itself. */
export function graphAt(project: Project, id: string): GraphRecord | undefined {
  const path = pathOfInside(id);
  if (path === undefined) return project.graphs.find((g) => g.id === id) ?? moduleWithGraph(project, id)?.graph;
  const inside = insideAt(project, path);
  return inside && viewOf(path, inside);
}

/** The graph of the project that a graph is, or is inside of. */
export function rootGraph(project: Project, id: string): GraphRecord | undefined {
  const path = pathOfInside(id);
  return path === undefined ? project.graphs.find((g) => g.id === id) : insideAt(project, path)?.root;
}

interface View {
  readonly own: NodeRecord['own'];
  readonly named: ReadonlyMap<string, Readonly<Record<string, SettingValue>>>;
  readonly preview: string | null;
  readonly view: GraphRecord;
}
const views = memoize((_: GraphRecord): Map<string, View> => new Map());

/** The inside of a use as a graph; the same one as long as nothing of it changes. */
function viewOf(path: string, { module, root, use, within, settings }: Inside): GraphRecord {
  const { graph } = module;
  const known = views(graph).get(path);
  const named = objectsNamed(graph, settings);
  if (known && known.own === use.own && known.preview === root.preview && isAlikeNamed(known.named, named)) return known.view;
  const at = (id: string) => pathTo(path, id);
  const view: GraphRecord = {
    ...graph,
    id: insideOf(path),
    name: module.name,
    nodes: graph.nodes.map((n): NodeRecord => {
      const own = use.own?.[within === '' ? n.id : pathTo(within, n.id)];
      return {
        ...n,
        id: at(n.id),
        probes: own?.probes ?? [],
        settings: own || named.has(n.id) ? { ...n.settings, ...named.get(n.id), ...own?.settings } : n.settings,
      };
    }),
    wires: graph.wires.map((w): WireRecord => ({
      ...w,
      from: { ...w.from, node: at(w.from.node) },
      to: { ...w.to, node: at(w.to.node) },
    })),
    sections: graph.sections.map((s) => ({ ...s, nodes: s.nodes.map(at) })),
    preview: root.preview?.startsWith(`${path}/`) ? root.preview : null,
  };
  views(graph).set(path, { own: use.own, named, preview: root.preview, view });
  return view;
}

type Named = View['named'];

const isAlikeNamed = (a: Named, b: Named): boolean =>
  a.size === b.size && [...a].every(([id, settings]) => isAlike(settings, b.get(id) ?? {}));

/** The objects that a use names, as the nodes inside have them in their settings: their cards say which. */
function objectsNamed(graph: GraphRecord, of: NodeRecord['settings']): Named {
  const named = new Map<string, Record<string, SettingValue>>();
  for (const { settings } of graph.nodes) {
    const { ways } = settings;
    if (typeof ways !== 'object' || ways === null || !('ways' in ways)) continue;
    for (const way of ways.ways)
      for (const { node, setting } of way.sets)
        if ((way.control === 'place' || way.control === 'object') && typeof of[way.id] === 'string')
          named.set(node, { ...named.get(node), [setting]: of[way.id] });
  }
  return named;
}

/** Whether a value of a setting belongs to a use: where things stood, offsets of single points. */
const isOwn = (value: SettingValue | undefined): boolean =>
  typeof value === 'object' && value !== null && ('drivers' in value || 'matrices' in value || 'moves' in value);

/**
 * Changes a graph: one of the project, a module by itself, or the inside of a use. A change inside is a change of the
 * module, and so of all its uses; what belongs to the use alone (snapshots, offsets of points, probes, the preview) is
 * written to it.
 */
export function inGraph(project: Project, id: string, change: (g: GraphRecord) => GraphRecord): Project {
  const path = pathOfInside(id);
  const inside = path === undefined ? undefined : insideAt(project, path);
  if (path !== undefined) return inside ? changeInside(project, path, inside, change) : project;
  const module = moduleWithGraph(project, id);
  if (module) return withModule(project, module, change(module.graph));
  return { ...project, graphs: project.graphs.map((g) => (g.id === id ? change(g) : g)) };
}

const withModule = (project: Project, module: ModuleRecord, graph: GraphRecord): Project => {
  const changed = { ...module, edited: true, graph };
  return { ...project, modules: project.modules.map((m) => (m === module ? changed : m)) };
};

function changeInside(project: Project, path: string, inside: Inside, change: (g: GraphRecord) => GraphRecord): Project {
  const { module, root, use, within } = inside;
  const view = viewOf(path, inside);
  const next = change(view);
  if (next === view) return project;
  const start = `${path}/`;
  const inner = (node: string) => (node.startsWith(start) ? node.slice(start.length) : node);
  const before = nodesOf(view);
  const plain = nodesOf(module.graph);
  let own = use.own ?? NOTHING;
  const named = objectsNamed(module.graph, inside.settings);
  const nodes = next.nodes.map((n): NodeRecord => {
    const was = before.get(n.id);
    const old = plain.get(inner(n.id));
    if (was === n && old) return old;
    const mine = within === '' ? inner(n.id) : pathTo(within, inner(n.id));
    const settings: Record<string, SettingValue> = {};
    const owned: Record<string, SettingValue> = {};
    for (const [key, value] of Object.entries(n.settings)) {
      // What the use names is not the module's.
      const given = named.get(inner(n.id))?.[key];
      if (given === undefined || given !== value) (isOwn(value) ? owned : settings)[key] = value;
      else if (old && Object.hasOwn(old.settings, key)) settings[key] = old.settings[key];
    }
    const known = own[mine];
    const isKept = known?.probes === n.probes && isAlike(known.settings, owned);
    if (isKept) return { ...n, id: inner(n.id), settings, probes: [] };
    if (n.probes.length > 0 || Object.keys(owned).length > 0) own = { ...own, [mine]: { settings: owned, probes: n.probes } };
    else if (known) own = without(own, mine);
    return { ...n, id: inner(n.id), settings, probes: [] };
  });
  const graph: GraphRecord = {
    ...next,
    id: module.graph.id,
    name: module.graph.name,
    preview: null,
    nodes,
    wires: next.wires.map((w) => ({
      ...w,
      from: { ...w.from, node: inner(w.from.node) },
      to: { ...w.to, node: inner(w.to.node) },
    })),
    sections: next.sections.map((s) => ({ ...s, nodes: s.nodes.map(inner) })),
  };
  const isSame =
    nodes.length === module.graph.nodes.length &&
    nodes.every((n, i) => n === module.graph.nodes[i] || sameNode(n, module.graph.nodes[i]));
  const onlyOwn = isSame && next.wires === view.wires && next.sections === view.sections;
  const changed = onlyOwn ? project : withModule(project, module, graph);
  const preview =
    next.preview === view.preview
      ? root.preview
      : next.preview && !next.preview.startsWith(start)
        ? pathTo(path, next.preview)
        : next.preview;
  if (own === (use.own ?? NOTHING) && preview === root.preview) return changed;
  const withOwn: NodeRecord = Object.keys(own).length > 0 ? { ...use, own } : bare(use);
  const inRoot = { ...root, preview, nodes: root.nodes.map((n) => (n === use ? withOwn : n)) };
  return { ...changed, graphs: changed.graphs.map((g) => (g === root ? inRoot : g)) };
}

/** Whether a node of the module is as it was: only what belongs to the use has changed. */
const sameNode = (a: NodeRecord, b: NodeRecord): boolean =>
  a.id === b.id &&
  a.inputs === b.inputs &&
  a.title === b.title &&
  a.position === b.position &&
  a.skip === b.skip &&
  a.type === b.type &&
  a.own === b.own &&
  Object.keys(a.settings).length === Object.keys(b.settings).length &&
  Object.entries(a.settings).every(([k, v]) => b.settings[k] === v);

const NOTHING: NonNullable<NodeRecord['own']> = {};

const bare = ({ own: _own, ...use }: NodeRecord): NodeRecord => use;
