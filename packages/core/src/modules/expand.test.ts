import { expect, test } from 'vitest';
import { randomFrom } from '../maths/random.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { Way } from '../project/fields.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { expandProject } from './expand.ts';

const way = (id: string, kind: Way['kind'], sets: Way['sets'] = []): Way => ({
  ...{ id, name: id, kind, unit: '', help: '', default: kind === 'setting' ? null : 1, range: null, optional: false },
  ...{ group: '', control: kind === 'setting' ? 'number' : 'wire', shown: null, start: 'origin', sets },
});

const walls = (id: 'way-in' | 'way-out', ...ways: Way[]): NodeRecord => node(id, id, { settings: { ways: { ways } } });

const module = (id: string, inside: GraphRecord): ModuleRecord => ({
  ...{ id, version: 0, edited: true, name: id, summary: '', tags: [], example: 'ball', proofs: [] },
  graph: { ...inside, id: `inside-${id}` },
});

/** A module of sums, one that uses it twice, and a graph that uses both. */
const start: Project = {
  ...project([
    graph(
      [
        node('n', 'number', { inputs: { value: 2 } }),
        node('one', 'module:inner@0', { inputs: { a: 3 }, settings: { how: 'multiply' } }),
        node('two', 'module:outer@0', { inputs: { a: 4 }, settings: { how: 'multiply' } }),
        node('last', 'arithmetic'),
      ],
      ['n.number > one.b', 'one.out > two.b', 'two.out > last.a', 'one.out > last.b'],
    ),
  ]),
  modules: [
    module(
      'inner',
      graph(
        [
          walls('way-in', way('a', 'number'), way('b', 'number'), way('how', 'setting', [{ node: 'x', setting: 'operation' }])),
          node('x', 'arithmetic', { inputs: { b: 1 } }),
          node('y', 'arithmetic', { inputs: { b: 5 } }),
          walls('way-out', way('out', 'number')),
        ],
        ['way-in.a > x.a', 'way-in.b > x.b', 'x.result > y.a', 'y.result > way-out.out'],
      ),
    ),
    module(
      'outer',
      graph(
        [
          walls('way-in', way('a', 'number'), way('b', 'number'), way('how', 'setting', [{ node: 'u', setting: 'how' }])),
          node('u', 'module:inner@0', { settings: { how: 'subtract' } }),
          node('v', 'module:inner@0', { inputs: { a: 7 } }),
          node('z', 'arithmetic'),
          walls('way-out', way('out', 'number')),
        ],
        ['way-in.a > u.a', 'way-in.b > u.b', 'u.out > v.b', 'v.out > z.a', 'way-in.a > z.b', 'z.result > way-out.out'],
      ),
    ),
  ],
};

type Random = () => number;
const pick = <T>(random: Random, of: readonly T[]): T => of[Math.floor(random() * of.length)];

/** One change of a graph that a user, or a hostile file, may make: nodes, wires, typed values, settings, order. */
function changed(g: GraphRecord, random: Random, step: number): GraphRecord {
  const swap = (old: NodeRecord, now: NodeRecord) => ({ ...g, nodes: g.nodes.map((n) => (n === old ? now : n)) });
  const some = pick(random, g.nodes);
  const ends = ['a', 'b', 'out', 'how'];
  const wire = (): WireRecord => ({
    id: `w${step}`,
    from: { node: pick(random, g.nodes).id, port: pick(random, ['a', 'b', 'out', 'result', 'number']) },
    to: { node: pick(random, g.nodes).id, port: pick(random, ends) },
    pins: [],
  });
  switch (Math.floor(random() * 9)) {
    case 0:
      return swap(some, { ...some, inputs: { ...some.inputs, [pick(random, ['a', 'b', 'value'])]: Math.floor(random() * 4) } });
    case 1:
      return swap(some, { ...some, inputs: {} });
    case 2:
      return { ...g, wires: [...g.wires.filter(() => random() < 0.95), wire()] };
    case 3:
      return { ...g, wires: g.wires.filter(() => random() < 0.8) };
    case 4:
      return { ...g, nodes: [...g.nodes, node(`a${step}`, 'arithmetic')] };
    case 5: // The wires of what is removed may stay behind, as in a hostile file.
      return { ...g, nodes: g.nodes.filter((n) => n !== some || n.type.startsWith('way') || g.nodes.length < 3) };
    case 6:
      return { ...g, nodes: [...g.nodes].sort(() => random() - 0.5) };
    case 7:
      if (some.type.startsWith('way')) return { ...g, nodes: g.nodes.filter((n) => n !== some || random() < 0.7) };
      return swap(some, { ...some, skip: !some.skip });
    default: {
      const how = pick(random, ['add', 'multiply', 'subtract']);
      if (some.type === 'way-out') return swap(some, walls('way-out', way('out', 'number'), way(`o${step}`, 'number')));
      // What a setting of the uses stands for.
      if (some.type === 'way-in') {
        const sets = { node: pick(random, g.nodes).id, setting: pick(random, ['operation', 'how']) };
        return swap(some, walls('way-in', way('a', 'number'), way('b', 'number'), way('how', 'setting', [sets])));
      }
      if (!some.type.startsWith('module')) return swap(some, { ...some, settings: { operation: how } });
      return random() < 0.5
        ? swap(some, { ...some, settings: { how } })
        : swap(some, { ...some, own: { [pick(random, ['x', 'y', 'u/x', 'z'])]: { settings: { operation: how }, probes: [] } } });
    }
  }
}

function edit(p: Project, random: Random, step: number): Project {
  if (random() < 0.4) return { ...p, graphs: [changed(p.graphs[0], random, step)] };
  const of = pick(random, p.modules);
  return { ...p, modules: p.modules.map((m) => (m === of ? { ...m, graph: changed(m.graph, random, step) } : m)) };
}

test('what is remembered of uses is never older than the document, through random edits and steps back', () => {
  let deepest = 0;
  for (let seed = 1; seed <= 60; seed++) {
    const random = randomFrom(seed);
    const history = [start];
    for (let step = 0; step < 40; step++) {
      // Now and then a step back, to records that were there before.
      const from = random() < 0.2 ? pick(random, history) : history[history.length - 1];
      const now = edit(from, random, step);
      history.push(now);
      const [kept, anew] = [expandProject(CATALOGUE, now), expandProject(new Map(CATALOGUE), now)];
      expect(kept.project.graphs, `seed ${seed}, step ${step}`).toEqual(anew.project.graphs);
      expect(kept.uses).toEqual(anew.uses);
      deepest = Math.max(deepest, kept.project.graphs[0].nodes.length);
    }
  }
  expect(deepest).toBeGreaterThan(10);
});

test('a change of one node inside of a module makes that node anew in each use, and nothing else', () => {
  const nodesOf = (p: Project) => new Map(expandProject(CATALOGUE, p).project.graphs[0].nodes.map((n) => [n.id, n]));
  const before = nodesOf(start);
  const [inner, outer] = start.modules;
  const nodes = inner.graph.nodes.map((n) => (n.id === 'y' ? { ...n, inputs: { b: 9 } } : n));
  const after = nodesOf({ ...start, modules: [{ ...inner, graph: { ...inner.graph, nodes } }, outer] });
  const other = [...after].filter(([id, n]) => before.get(id) !== n).map(([id]) => id);
  expect(other.sort()).toEqual(['one/y', 'two/u/y', 'two/v/y']);
});
