import type { Catalogue } from '../graph/node/catalogue.ts';
import type { NodeRecord } from '../project/schema.ts';
import { chainOf } from '../scene/joints.ts';
import { objectsById } from '../scene/objects.ts';
import type { Edit } from './document.ts';

/**
 * Another name for an object. Nodes find joints by their names: those of the graphs that read or drive the joint's chain are
 * told the new one, where they name the old one by itself or in a list; patterns with * stay.
 */
export const renameObject =
  (catalogue: Catalogue, id: string, name: string): Edit =>
  (project) => {
    const byId = objectsById(project.objects);
    const object = byId.get(id);
    if (!object || object.name === name) return project;
    const objects = project.objects.map((o) => (o.id === id ? { ...o, name } : o));
    const chain = object.type === 'joint' ? chainOf(byId, object) : undefined;
    if (!chain) return { ...project, objects };
    const told = (node: NodeRecord): NodeRecord => {
      const named = (catalogue.get(node.type)?.settings ?? []).filter((s) => s.type === 'text' && s.jointOf !== undefined);
      const changes = named.flatMap(({ id: setting }) => {
        const before = node.settings[setting];
        const after = typeof before === 'string' ? inList(before, object.name, name) : before;
        return after === before || after === undefined ? [] : [[setting, after] as const];
      });
      return changes.length === 0 ? node : { ...node, settings: { ...node.settings, ...Object.fromEntries(changes) } };
    };
    const graphs = project.graphs.map((graph) => {
      const concerns = graph.nodes.some((n) => Object.values(n.settings).includes(chain.id));
      const nodes = concerns ? graph.nodes.map(told) : graph.nodes;
      return nodes.every((n, i) => n === graph.nodes[i]) ? graph : { ...graph, nodes };
    });
    return { ...project, objects, graphs };
  };

/** A list of names with one of them replaced; the same text where it is not among them. */
function inList(text: string, from: string, to: string): string {
  const parts = text.split(',');
  if (!parts.some((p) => p.trim() === from)) return text;
  return parts.map((p) => (p.trim() === from ? p.replace(from, () => to) : p)).join(',');
}
