import type { Catalogue, GraphRecord } from '@umberfish/core';
import { cardShapes, wirePlaces } from './bench-shape.ts';
import { CARD_WIDTH, type CardShape } from './card-size.ts';
import { alongWire, type Place } from './wire-path.ts';

/** How easily the wires of a graph are followed. */
export interface Readability {
  /** Wires that run behind a card other than those they join, by id. */
  readonly behind: readonly string[];
  /** Wires whose end stands left of their beginning. */
  readonly backwards: readonly string[];
  /** Pairs of cards that overlap. */
  readonly overlaps: readonly (readonly [string, string])[];
  /** How often wires cross. */
  readonly crossings: number;
}

/** Looks at a graph as it stands. */
export function readability(catalogue: Catalogue, graph: GraphRecord): Readability {
  const shapes = cardShapes(catalogue, graph);
  const runs = graph.wires.flatMap((wire) => {
    const places = wirePlaces(graph, shapes, wire);
    return places ? [{ wire, places, line: alongWire(places) }] : [];
  });
  return {
    behind: runs.filter((r) => isBehind(graph, shapes, r.wire, r.line)).map((r) => r.wire.id),
    backwards: runs.filter((r) => r.places[r.places.length - 1][0] < r.places[0][0]).map((r) => r.wire.id),
    overlaps: overlapsOf(graph, shapes),
    crossings: runs.reduce(
      (n, a, i) => n + runs.slice(i + 1).filter((b) => a.wire.from.node !== b.wire.from.node && doCross(a.line, b.line)).length,
      0,
    ),
  };
}

/** Whether a line runs behind a card, or into one of its own from the wrong side. */
export function isBehind(
  graph: GraphRecord,
  shapes: ReadonlyMap<string, CardShape>,
  wire: GraphRecord['wires'][number],
  line: readonly Place[],
): boolean {
  return graph.nodes.some(({ id, position: [x, y] }) => {
    const height = shapes.get(id)?.height ?? 0;
    const own = id === wire.from.node || id === wire.to.node ? 20 : 1;
    return line.some(([px, py]) => px > x + own && px < x + CARD_WIDTH - own && py > y + 1 && py < y + height - 1);
  });
}

function overlapsOf({ nodes }: GraphRecord, shapes: ReadonlyMap<string, CardShape>): (readonly [string, string])[] {
  return nodes.flatMap((a, i) =>
    nodes.slice(i + 1).flatMap((b) => {
      const wide = Math.abs(a.position[0] - b.position[0]) < CARD_WIDTH;
      const [above, below] = a.position[1] <= b.position[1] ? [a, b] : [b, a];
      const high = below.position[1] < above.position[1] + (shapes.get(above.id)?.height ?? 0);
      return wide && high ? [[a.id, b.id] as const] : [];
    }),
  );
}

/** Whether two lines cross anywhere. */
function doCross(a: readonly Place[], b: readonly Place[]): boolean {
  const side = (p: Place, q: Place, r: Place) => Math.sign((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]));
  for (let i = 1; i < a.length; i++)
    for (let k = 1; k < b.length; k++)
      if (
        side(a[i - 1], a[i], b[k - 1]) * side(a[i - 1], a[i], b[k]) < 0 &&
        side(b[k - 1], b[k], a[i - 1]) * side(b[k - 1], b[k], a[i]) < 0
      )
        return true;
  return false;
}
