import { resolveGraph, type Catalogue, type GraphRecord } from '@umberfish/core';
import { CARD_WIDTH, cardShape, type CardShape } from './card-size.ts';
import type { Place } from './wire-path.ts';

/** Shapes of all cards of a graph, by node. */
export function cardShapes(catalogue: Catalogue, graph: GraphRecord): Map<string, CardShape> {
  const nodes = resolveGraph(catalogue, graph);
  const read = new Map<string, Set<string>>();
  for (const { from } of graph.wires) read.set(from.node, (read.get(from.node) ?? new Set()).add(from.port));
  return new Map(
    [...nodes].map(([id, node]) => [
      id,
      cardShape(node, {
        wired: new Set(node.wires.keys()),
        read: read.get(id) ?? new Set(),
        watched: new Set(node.record.probes),
      }),
    ]),
  );
}

/** Where a wire runs: its ends at the cards and the pins between; undefined where a card is gone. */
export function wirePlaces(
  graph: GraphRecord,
  shapes: ReadonlyMap<string, CardShape>,
  wire: GraphRecord['wires'][number],
): Place[] | undefined {
  const at = (id: string) => graph.nodes.find((n) => n.id === id)?.position;
  const [a, b] = [at(wire.from.node), at(wire.to.node)];
  const out = shapes.get(wire.from.node)?.outputs.get(wire.from.port);
  const into = shapes.get(wire.to.node)?.inputs.get(wire.to.port);
  if (!a || !b || out === undefined || into === undefined) return undefined;
  return [[a[0] + CARD_WIDTH, a[1] + out], ...wire.pins, [b[0], b[1] + into]];
}
