import type { Catalogue } from '../graph/node/catalogue.ts';
import { nodesActingOn } from '../graph/network/acts-on.ts';
import { driversOf } from '../graph/network/facets.ts';
import type { Project } from '../project/schema.ts';
import { standingNodes } from './standing.ts';

/** Cards that change what an object shows or where it is, and all that feeds them, in the order in which they happen. */
export function nodesBehind(catalogue: Catalogue, project: Project, object: string): ReadonlySet<string> {
  const nodes = standingNodes(catalogue, project);
  const found = new Set<string>();
  const seen = new Set<string>();
  const visit = (path: string): void => {
    // What is inside of a use belongs to the use.
    const id = path.split('/')[0];
    const node = nodes.get(id);
    if (!node || seen.has(id)) return;
    seen.add(id);
    for (const wire of node.wires.values()) visit(wire.from.node);
    found.add(id);
  };
  for (const node of nodesActingOn(catalogue, project, object)) visit(node.record.id);
  for (const { node } of driversOf(catalogue, project, { object })) visit(node.record.id);
  return found;
}
