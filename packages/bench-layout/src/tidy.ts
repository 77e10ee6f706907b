import type { Catalogue, GraphRecord } from '@umberfish/core';
import ELK, { type ElkExtendedEdge, type ElkNode } from 'elkjs/lib/elk.bundled.js';
import { cardShapes, wirePlaces } from './bench-shape.ts';
import { CARD_WIDTH, FOLDED_SECTION, type CardShape } from './card-size.ts';
import { isBehind } from './readable.ts';
import type { Tidied } from './tidied.ts';
import { alongWire, type Place } from './wire-path.ts';

const OPTIONS = {
  'elk.algorithm': 'layered',
  'elk.direction': 'RIGHT',
  'elk.hierarchyHandling': 'INCLUDE_CHILDREN',
  'elk.json.shapeCoords': 'ROOT',
  'elk.json.edgeCoords': 'ROOT',
  'elk.edgeRouting': 'POLYLINE',
  'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
  'elk.layered.considerModelOrder.strategy': 'PREFER_NODES',
  'elk.layered.spacing.nodeNodeBetweenLayers': '48',
  'elk.layered.spacing.edgeNodeBetweenLayers': '18',
  'elk.spacing.nodeNode': '26',
  'elk.spacing.edgeNode': '18',
  'elk.spacing.edgeEdge': '12',
  'elk.spacing.componentComponent': '56',
};

/** Room round the cards of a section, its title and its note included. */
const MARGIN = 16;
const TITLE = 34;
const NOTE_LINE = 17;
/** A note has about so many letters in a line. */
const NOTE_LETTERS = 46;

/**
 * Lays a graph out by layers with ports, from left to right along the wires (Sugiyama, Tagawa and Toda 1981, by ELK):
 * sections are kept together, cards without wires stand by themselves.
 * @param heights of cards as they are on the page; what is not named is as high as it comes
 * @param only lays out these cards alone, where they are; the others keep their places
 */
export async function tidyGraph(
  catalogue: Catalogue,
  graph: GraphRecord,
  heights: ReadonlyMap<string, number> = new Map(),
  only: ReadonlySet<string> | null = null,
): Promise<Tidied> {
  const shapes = new Map(
    [...cardShapes(catalogue, graph)].map(([id, s]) => [id, { ...s, height: Math.max(s.height, heights.get(id) ?? 0) }]),
  );
  const part = only ? partOf(graph, only) : graph;
  const laid = await new ELK().layout(elkOf(part, shapes));
  const places = new Map<string, Place>();
  const bends = new Map<string, Place[]>();
  collect(laid, places, bends);
  const shift = only ? shiftOf(graph, places) : [0, 0];
  const moved = (at: Place): Place => [Math.round(at[0] + shift[0]), Math.round(at[1] + shift[1])];
  const final = new Map([...places].filter(([id]) => shapes.has(id)).map(([id, at]) => [id, moved(at)]));
  const stands = { ...graph, nodes: graph.nodes.map((n) => ({ ...n, position: final.get(n.id) ?? n.position })) };
  const pins = new Map<string, readonly Place[]>();
  for (const wire of part.wires) {
    const direct = wirePlaces(stands, shapes, { ...wire, pins: [] });
    if (!direct) continue;
    const needs = isBehind(stands, shapes, wire, alongWire(direct));
    pins.set(wire.id, needs ? (bends.get(wire.id) ?? []).map(moved) : []);
  }
  return { places: final, pins };
}

/** Some cards of a graph with the wires among them. */
const partOf = (graph: GraphRecord, only: ReadonlySet<string>): GraphRecord => ({
  ...graph,
  nodes: graph.nodes.filter((n) => only.has(n.id)),
  wires: graph.wires.filter((w) => only.has(w.from.node) && only.has(w.to.node)),
  sections: [],
});

/** How far laid out cards have to go to stand where they stood: their top left corner. */
function shiftOf({ nodes }: GraphRecord, places: ReadonlyMap<string, Place>): Place {
  const corner = (of: readonly Place[]) => [0, 1].map((axis) => Math.min(...of.map((p) => p[axis])));
  const was = corner(nodes.filter((n) => places.has(n.id)).map((n) => n.position));
  const is = corner([...places.values()]);
  return [was[0] - is[0], was[1] - is[1]];
}

/** A graph in the words of the layouter. */
function elkOf(graph: GraphRecord, shapes: ReadonlyMap<string, CardShape>): ElkNode {
  const home = new Map(graph.sections.flatMap((s) => s.nodes.map((n) => [n, s] as const)));
  const card = (id: string): ElkNode => {
    const { height, inputs, outputs } = shapes.get(id) as CardShape;
    const port = (name: string, x: number, y: number, side: 'WEST' | 'EAST') => ({
      id: `${id} ${side} ${name}`,
      x,
      y,
      width: 0,
      height: 0,
      layoutOptions: { 'elk.port.side': side },
    });
    return {
      id,
      width: CARD_WIDTH,
      height,
      layoutOptions: { 'elk.portConstraints': 'FIXED_POS' },
      ports: [
        ...[...inputs].map(([name, y]) => port(name, 0, y, 'WEST')),
        ...[...outputs].map(([name, y]) => port(name, CARD_WIDTH, y, 'EAST')),
      ],
    };
  };
  const sections = graph.sections.map((s): ElkNode => {
    if (s.folded) return { id: s.id, ...FOLDED_SECTION };
    const note = s.note.split('\n').reduce((n, l) => n + Math.ceil(l.length / NOTE_LETTERS), 0);
    return {
      id: s.id,
      layoutOptions: {
        'elk.padding': `[top=${MARGIN + TITLE + note * NOTE_LINE},left=${MARGIN},bottom=${MARGIN},right=${MARGIN}]`,
      },
      children: s.nodes.filter((n) => shapes.has(n)).map(card),
    };
  });
  const end = (node: string, port: string, side: 'WEST' | 'EAST', has: ReadonlyMap<string, number> | undefined) => {
    const s = home.get(node);
    return s?.folded ? s.id : has?.has(port) ? `${node} ${side} ${port}` : undefined;
  };
  const edges = graph.wires.flatMap((w): ElkExtendedEdge[] => {
    const source = end(w.from.node, w.from.port, 'EAST', shapes.get(w.from.node)?.outputs);
    const target = end(w.to.node, w.to.port, 'WEST', shapes.get(w.to.node)?.inputs);
    return source && target && source !== target ? [{ id: w.id, sources: [source], targets: [target] }] : [];
  });
  const loose = graph.nodes.filter((n) => !home.has(n.id) && shapes.has(n.id)).map((n) => card(n.id));
  return { id: 'graph', layoutOptions: OPTIONS, children: [...sections, ...loose], edges };
}

/** Reads places of cards and bends of wires off a layout. */
function collect(node: ElkNode, places: Map<string, Place>, bends: Map<string, Place[]>): void {
  for (const child of node.children ?? []) {
    places.set(child.id, [child.x ?? 0, child.y ?? 0]);
    collect(child, places, bends);
  }
  for (const edge of node.edges ?? [])
    bends.set(
      edge.id,
      (edge.sections ?? []).flatMap((s) => (s.bendPoints ?? []).map((p): Place => [p.x, p.y])),
    );
}
