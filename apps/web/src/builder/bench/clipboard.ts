import {
  moduleFile,
  moduleKey,
  nodeSchema,
  pathOfInside,
  readModuleFile,
  usedKey,
  wireSchema,
  type GraphRecord,
  type ModuleFile,
  type Project,
} from '@umberfish/core';

const MARK = 'umberfish-nodes';

/** What lies on the clipboard. */
export interface Copied extends Pick<GraphRecord, 'nodes' | 'wires'> {
  /** The modules that the nodes use, for projects that do not hold them. */
  readonly modules: readonly ModuleFile[];
}

/** Picked nodes, the wires among them and the modules they use, as text for the clipboard. */
export function copyNodes(project: Project, graph: GraphRecord, ids: readonly string[]): string {
  // Inside of a use nodes are called by their paths; copied, by what they are called there.
  const path = pathOfInside(graph.id);
  const local = (id: string) => (path === undefined ? id : id.slice(path.length + 1));
  const nodes = graph.nodes.filter((n) => ids.includes(n.id)).map((n) => ({ ...n, id: local(n.id) }));
  const wires = graph.wires
    .filter((w) => ids.includes(w.from.node) && ids.includes(w.to.node))
    .map((w) => ({ ...w, from: { ...w.from, node: local(w.from.node) }, to: { ...w.to, node: local(w.to.node) } }));
  const used = new Set(nodes.map(usedKey));
  const modules = project.modules.filter((m) => used.has(moduleKey(m))).map((m) => moduleFile(project, m, '', ''));
  return JSON.stringify({ mark: MARK, nodes, wires, modules });
}

/** Reads what `copyNodes` wrote; undefined for any other text. */
export function readCopied(text: string): Copied | undefined {
  try {
    const data = JSON.parse(text) as { mark?: unknown; nodes?: unknown; wires?: unknown; modules?: unknown };
    if (data.mark !== MARK) return undefined;
    const modules = Array.isArray(data.modules) ? data.modules.map((m) => readModuleFile(JSON.stringify(m))) : [];
    return { nodes: nodeSchema.array().parse(data.nodes), wires: wireSchema.array().parse(data.wires), modules };
  } catch {
    return undefined;
  }
}
