import type { Catalogue } from '../graph/node/catalogue.ts';
import { outputKinds, resolveGraph, type PortRef } from '../graph/network/resolve.ts';
import { graphAt, inGraph } from '../modules/views.ts';
import { wallsOf } from '../modules/walls.ts';
import type { SettingValue, Way } from '../project/fields.ts';
import { moduleKey, usedKey, typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { newId, type Edit } from './document.ts';
import { nameOfInput, wayOfInput, wayOfOutput, wayOfSetting } from './ways.ts';

/** Changes what is said of a module: its name, what it does, its tags. */
export const changeModule =
  (key: string, change: Partial<Pick<ModuleRecord, 'name' | 'summary' | 'tags' | 'example' | 'proofs'>>): Edit =>
  (p) => ({
    ...p,
    modules: p.modules.map((m) =>
      moduleKey(m) === key
        ? { ...m, ...change, edited: true, ...(change.name && { graph: { ...m.graph, name: change.name } }) }
        : m,
    ),
  });

/** Parts a use from the others: it gets a module of its own, which is as theirs is now. */
export const ownCopy =
  (graph: string, use: string, name: string): Edit =>
  (project) => {
    const node = graphAt(project, graph)?.nodes.find((n) => n.id === use);
    const module = project.modules.find((m) => node && moduleKey(m) === usedKey(node));
    if (!node || !module) return project;
    const copy: ModuleRecord = {
      ...module,
      id: newId('module'),
      version: 0,
      edited: true,
      name,
      graph: { ...module.graph, id: newId('inside'), name },
    };
    const changed = inGraph(project, graph, (g) => ({
      ...g,
      nodes: g.nodes.map((n) => (n.id === use ? { ...n, type: typeOfUse(copy) } : n)),
    }));
    return { ...changed, modules: [...changed.modules, copy] };
  };

const withWays = (node: NodeRecord, change: (ways: readonly Way[]) => readonly Way[]): NodeRecord => {
  const before = node.settings.ways;
  const ways = typeof before === 'object' && before !== null && 'ways' in before ? before.ways : [];
  return { ...node, settings: { ...node.settings, ways: { ways: change(ways) } as SettingValue } };
};

const onWall = (g: GraphRecord, wall: string, change: (ways: readonly Way[]) => readonly Way[]): GraphRecord => ({
  ...g,
  nodes: g.nodes.map((n) => (n.id === wall ? withWays(n, change) : n)),
});

/** Name of a way that none has yet. */
function freeWay(ways: readonly Way[], wanted: string): string {
  let name = wanted;
  for (let n = 2; ways.some((w) => w.name === name); n++) name = `${wanted} ${n}`;
  return name;
}

/** Makes an input inside of a module a way in; it takes over name, kind, unit, default and range. */
export const exposeInput =
  (catalogue: Catalogue, graph: string, { node: id, port: portId }: PortRef): Edit =>
  (p) =>
    inGraph(p, graph, (g) => {
      const node = resolveGraph(catalogue, g).get(id);
      const port = node?.inputs.find((i) => i.id === portId);
      const { wayIn, ins } = wallsOf(catalogue, g);
      if (!node || !port || !wayIn) return g;
      const way = wayOfInput(freeWay(ins, nameOfInput(port, node)), port, node, undefined);
      const wires = g.wires.filter((w) => w.to.node !== id || w.to.port !== portId);
      const wire = { id: newId('wire'), from: { node: wayIn.id, port: way.id }, to: { node: id, port: portId }, pins: [] };
      return { ...onWall(g, wayIn.id, (ways) => [...ways, way]), wires: [...wires, wire] };
    });

/** Makes an output inside of a module a way out. */
export const exposeOutput =
  (catalogue: Catalogue, graph: string, { node: id, port: portId }: PortRef): Edit =>
  (p) =>
    inGraph(p, graph, (g) => {
      const port = resolveGraph(catalogue, g)
        .get(id)
        ?.outputs.find((o) => o.id === portId);
      const { wayOut, outs } = wallsOf(catalogue, g);
      if (!port || !wayOut) return g;
      const way = wayOfOutput(freeWay(outs, port.label), port, outputKinds(catalogue, g).get(`${id}.${portId}`));
      const wire = { id: newId('wire'), from: { node: id, port: portId }, to: { node: wayOut.id, port: way.id }, pins: [] };
      return { ...onWall(g, wayOut.id, (ways) => [...ways, way]), wires: [...g.wires, wire] };
    });

/** Makes a setting inside of a module a way in. @param local the node's id in its module */
export const exposeSetting =
  (catalogue: Catalogue, graph: string, id: string, setting: string, local: string): Edit =>
  (p) =>
    inGraph(p, graph, (g) => {
      const node = resolveGraph(catalogue, g).get(id);
      const found = node?.definition?.settings.find((s) => s.id === setting);
      const { wayIn, ins } = wallsOf(catalogue, g);
      if (!node || !found || !wayIn) return g;
      const way = wayOfSetting((wanted) => freeWay(ins, wanted), found, node);
      return onWall(g, wayIn.id, (ways) => [...ways, { ...way, sets: [{ node: local, setting }] }]);
    });

/** What uses would lose if a way went: the uses, by title, that have a wire or a typed value there. */
export function usesOfWay(project: Project, key: string, way: string): string[] {
  const name = project.modules.find((m) => moduleKey(m) === key)?.name ?? key;
  return [...project.graphs, ...project.modules.map((m) => m.graph)].flatMap((g) =>
    g.nodes.flatMap((n) => {
      if (usedKey(n) !== key) return [];
      const isWired = g.wires.some(
        (w) => (w.to.node === n.id && w.to.port === way) || (w.from.node === n.id && w.from.port === way),
      );
      const isSet = Object.hasOwn(n.inputs, way) || Object.hasOwn(n.settings, way);
      return isWired || isSet ? [`${n.title || name} in ${g.name}`] : [];
    }),
  );
}

/** Leaves out the modules that no graph uses, neither by itself nor inside of another. */
export const withoutUnusedModules: Edit = (p) => {
  const known = new Map(p.modules.map((m) => [moduleKey(m), m]));
  const used = new Set<string>();
  const visit = (graph: GraphRecord): void => {
    for (const node of graph.nodes) {
      const key = usedKey(node);
      const module = key === undefined || used.has(key) ? undefined : known.get(key);
      if (!module) continue;
      used.add(moduleKey(module));
      visit(module.graph);
    }
  };
  p.graphs.forEach(visit);
  return used.size === p.modules.length ? p : { ...p, modules: p.modules.filter((m) => used.has(moduleKey(m))) };
};

/** Uses of a module in a project, and in its other modules: what would lose something if it changed. */
export function usesOf(project: Project, key: string): { graph: string; node: string }[] {
  const graphs = [...project.graphs, ...project.modules.map((m) => m.graph)];
  return graphs.flatMap((g) => g.nodes.flatMap((n) => (usedKey(n) === key ? [{ graph: g.name, node: n.id }] : [])));
}
