import type { Catalogue } from '../graph/node/catalogue.ts';
import type { Setting } from '../graph/node/definition.ts';
import { typedInput } from '../graph/node/typed.ts';
import { outputKinds, resolveGraph, type ResolvedNode } from '../graph/network/resolve.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { expandProject } from '../modules/expand.ts';
import { graphAt, pathOfInside } from '../modules/views.ts';
import { wallsOf } from '../modules/walls.ts';
import type { InputValue, SettingValue, Way } from '../project/fields.ts';
import { moduleKey, pathTo, usedKey, typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { wayIn } from '../nodes/flow/way-in.ts';
import { wayOut } from '../nodes/flow/way-out.ts';
import { nameOfInput, wayOfInput, wayOfOutput, wayOfSetting } from './ways.ts';
import { newId, nodeOf, inGraph, withoutNodes, type Edit } from './document.ts';

/** Something that may cross the wall when nodes become a module: what it would be called, and where it comes from. */
export interface OfferedWay {
  readonly way: Way;
  /** Wires that cross already must cross; the others are taken where somebody ticks them. */
  readonly needed: boolean;
  /** The node inside, and its input, its output or its setting. */
  readonly at: { readonly node: string; readonly port: string };
  /** Of a way in: the output outside that it comes from. */
  readonly from?: { readonly node: string; readonly port: string };
  readonly side: 'in' | 'out';
}

/** What would cross the wall if some nodes of a graph became a module. */
export function offeredWays(base: Catalogue, project: Project, graphId: string, picked: readonly string[]): OfferedWay[] {
  const catalogue = catalogueOf(base, project);
  const graph = graphAt(project, graphId);
  if (!graph) return [];
  const nodes = resolveGraph(catalogue, graph);
  const inside = new Set(picked);
  const kinds = outputKinds(catalogue, graph);
  const names = freshNames();
  const offered: OfferedWay[] = [];
  const sources = new Map<string, OfferedWay>();
  // 1. Wires that come in: one way for each output outside.
  for (const id of picked) {
    const node = nodes.get(id);
    for (const port of node?.inputs ?? []) {
      const wire = node?.wires.get(port.id);
      if (!wire || inside.has(wire.from.node)) continue;
      const key = `${wire.from.node}.${wire.from.port}`;
      if (sources.has(key)) continue;
      const outside = nodes.get(wire.from.node)?.outputs.find((o) => o.id === wire.from.port);
      const wanted = port.label.length > 2 ? port.label : (outside?.label ?? port.label);
      const way = wayOfInput(names(wanted), port, node as ResolvedNode, kinds.get(key));
      const found: OfferedWay = { way, needed: true, side: 'in', at: { node: id, port: port.id }, from: wire.from };
      sources.set(key, found);
      offered.push(found);
    }
  }
  // 2. Wires that leave: one way for each output inside.
  const left = new Set<string>();
  const outNames = freshNames();
  for (const { from, to } of graph.wires) {
    const key = `${from.node}.${from.port}`;
    const port = nodes.get(from.node)?.outputs.find((o) => o.id === from.port);
    if (!port || !inside.has(from.node) || inside.has(to.node) || left.has(key)) continue;
    left.add(key);
    offered.push({ way: wayOfOutput(outNames(port.label), port, kinds.get(key)), needed: true, side: 'out', at: from });
  }
  // 3. What may: objects that nodes name first, then loose inputs, responses and gradients.
  const loose: OfferedWay[] = [];
  for (const id of picked) {
    const node = nodes.get(id);
    if (!node?.definition) continue;
    for (const setting of node.definition.settings) {
      if (setting.shown && !setting.shown(node.settings)) continue;
      const offer = offerOf(names, setting, node);
      if (offer) (setting.type === 'object' ? offered : loose).push(offer);
    }
    for (const port of node.inputs)
      if (!node.wires.has(port.id))
        loose.push({
          way: wayOfInput(names(nameOfInput(port, node)), port, node, undefined),
          needed: false,
          side: 'in',
          at: { node: id, port: port.id },
        });
  }
  return [...offered, ...loose];
}

/** Gives each name once: "height", "height 2". */
function freshNames(): (wanted: string) => string {
  const taken = new Set<string>();
  return (wanted) => {
    let name = wanted;
    for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
    taken.add(name);
    return name;
  };
}

/** Settings that make good dials: objects (nothing inside points at a scene), responses and gradients. */
function offerOf(names: (wanted: string) => string, setting: Setting, node: ResolvedNode): OfferedWay | undefined {
  const { type } = setting;
  if (type !== 'object' && type !== 'response' && type !== 'gradient') return undefined;
  const isSet = type === 'object' && typeof node.settings[setting.id] === 'string';
  if (type === 'object' && !isSet && !setting.optional) return undefined;
  const way = wayOfSetting(names, setting, node);
  return { way, needed: isSet, side: 'in', at: { node: node.record.id, port: setting.id } };
}

/** A project whose picked nodes are a module, of which one card stands in their place. */
export interface Packed {
  readonly project: Project;
  readonly use: string;
  readonly module: ModuleRecord;
}

/** Settings that belong to a use, whichever node they stand in. */
const OWN: readonly Setting['type'][] = ['snapshot', 'matrices', 'offsets', 'painted'];

/**
 * Makes a module of some nodes of a graph and a use of it in their place: everything downstream is the same to the bit.
 * @param ways what crosses the wall, with the names and defaults that it shall have
 */
export function packNodes(
  base: Catalogue,
  project: Project,
  graphId: string,
  picked: readonly string[],
  name: string,
  ways: readonly OfferedWay[],
): Packed {
  const catalogue = catalogueOf(base, project);
  const graph = graphOf(project, graphId);
  const nodes = resolveGraph(catalogue, graph);
  const inside = new Set(picked);
  // Inside of a use, nodes are called by their paths; in the new module by their own ids.
  const within = pathOfInside(graphId);
  const local = (id: string) => (within === undefined ? id : id.slice(within.length + 1));
  const taken = graph.nodes.filter((n) => inside.has(n.id));
  const low = [0, 1].map((axis) => Math.min(...taken.map((n) => n.position[axis])));
  const high = Math.max(...taken.map((n) => n.position[0]));
  const ins = ways.filter((w) => w.side === 'in');
  const outs = ways.filter((w) => w.side === 'out');
  const place = (x: number, y: number) => [x, y] as const;
  const into = nodeOf(wayIn, place(low[0] - 320, low[1]), {
    ways: { ways: ins.map(({ way }) => ({ ...way, sets: way.sets.map((s) => ({ ...s, node: local(s.node) })) })) },
  });
  const out = nodeOf(wayOut, place(high + 320, low[1]), { ways: { ways: outs.map((w) => w.way) } });
  const wire = (from: WireRecord['from'], to: WireRecord['to']): WireRecord => ({ id: newId('wire'), from, to, pins: [] });
  const isPort = (w: OfferedWay) => w.way.kind !== 'setting';
  const waysFrom = new Map(ins.flatMap((w) => (w.from ? [[`${w.from.node}.${w.from.port}`, w]] : [])));
  const innerWires = [
    ...graph.wires
      .filter((w) => inside.has(w.from.node) && inside.has(w.to.node))
      .map((w) => ({ ...w, from: { ...w.from, node: local(w.from.node) }, to: { ...w.to, node: local(w.to.node) } })),
    // Every input that took the output outside takes the way.
    ...graph.wires.flatMap((w) => {
      const way = inside.has(w.to.node) && !inside.has(w.from.node) ? waysFrom.get(`${w.from.node}.${w.from.port}`) : undefined;
      return way ? [wire({ node: into.id, port: way.way.id }, { ...w.to, node: local(w.to.node) })] : [];
    }),
    ...ins.flatMap((w) =>
      isPort(w) && !w.from ? [wire({ node: into.id, port: w.way.id }, { ...w.at, node: local(w.at.node) })] : [],
    ),
    ...outs.map((w) => wire({ ...w.at, node: local(w.at.node) }, { node: out.id, port: w.way.id })),
  ];
  const own: Record<string, { settings: Record<string, SettingValue>; probes: readonly string[] }> = {};
  const innerNodes = taken.map((record): NodeRecord => {
    const { definition } = nodes.get(record.id) as ResolvedNode;
    const settings = { ...record.settings };
    for (const s of definition?.settings ?? []) {
      if (s.type === 'object' && ins.some((w) => w.way.sets.some((x) => x.node === record.id && x.setting === s.id)))
        delete settings[s.id];
      if (!OWN.includes(s.type) || settings[s.id] === undefined) continue;
      own[local(record.id)] ??= { settings: {}, probes: [] };
      own[local(record.id)].settings[s.id] = settings[s.id];
      delete settings[s.id];
    }
    const id = local(record.id);
    if (record.probes.length > 0) own[id] = { settings: own[id]?.settings ?? {}, probes: record.probes };
    for (const [path, of] of Object.entries(record.own ?? {})) own[pathTo(id, path)] = { ...of, settings: { ...of.settings } };
    const { own: _own, ...plain } = record;
    return { ...plain, id, settings, probes: [] };
  });
  const module: ModuleRecord = {
    id: newId('module'),
    version: 0,
    edited: true,
    name,
    summary: '',
    tags: [],
    example: 'ball',
    proofs: [
      { kind: 'finite', dials: {}, known: '' },
      { kind: 'same-order', dials: {}, known: '' },
    ],
    graph: {
      id: newId('inside'),
      name,
      nodes: [into, ...innerNodes, out],
      wires: innerWires,
      sections: graph.sections.flatMap((s) => {
        const mine = s.nodes.filter((n) => inside.has(n));
        return mine.length === s.nodes.length && mine.length > 0 ? [{ ...s, nodes: mine.map(local), folded: false }] : [];
      }),
      preview: null,
    },
  };
  const settings: Record<string, SettingValue> = {};
  for (const { way } of ins)
    for (const s of way.sets) {
      const value = nodes.get(s.node)?.settings[s.setting];
      if (value !== undefined) settings[way.id] = value;
    }
  const use: NodeRecord = {
    ...nodeOf({ id: typeOfUse(module), version: 1 }, place((low[0] + high) / 2, low[1]), settings),
    id: newId('use'),
    ...(Object.keys(own).length > 0 && { own }),
  };
  const outWays = new Map(outs.map((w) => [`${w.at.node}.${w.at.port}`, w.way.id]));
  const changed: GraphRecord = {
    ...graph,
    nodes: [...graph.nodes.filter((n) => !inside.has(n.id)), use],
    wires: [
      ...graph.wires.flatMap((w) => {
        const [a, b] = [inside.has(w.from.node), inside.has(w.to.node)];
        if (a === b) return a ? [] : [w];
        const port = a ? outWays.get(`${w.from.node}.${w.from.port}`) : undefined;
        return a && port ? [{ ...w, from: { node: use.id, port } }] : [];
      }),
      ...ins.flatMap((w) => (w.from ? [wire(w.from, { node: use.id, port: w.way.id })] : [])),
    ],
    sections: withoutNodes(graph.sections, picked),
    preview: graph.preview !== null && inside.has(graph.preview) ? pathTo(use.id, local(graph.preview)) : graph.preview,
  };
  const withUse = inGraph(project, graphId, () => changed);
  return { project: { ...withUse, modules: [...withUse.modules, module] }, use: use.id, module };
}

/** A use turned back into cards: what is inside stands in its place, everything is the same to the bit. */
export const unpackUse =
  (base: Catalogue, graphId: string, useId: string): Edit =>
  (project) => {
    const graph = graphOf(project, graphId);
    const use = graph.nodes.find((n) => n.id === useId);
    const module = project.modules.find((m) => use && moduleKey(m) === usedKey(use));
    if (!use || !module) return project;
    const { wayIn: into, wayOut: out, ins } = wallsOf(base, module.graph);
    // What the nodes inside are for this use is what they are evaluated as.
    const alone = {
      ...project,
      graphs: [{ ...graph, nodes: graph.nodes.map((n) => (n.id === useId ? { ...n, skip: false } : n)) }],
    };
    const catalogue = catalogueOf(base, project);
    const flat = expandProject(base, alone).project.graphs[0];
    const known = new Map(flat.nodes.map((n) => [n.id, n]));
    const ids = new Map(module.graph.nodes.map((n) => [n.id, newId(usedKey(n) === undefined ? n.type : 'use')]));
    const inner = module.graph.nodes.filter((n) => n !== into && n !== out);
    const low = [0, 1].map((axis) => Math.min(...inner.map((n) => n.position[axis])));
    const shift = [use.position[0] - low[0], use.position[1] - low[1]];
    const outer = resolveGraph(catalogue, graph).get(useId);
    const cameIn = new Map([...(outer?.wires ?? [])].map(([port, w]) => [port, w.from]));
    const typedAt = new Map((outer?.inputs ?? []).map((p) => [p.id, typedInput(p, use)]));
    const typed = new Map<string, Record<string, InputValue | undefined>>();
    const wires: WireRecord[] = [];
    for (const w of module.graph.wires) {
      const to = ids.get(w.to.node);
      if (to === undefined || w.to.node === out?.id) continue;
      const outside =
        w.from.node === into?.id ? cameIn.get(w.from.port) : { node: ids.get(w.from.node) ?? '', port: w.from.port };
      if (outside) wires.push({ id: newId('wire'), from: outside, to: { node: to, port: w.to.port }, pins: [] });
      else if (w.from.node === into?.id) {
        const value = known.get(pathTo(useId, w.to.node))?.inputs[w.to.port] ?? typedAt.get(w.from.port);
        typed.set(w.to.node, { ...typed.get(w.to.node), [w.to.port]: value });
      }
    }
    const nodes = inner.map((n): NodeRecord => {
      const flatNode = known.get(pathTo(useId, n.id));
      const settings: Record<string, SettingValue> = { ...(flatNode ?? n).settings };
      // A use inside keeps what this one says of it.
      if (!flatNode)
        for (const way of ins)
          for (const s of way.sets)
            if (s.node === n.id && Object.hasOwn(use.settings, way.id)) settings[s.setting] = use.settings[way.id];
      const own = ownOf(use, n.id, n.own);
      return {
        ...n,
        id: ids.get(n.id) as string,
        probes: use.own?.[n.id]?.probes ?? n.probes,
        position: [n.position[0] + shift[0], n.position[1] + shift[1]],
        inputs: defined({ ...n.inputs, ...typed.get(n.id) }),
        settings,
        ...(own && { own }),
      };
    });
    const outFrom = new Map(module.graph.wires.filter((w) => w.to.node === out?.id).map((w) => [w.to.port, w.from]));
    const around = graph.wires.flatMap((w): WireRecord[] => {
      if (w.to.node === useId) return [];
      if (w.from.node !== useId) return [w];
      const from = outFrom.get(w.from.port);
      if (!from) return [];
      const outside = from.node === into?.id ? cameIn.get(from.port) : { node: ids.get(from.node) ?? '', port: from.port };
      return outside ? [{ ...w, from: outside }] : [];
    });
    return withoutUnused(
      inGraph(project, graphId, (g) => ({
        ...g,
        nodes: [...madeRoom(g.nodes, use, inner), ...nodes],
        wires: [...around, ...wires],
        sections: withoutNodes(g.sections, [useId]),
      })),
    );
  };

/** A card is about so wide. */
const CARD = 200;

/** The other cards, those to the right of a use and below it moved aside for what comes out of it. */
function madeRoom(all: readonly NodeRecord[], use: NodeRecord, inner: readonly NodeRecord[]): NodeRecord[] {
  const [wide, high] = [0, 1].map((axis) => {
    const at = inner.map((n) => n.position[axis]);
    return at.length > 0 ? Math.max(...at) - Math.min(...at) : 0;
  });
  const [x, y] = use.position;
  return all.flatMap((n): NodeRecord[] => {
    if (n.id === use.id) return [];
    const [left, top] = n.position;
    if (left > x + CARD / 2) return wide > 0 ? [{ ...n, position: [left + wide, top] }] : [n];
    return left > x - CARD && top > y && high > 0 ? [{ ...n, position: [left, top + high] }] : [n];
  });
}

/** Without what was left open. */
const defined = <T>(record: Readonly<Record<string, T | undefined>>): Record<string, T> =>
  Object.fromEntries(Object.entries(record).filter((e): e is [string, T] => e[1] !== undefined));

/** What a use keeps of the inside of a use in it, under what that keeps itself. */
function ownOf(use: NodeRecord, inside: string, before: NodeRecord['own']): NodeRecord['own'] {
  const start = pathTo(inside, '');
  const mine = Object.entries(use.own ?? {}).flatMap(([path, v]) =>
    path.startsWith(start) ? [[path.slice(start.length), v]] : [],
  );
  return mine.length > 0 ? { ...before, ...Object.fromEntries(mine) } : before;
}

/** Without modules that were never published and that nothing uses any more. */
function withoutUnused(project: Project): Project {
  const used = new Set([...project.graphs, ...project.modules.map((m) => m.graph)].flatMap((g) => g.nodes.map(usedKey)));
  const modules = project.modules.filter((m) => m.version > 0 || used.has(moduleKey(m)));
  return modules.length === project.modules.length ? project : { ...project, modules };
}

function graphOf(project: Project, id: string): GraphRecord {
  const graph = graphAt(project, id);
  if (!graph) throw new Error(`There is no graph "${id}".`);
  return graph;
}
