import type { Project } from '../../project/schema.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { facetGraph } from './facets.ts';
import { resolveProject, type ResolvedNode } from './resolve.ts';

/**
 * Every node that makes or changes the mesh an object shows, in the order in which it happens, over all graphs: from
 * the Show Mesh that makes its result back along mesh wires, and on through results that other graphs make of objects
 * read on the way. Nodes that only measure are left out.
 */
export function nodesActingOn(catalogue: Catalogue, project: Project, object: string): ResolvedNode[] {
  const { writers } = facetGraph(catalogue, project);
  const nodes = resolveProject(catalogue, project);
  const order: ResolvedNode[] = [];
  const seen = new Set<string>();
  const visit = (node: ResolvedNode | undefined): void => {
    if (!node || seen.has(node.record.id)) return;
    seen.add(node.record.id);
    for (const port of node.inputs) {
      const carries = port.kind === 'mesh' || port.kind === 'geometry' || port.kind === 'copies';
      const wire = carries ? node.wires.get(port.id) : undefined;
      if (wire) visit(nodes.get(wire.from.node));
    }
    const reads = node.definition?.reads?.(node.settings) ?? [];
    for (const r of reads) if (r.facet === 'result') (writers.get(r.object) ?? []).forEach(visit);
    order.push(node);
  };
  (writers.get(object) ?? []).forEach(visit);
  return order;
}
