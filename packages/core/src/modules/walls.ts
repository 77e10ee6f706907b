import type { Catalogue } from '../graph/node/catalogue.ts';
import { memoizeWithin } from '../memo.ts';
import type { Way, Ways } from '../project/fields.ts';
import type { ObjectTakes } from '../project/kinds/index.ts';
import type { GraphRecord, NodeRecord } from '../project/schema.ts';

/** The walls of a module's graph: the node that ways in come from, and that which ways out go to. */
export interface Walls {
  readonly wayIn: NodeRecord | undefined;
  readonly wayOut: NodeRecord | undefined;
  readonly ins: readonly Way[];
  readonly outs: readonly Way[];
}

/** The first Way In and the first Way Out of a graph, and what they list; worked out once per graph record. */
export const wallsOf = memoizeWithin((catalogue: Catalogue, graph: GraphRecord): Walls => {
  const wall = (way: 'in' | 'out') => graph.nodes.find((n) => catalogue.get(n.type)?.way === way);
  const wayIn = wall('in');
  const wayOut = wall('out');
  return { wayIn, wayOut, ins: waysOf(wayIn), outs: waysOf(wayOut) };
});

const waysOf = (node: NodeRecord | undefined): readonly Way[] => {
  const value = node?.settings.ways;
  return typeof value === 'object' && value !== null && 'ways' in value ? (value as Ways).ways : [];
};

/** The objects that may stand in the settings which a way stands for; undefined where they take none. */
export function takenBy(catalogue: Catalogue, { nodes }: GraphRecord, way: Way): ObjectTakes | undefined {
  for (const { node, setting } of way.sets) {
    const type = nodes.find((n) => n.id === node)?.type ?? '';
    const found = catalogue.get(type)?.settings.find((s) => s.id === setting);
    if (found?.type === 'object') return found.takes;
  }
  // In a module in it, whose types are not at hand.
  return way.sets.length > 0 && (way.control === 'object' || way.control === 'place') ? 'any' : undefined;
}
