import type { GraphRecord, Project } from './schema.ts';

/*
 * Everything in a project is known by its id. A file written by hand, or put together from two, may give one id to two
 * things; the later one gets an id of its own then, so that neither is lost.
 */

/** Gives ids that nothing has yet, each like the one that is wanted; however often one is wanted, it takes as long. */
function freeIds(): { take(id: string): string; has(id: string): boolean } {
  const taken = new Set<string>();
  const next = new Map<string, number>();
  return {
    has: (id) => taken.has(id),
    take(id) {
      // Short enough for the limit of ids, whatever is added.
      const stem = id.slice(0, 60);
      let free = id;
      let k = next.get(stem) ?? 2;
      for (; taken.has(free); k++) free = `${stem}-${k}`;
      if (free !== id) next.set(stem, k);
      taken.add(free);
      return free;
    },
  };
}

/**
 * A project in which no two graphs, nodes or objects have one id. What named the id goes on meaning the first; within a
 * graph whose nodes are called as those of another, wires and sections stay with their own.
 * @param repairs is told what was put right
 */
export function withOwnIds(project: Project, repairs: string[]): Project {
  const objectIds = freeIds();
  const again = (what: string, name: string, id: string) =>
    repairs.push(`The id "${id}" was there twice; the later ${what}, "${name}", has one of its own now.`);
  const objects = project.objects.map((o) => {
    const id = objectIds.take(o.id);
    if (id === o.id) return o;
    again('object', o.name, o.id);
    return { ...o, id };
  });
  // A removed object is only there for those who read it: the one that is there counts.
  const removed = project.removed.filter((r) => !objectIds.has(r.object.id) && objectIds.take(r.object.id));
  if (removed.length < project.removed.length)
    repairs.push('A removed object had the id of another; the one that is there is read.');
  const graphIds = freeIds();
  const nodeIds = freeIds();
  const graphs = project.graphs.map((g) => {
    const id = graphIds.take(g.id);
    if (id !== g.id) again('graph', g.name, g.id);
    const own = withOwnNodes(g, nodeIds, (node) => again('node', `${node} in ${g.name}`, node));
    return id === g.id ? own : { ...own, id };
  });
  const isSame =
    removed.length === project.removed.length &&
    objects.every((o, i) => o === project.objects[i]) &&
    graphs.every((g, i) => g === project.graphs[i]);
  return isSame ? project : { ...project, objects, removed, graphs };
}

function withOwnNodes(graph: GraphRecord, taken: ReturnType<typeof freeIds>, tell: (id: string) => void): GraphRecord {
  const renamed = new Map<string, string>();
  const nodes = graph.nodes.map((n) => {
    const id = taken.take(n.id);
    // Of two in this graph its wires mean the first.
    if (!renamed.has(n.id)) renamed.set(n.id, id);
    if (id === n.id) return n;
    tell(n.id);
    return { ...n, id };
  });
  if (nodes.every((n, i) => n === graph.nodes[i])) return graph;
  const to = (id: string) => renamed.get(id) ?? id;
  return {
    ...graph,
    nodes,
    wires: graph.wires.map((w) => ({ ...w, from: { ...w.from, node: to(w.from.node) }, to: { ...w.to, node: to(w.to.node) } })),
    sections: graph.sections.map((s) => ({ ...s, nodes: s.nodes.map(to) })),
    preview: graph.preview && to(graph.preview),
  };
}
