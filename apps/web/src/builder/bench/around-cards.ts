import { memoizeWithin, outputKinds, resolveGraph } from '@umberfish/core';

/** Of a card without wires, in a graph that is not there. */
export const NOTHING_AROUND = '[[],[],[]]';

/**
 * What is around each card, as text, so that edits elsewhere do not render it: its wired inputs, the kinds of its outputs,
 * and which of those are read. Found for the whole graph at once: every card asks at every change.
 */
export const aroundCards = memoizeWithin(
  (catalogue: Parameters<typeof resolveGraph>[0], graph: Parameters<typeof resolveGraph>[1]) => {
    const kinds = outputKinds(catalogue, graph);
    const read = new Map<string, Set<string>>();
    for (const { from } of graph.wires) {
      const ports = read.get(from.node) ?? new Set();
      read.set(from.node, ports.add(from.port));
    }
    return new Map(
      [...resolveGraph(catalogue, graph)].map(([id, node]) => {
        const kindsOut = node.outputs.map((o) => kinds.get(`${id}.${o.id}`) ?? null);
        return [id, JSON.stringify([[...node.wires.keys()], kindsOut, [...(read.get(id) ?? [])]])];
      }),
    );
  },
);
