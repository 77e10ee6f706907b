import { buildVector } from '../nodes/maths/build-vector.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { resolveGraph, type PortRef } from '../graph/network/resolve.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { type InputValue, type Names, type SettingValue } from '../project/fields.ts';
import {
  makeObject,
  type ObjectRecord,
  type CommonFields,
  type ObjectOf,
  type ObjectType,
  assetIdOf,
} from '../project/kinds/index.ts';
import { usedKey } from '../project/modules.ts';
import { inGraph } from '../modules/views.ts';
import { type AssetRecord, type GraphRecord, type NodeRecord, type Project, type SectionRecord } from '../project/schema.ts';

/** Sections without some nodes; those left empty are gone. */
export const withoutNodes = (sections: readonly SectionRecord[], nodes: readonly string[]): SectionRecord[] =>
  sections
    .map((s) => (s.nodes.some((n) => nodes.includes(n)) ? { ...s, nodes: s.nodes.filter((n) => !nodes.includes(n)) } : s))
    .filter((s) => s.nodes.length > 0);

/**
 * Edits of the document: pure functions from a project to the next, sharing all that stays the same. Everything
 * the interface changes goes through one of these, so that everything can be undone.
 */
export type Edit = (project: Project) => Project;

declare const crypto: { getRandomValues(bytes: Uint8Array): Uint8Array };

/** A short random id; `kind` makes it readable in files. */
export function newId(kind: string): string {
  const bytes = crypto.getRandomValues(new Uint8Array(6));
  return `${kind}-${Array.from(bytes, (b) => (b % 36).toString(36)).join('')}`;
}

export { inGraph };

const mapNode = (g: GraphRecord, id: string, change: (n: NodeRecord) => NodeRecord): GraphRecord => ({
  ...g,
  nodes: g.nodes.map((n) => (n.id === id ? change(n) : n)),
});

/** A record of a new node of a type. */
export function nodeOf(
  { id: type, version }: Pick<NodeDefinition, 'id' | 'version'>,
  position: readonly [number, number],
  settings: Record<string, SettingValue> = {},
): NodeRecord {
  return {
    // The type of a use is as long as its module's id.
    id: newId(usedKey({ type }) === undefined ? type : 'use'),
    type,
    version,
    title: '',
    position: [Math.round(position[0]), Math.round(position[1])],
    inputs: {},
    settings,
    skip: false,
    probes: [],
  };
}

export const addNode =
  (graph: string, node: NodeRecord): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({ ...g, nodes: [...g.nodes, node] }));

export const removeNodes =
  (graph: string, ids: readonly string[]): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({
      ...g,
      nodes: g.nodes.filter((n) => !ids.includes(n.id)),
      wires: g.wires.filter((w) => !ids.includes(w.from.node) && !ids.includes(w.to.node)),
      sections: withoutNodes(g.sections, ids),
      preview: g.preview !== null && ids.includes(g.preview) ? null : g.preview,
    }));

export const moveNodes =
  (graph: string, positions: ReadonlyMap<string, readonly [number, number]>): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({
      ...g,
      nodes: g.nodes.map((n) => {
        const to = positions.get(n.id);
        return to && (to[0] !== n.position[0] || to[1] !== n.position[1]) ? { ...n, position: to } : n;
      }),
    }));

export const changeNode =
  (graph: string, id: string, change: Partial<NodeRecord>): Edit =>
  (p) =>
    inGraph(p, graph, (g) => mapNode(g, id, (n) => ({ ...n, ...change })));

export const setInput =
  (graph: string, id: string, port: string, value: InputValue | undefined): Edit =>
  (p) =>
    inGraph(p, graph, (g) =>
      mapNode(g, id, (n) => {
        const { [port]: _old, ...others } = n.inputs;
        return { ...n, inputs: value === undefined ? others : { ...n.inputs, [port]: value } };
      }),
    );

/** Changes a setting and drops wires to ports that are gone with it. */
export const setSetting =
  (catalogue: Catalogue, graph: string, id: string, setting: string, value: SettingValue): Edit =>
  (p) =>
    inGraph(p, graph, (g) => {
      const next = mapNode(g, id, (n) => ({ ...n, settings: { ...n.settings, [setting]: value } }));
      const node = resolveGraph(catalogue, next).get(id);
      if (!node?.definition) return next;
      const inputs = new Set(node.inputs.map((i) => i.id));
      const outputs = new Set(node.outputs.map((o) => o.id));
      const wires = next.wires.filter(
        (w) => (w.to.node !== id || inputs.has(w.to.port)) && (w.from.node !== id || outputs.has(w.from.port)),
      );
      return wires.length === next.wires.length ? next : { ...next, wires };
    });

/** Changes the names of a Formula; a renamed one keeps its wires, its typed value and its probe. */
export const changeNames =
  (
    catalogue: Catalogue,
    graph: string,
    id: string,
    setting: string,
    side: 'input' | 'output',
    names: Names['names'],
    renamed?: { from: string; to: string },
  ): Edit =>
  (p) => {
    const moved = inGraph(p, graph, (g) => {
      if (!renamed || renamed.from === renamed.to) return g;
      const { from, to } = renamed;
      const end = side === 'input' ? 'to' : 'from';
      const rename = (port: string) => (port === from ? to : port);
      return {
        ...mapNode(g, id, (n) => {
          const { [from]: typed, ...others } = n.inputs;
          const inputs = side === 'input' && typed !== undefined ? { ...others, [to]: typed } : n.inputs;
          return { ...n, inputs, probes: side === 'output' ? n.probes.map(rename) : n.probes };
        }),
        wires: g.wires.map((w) => (w[end].node === id ? { ...w, [end]: { ...w[end], port: rename(w[end].port) } } : w)),
      };
    });
    return setSetting(catalogue, graph, id, setting, { names })(moved);
  };

/** Draws a wire; what was in the input before is replaced. */
export const connect =
  (graph: string, from: PortRef, to: PortRef): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({
      ...g,
      wires: [
        ...g.wires.filter((w) => w.to.node !== to.node || w.to.port !== to.port),
        { id: newId('wire'), from, to, pins: [] },
      ],
    }));

export const removeWires =
  (graph: string, ids: readonly string[]): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({ ...g, wires: g.wires.filter((w) => !ids.includes(w.id)) }));

export const setPreview =
  (graph: string, node: string | null): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({ ...g, preview: node }));

export const toggleProbe =
  (graph: string, id: string, port: string): Edit =>
  (p) =>
    inGraph(p, graph, (g) =>
      mapNode(g, id, (n) => ({
        ...n,
        probes: n.probes.includes(port) ? n.probes.filter((x) => x !== port) : [...n.probes, port],
      })),
    );

/** Puts copies of nodes, and of the wires among them, into a graph; `ids` gives each copy its id. */
export const pasteNodes =
  (
    graph: string,
    nodes: readonly NodeRecord[],
    wires: GraphRecord['wires'],
    ids: ReadonlyMap<string, string>,
    shift: readonly [number, number],
  ): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({
      ...g,
      nodes: [
        ...g.nodes,
        ...nodes.map((n) => ({
          ...n,
          id: ids.get(n.id) as string,
          position: [n.position[0] + shift[0], n.position[1] + shift[1]] as const,
        })),
      ],
      wires: [
        ...g.wires,
        ...wires
          .filter((w) => ids.has(w.from.node) && ids.has(w.to.node))
          .map((w) => ({
            id: newId('wire'),
            from: { ...w.from, node: ids.get(w.from.node) as string },
            to: { ...w.to, node: ids.get(w.to.node) as string },
            pins: w.pins.map(([x, y]) => [x + shift[0], y + shift[1]] as const),
          })),
      ],
    }));

export const addGraph =
  (graph: GraphRecord): Edit =>
  (p) => ({ ...p, graphs: [...p.graphs, graph] });

export const changeGraph =
  (id: string, change: Partial<GraphRecord>): Edit =>
  (p) =>
    inGraph(p, id, (g) => ({ ...g, ...change }));

export const removeGraph =
  (id: string): Edit =>
  (p) => ({ ...p, graphs: p.graphs.filter((g) => g.id !== id) });

export const emptyGraph = (name: string): GraphRecord => ({
  id: newId('graph'),
  name,
  nodes: [],
  wires: [],
  sections: [],
  preview: null,
});

/** Changes what objects of every kind have. */
export const changeObject =
  (id: string, change: Partial<CommonFields>): Edit =>
  (p) => ({ ...p, objects: p.objects.map((o) => (o.id === id ? { ...o, ...change } : o)) });

/** Changes an object of one kind; leaves one of another as it is. */
export const changeObjectOf =
  <T extends ObjectType>(type: T, id: string, change: Partial<ObjectOf<T>>): Edit =>
  (p) => ({ ...p, objects: p.objects.map((o) => (o.id === id && o.type === type ? { ...o, ...change } : o)) });

export const addObject =
  (object: ObjectRecord): Edit =>
  (p) => ({ ...p, objects: [...p.objects, object] });

/** What comes to hang under another when objects are removed: the nearest of their parents that stays. Parents first. */
export function orphansOf(project: Project, ids: readonly string[]): { id: string; parent: string | null }[] {
  const parents = new Map(project.objects.map((o) => [o.id, o.parent]));
  const standing = (parent: string | null): string | null => {
    let at = parent;
    while (at !== null && ids.includes(at)) at = parents.get(at) ?? null;
    return at;
  };
  const depth = (id: string): number => {
    let deep = 0;
    for (let at = parents.get(id) ?? null; at !== null && deep <= parents.size; deep++) at = parents.get(at) ?? null;
    return deep;
  };
  return project.objects
    .filter((o) => o.parent !== null && ids.includes(o.parent) && !ids.includes(o.id))
    .map((o) => ({ id: o.id, parent: standing(o.parent) }))
    .sort((a, b) => depth(a.id) - depth(b.id));
}

/** Removes objects; what hung under them hangs under their parent. */
export const removeObjects =
  (ids: readonly string[]): Edit =>
  (p) => {
    const under = new Map(orphansOf(p, ids).map((o) => [o.id, o.parent]));
    const gone = p.objects.filter((o) => o.type === 'joint' && ids.includes(o.id));
    return {
      ...p,
      objects: p.objects
        .filter((o) => !ids.includes(o.id))
        .map((o) => (under.has(o.id) ? { ...o, parent: under.get(o.id) ?? null } : o))
        .map((o) => (gone.length > 0 ? withHeritage(gone, o) : o)),
    };
  };

/** A joint with the names of removed ones that hung under it, with nothing but others that are removed between: it takes their weights. */
function withHeritage(gone: readonly ObjectRecord[], object: ObjectRecord): ObjectRecord {
  if (object.type !== 'joint') return object;
  const below = gone.filter((o) => o.parent === object.id);
  for (const o of below) below.push(...gone.filter((q) => q.parent === o.id));
  if (below.length === 0) return object;
  const names = below.flatMap((o) => (o.type === 'joint' ? [o.name, ...o.also] : []));
  return { ...object, also: [...new Set([...object.also, ...names])] };
}

/** Adds assets (each once) and objects that show them. */
export const addMeshObjects =
  (assets: readonly AssetRecord[], objects: readonly ObjectRecord[]): Edit =>
  (p) => {
    const known = new Map(p.assets.map((a) => [a.id, a]));
    for (const a of assets) if (!known.has(a.id)) known.set(a.id, a);
    return { ...p, assets: [...known.values()], objects: [...p.objects, ...objects] };
  };

/** Gives an object another mesh; assets nobody uses are dropped. */
export const replaceMesh =
  (object: string, asset: AssetRecord): Edit =>
  (p) => {
    const objects = p.objects.map((o) => (o.id === object && o.type === 'mesh' ? { ...o, mesh: asset.id } : o));
    const used = new Set([...objects, ...p.removed.map((r) => r.object)].map(assetIdOf));
    const others = p.assets.filter((a) => a.id !== asset.id && used.has(a.id));
    return { ...p, objects, assets: [...others, asset] };
  };

/** A name not yet taken by an object: "Locator", "Locator 2", … */
export const freeName = (project: Project, wanted: string): string => freeNames(project)(wanted);

/** Gives names not yet taken by an object, nor given before. */
export function freeNames(project: Project): (wanted: string) => string {
  const taken = new Set(project.objects.map((o) => o.name));
  const tried = new Map<string, number>();
  return (wanted) => {
    let name = wanted;
    let n = tried.get(wanted) ?? 2;
    for (; taken.has(name); n++) name = `${wanted} ${n}`;
    tried.set(wanted, n);
    taken.add(name);
    return name;
  };
}

export const newLocator = (project: Project): ObjectRecord =>
  makeObject(newId('locator'), freeName(project, 'Locator'), 'locator');

/** Feeds a number to one axis only: puts a Build Vector between the wire and the input that spread it to all three. */
export const feedOneAxis =
  (graph: string, wire: string, axis: 'x' | 'y' | 'z'): Edit =>
  (p) =>
    inGraph(p, graph, (g) => {
      const old = g.wires.find((w) => w.id === wire);
      const target = g.nodes.find((n) => n.id === old?.to.node);
      if (!old || !target) return g;
      const between = nodeOf(buildVector, [target.position[0] - 190, target.position[1] + 120]);
      return {
        ...g,
        nodes: [...g.nodes, between],
        wires: [
          ...g.wires.filter((w) => w !== old),
          { id: newId('wire'), from: old.from, to: { node: between.id, port: axis }, pins: [] },
          { id: newId('wire'), from: { node: between.id, port: 'vector' }, to: old.to, pins: [] },
        ],
      };
    });
