import { CATALOGUE, checkConnection, resolveGraph, type GraphRecord, type NodeRecord } from '@umberfish/core';
import { describe, expect, test } from 'vitest';
import { graph, node, type NodeParts } from '../../core/src/testing/build.ts';
import { randomFrom } from '../../core/src/maths/random.ts';
import { CARD_WIDTH, readability, shownPorts } from './index.ts';
import { tidyGraph } from './tidy.ts';
import { alongWire, wirePath } from './wire-path.ts';

/** A graph of nodes and wires from `node.port` to `node.port`. */
const graphOf = (
  nodes: NodeRecord[],
  wires: readonly (readonly [string, string])[],
  parts: Partial<GraphRecord> = {},
): GraphRecord => ({
  ...graph(
    nodes,
    wires.map(([from, to]) => `${from} > ${to}`),
  ),
  ...parts,
});

/** A graph as it stands when it was tidied. */
async function tidied(graph: GraphRecord, only?: ReadonlySet<string>): Promise<GraphRecord> {
  const { places, pins } = await tidyGraph(CATALOGUE, graph, new Map(), only ?? null);
  return {
    ...graph,
    nodes: graph.nodes.map((n) => ({ ...n, position: places.get(n.id) ?? n.position })),
    wires: graph.wires.map((w) => ({ ...w, pins: pins.get(w.id) ?? w.pins })),
  };
}

/** Arithmetic of so many nodes, each reading some that came before; some in sections. */
function randomGraph(seed: number, count: number): GraphRecord {
  const random = randomFrom(seed);
  const nodes = Array.from({ length: count }, (_, i) =>
    node(`n${i}`, i % 5 === 0 ? 'number' : i % 7 === 0 ? 'response' : 'arithmetic', { probes: random() < 0.2 ? ['result'] : [] }),
  );
  const wires = nodes.flatMap((n, i): [string, string][] => {
    if (i % 5 === 0 || i === 0) return [];
    const ports = n.type === 'response' ? ['value'] : ['a', 'b'];
    return ports.map((p) => {
      const from = Math.max(0, i - 1 - Math.floor(random() * 12));
      return [`n${from}.${from % 5 === 0 ? 'number' : 'result'}`, `n${i}.${p}`];
    });
  });
  const group = (id: string, from: number) => ({
    id,
    title: id,
    note: 'What belongs together',
    tint: 'sand' as const,
    nodes: nodes.slice(from, from + 4).map((n) => n.id),
    folded: false,
  });
  return graphOf(nodes, wires, { sections: count > 20 ? [group('s1', 4), group('s2', 12)] : [] });
}

describe('a tidied graph', () => {
  test.each([1, 2, 3, 4, 5, 6, 7, 8])('%i: no card lies on another, no wire goes backwards or behind a card', async (seed) => {
    const graph = randomGraph(seed, 12 + seed * 4);
    for (const w of graph.wires) expect(checkConnection(CATALOGUE, { ...graph, wires: [] }, w.from, w.to).ok).toBe(true);
    const now = await tidied(graph);
    const { behind, backwards, overlaps } = readability(CATALOGUE, now);
    expect({ behind, backwards, overlaps }).toEqual({ behind: [], backwards: [], overlaps: [] });
    // Nobody stands in a box that is not its own.
    for (const s of now.sections) {
      const own = now.nodes.filter((n) => s.nodes.includes(n.id)).map((n) => n.position);
      const [left, top] = [0, 1].map((axis) => Math.min(...own.map((p) => p[axis])));
      const [right, low] = [0, 1].map((axis) => Math.max(...own.map((p) => p[axis])));
      const within = now.nodes.filter(
        ({ id, position: [x, y] }) =>
          !s.nodes.includes(id) && x > left - CARD_WIDTH && x < right + CARD_WIDTH && y > top && y < low,
      );
      expect(within.map((n) => n.id)).toEqual([]);
    }
    // The same graph is laid out the same way.
    expect(await tidied(graph)).toEqual(now);
  });

  test('some cards are tidied alone: the others and their wires stay', async () => {
    const graph = { ...randomGraph(3, 16), sections: [] };
    const placed = { ...graph, nodes: graph.nodes.map((n, i) => ({ ...n, position: [(i * 37) % 400, i * 90] as const })) };
    const only = new Set(['n1', 'n2', 'n3', 'n4']);
    const now = await tidied(placed, only);
    now.nodes.forEach((n, i) => !only.has(n.id) && expect(n.position).toEqual(placed.nodes[i].position));
    const corner = (g: GraphRecord) =>
      [0, 1].map((axis) => Math.min(...g.nodes.filter((n) => only.has(n.id)).map((n) => n.position[axis])));
    expect(corner(now)).toEqual(corner(placed));
  });

  test('loops, wires to nowhere, unknown types, lone cards and folded sections have a place too', async () => {
    const graph = graphOf(
      [
        node('a', 'arithmetic'),
        node('b', 'arithmetic'),
        node('lone', 'number'),
        node('odd', 'of another time'),
        node('c', 'arithmetic'),
      ],
      [
        ['a.result', 'b.a'],
        ['b.result', 'a.a'],
        ['gone.result', 'b.b'],
        ['odd.out', 'c.a'],
        ['b.result', 'c.b'],
      ],
      { sections: [{ id: 's', title: 'S', note: '', tint: 'sand', nodes: ['a', 'b'], folded: true }] },
    );
    const now = await tidied(graph);
    expect(now.nodes.every((n) => n.position.every(Number.isFinite))).toBe(true);
    const { overlaps } = readability(CATALOGUE, { ...now, nodes: now.nodes.filter((n) => !['a', 'b'].includes(n.id)) });
    expect(overlaps).toEqual([]);
  });
});

describe('what matters on a card', () => {
  const none = { wired: new Set<string>(), read: new Set<string>(), watched: new Set<string>() };
  const at = (type: string, parts: NodeParts = {}) => resolveGraph(CATALOGUE, graphOf([node('it', type, parts)], [])).get('it')!;
  const ids = (shown: ReturnType<typeof shownPorts>) => [
    shown.inputs.map((p) => p.id),
    shown.outputs.map((p) => p.id),
    shown.folded,
  ];

  test('a locator with one wire has one row; what is looked at shows too', () => {
    expect(ids(shownPorts(at('scene-locator'), { ...none, read: new Set(['position']) }))).toEqual([[], ['position'], 7]);
    const watched = { ...none, read: new Set(['position']), watched: new Set(['matrix']) };
    expect(ids(shownPorts(at('scene-locator'), watched))).toEqual([[], ['position', 'matrix'], 6]);
  });

  test('inputs show that need a wire or stand elsewhere than where they come', () => {
    expect(ids(shownPorts(at('bulge'), none))[0]).toEqual(['mesh']);
    expect(ids(shownPorts(at('bulge', { inputs: { height: 0.7 } }), none))[0]).toEqual(['mesh', 'height']);
    const same = at('bulge').inputs.find((p) => p.id === 'height')!.default!;
    expect(ids(shownPorts(at('bulge', { inputs: { height: same } }), none))[0]).toEqual(['mesh']);
  });

  test('one port alone is not folded, nor are the walls of a module', () => {
    expect(shownPorts(at('move-points'), { ...none, wired: new Set(['mesh', 'offset']) }).folded).toBe(0);
    expect(shownPorts(at('way-in'), none).folded).toBe(0);
  });
});

test('a wire runs through its pins and never turns back between cards in order', () => {
  const places = [
    [0, 0],
    [100, 50],
    [300, -20],
  ] as const;
  const line = alongWire(places);
  expect(line[0]).toEqual([0, 0]);
  expect(line.at(-1)).toEqual([300, -20]);
  expect(line.some(([x, y]) => Math.hypot(x - 100, y - 50) < 1e-9)).toBe(true);
  for (let i = 1; i < line.length; i++) expect(line[i][0]).toBeGreaterThanOrEqual(line[i - 1][0] - 1e-9);
  expect(wirePath(places)).toMatch(/^M0,0 C40,0 60,50 100,50 C/);
});
