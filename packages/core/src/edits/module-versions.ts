import { graphAt, inGraph } from '../modules/views.ts';
import { moduleHash, type ModuleFile } from '../modules/file.ts';
import { moduleKey, usedKey, typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { newId, type Edit } from './document.ts';

const withType = (graph: GraphRecord, from: string, to: string): GraphRecord =>
  graph.nodes.some((n) => usedKey(n) === from)
    ? { ...graph, nodes: graph.nodes.map((n): NodeRecord => (usedKey(n) === from ? { ...n, type: to } : n)) }
    : graph;

/** Gives every use of one module, wherever it stands, another one. */
const retyped = (project: Project, from: string, to: ModuleRecord): Project => ({
  ...project,
  graphs: project.graphs.map((g) => withType(g, from, typeOfUse(to))),
  modules: project.modules.map((m) => {
    const graph = withType(m.graph, from, typeOfUse(to));
    return graph === m.graph ? m : { ...m, graph };
  }),
});

/** The module of a project as it stands is a version from now on: its uses are uses of that. */
export const published =
  (key: string, version: number): Edit =>
  (p) => {
    const module = p.modules.find((m) => moduleKey(m) === key);
    if (!module) return p;
    const next = { ...module, version, edited: false };
    const clear = p.modules.filter((m) => m === module || moduleKey(m) !== moduleKey(next));
    return retyped({ ...p, modules: clear.map((m) => (m === module ? next : m)) }, key, next);
  };

/** A project with a module and all that stands in it, and what it is called there; what was done where both differ. */
export interface TakenIn {
  readonly project: Project;
  readonly module: ModuleRecord;
  /** Said where a module of the same id and version has other content: both are kept. */
  readonly notes: readonly string[];
}

/** Brings a module into a project; one that is there already, with the same content, is not doubled. */
export function takeIn(project: Project, file: ModuleFile): TakenIn {
  const notes: string[] = [];
  const incoming = [file.module, ...file.inside];
  const alone = { modules: incoming };
  // 1. Which come in as they are, which are there, and which need an id of their own.
  const renamed = new Map<string, ModuleRecord>();
  const present = new Map(project.modules.map((m) => [moduleKey(m), m]));
  for (const m of incoming) {
    const there = present.get(moduleKey(m));
    if (!there || moduleHash(project, there) === moduleHash(alone, m)) continue;
    const same = project.modules.find((x) => moduleHash(project, x) === moduleHash(alone, m));
    const name = same ? m.name : freeName(project, m.name);
    renamed.set(moduleKey(m), same ?? { ...m, id: newId('module'), name, graph: { ...m.graph, id: newId('inside'), name } });
    if (!same) notes.push(`There is another "${m.name}" of that id and version here. Both are kept; the new one is "${name}".`);
  }
  // 2. Those that are new, their inner uses told where what they use went.
  const graphs = new Set([...project.graphs, ...project.modules.map((m) => m.graph)].map((g) => g.id));
  const added: ModuleRecord[] = [];
  for (const m of incoming) {
    const key = moduleKey(m);
    const as = renamed.get(key) ?? m;
    if (project.modules.includes(as) || (!renamed.has(key) && present.has(key))) continue;
    let { graph } = as;
    for (const [from, to] of renamed) graph = withType(graph, from, typeOfUse(to));
    if (graphs.has(graph.id)) graph = { ...graph, id: newId('inside') };
    graphs.add(graph.id);
    added.push({ ...as, graph });
  }
  const key = moduleKey(renamed.get(moduleKey(file.module)) ?? file.module);
  const next = added.length > 0 ? { ...project, modules: [...project.modules, ...added] } : project;
  return { project: next, module: next.modules.find((m) => moduleKey(m) === key) as ModuleRecord, notes };
}

function freeName(project: Project, wanted: string): string {
  const taken = new Set(project.modules.map((m) => m.name));
  let name = `${wanted} 2`;
  for (let n = 3; taken.has(name); n++) name = `${wanted} ${n}`;
  return name;
}

/** Lets uses be of another version: one of a graph, or all of the project. Wires and dials hold on to the ids of ways. */
export const ofVersion =
  (from: string, to: ModuleRecord, only?: { readonly graph: string; readonly node: string }): Edit =>
  (p) => {
    if (!only) return withoutUnusedVersions(retyped(p, from, to), from);
    if (!graphAt(p, only.graph)) return p;
    const changed = inGraph(p, only.graph, (g) => ({
      ...g,
      nodes: g.nodes.map((n) => (n.id === only.node ? { ...n, type: typeOfUse(to) } : n)),
    }));
    return withoutUnusedVersions(changed, from);
  };

/** Without a version that nothing uses any more; the library has it. */
function withoutUnusedVersions(project: Project, key: string): Project {
  const graphs = [...project.graphs, ...project.modules.map((m) => m.graph)];
  if (graphs.some((g) => g.nodes.some((n) => usedKey(n) === key))) return project;
  return { ...project, modules: project.modules.filter((m) => moduleKey(m) !== key || m.edited) };
}
