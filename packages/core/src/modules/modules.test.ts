import { describe, expect, test } from 'vitest';
import { removeObjects } from '../edits/document.ts';
import { keepRemoved } from '../edits/keep-removed.ts';
import { offeredWays, packNodes, unpackUse } from '../edits/pack.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { checkConnection } from '../graph/network/connect.ts';
import { resolveGraph } from '../graph/network/resolve.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import type { Value } from '../graph/node/values.ts';
import { problemWords } from '../graph/node/problems.ts';
import { randomFrom } from '../maths/random.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { pathTo } from '../project/modules.ts';
import { readProjectDocument } from '../project/file.ts';
import type { GraphRecord, NodeRecord, Project } from '../project/schema.ts';
import { breathing, evaluatorOf, graph, node, project, swell, SHOWN } from '../testing/build.ts';
import { catalogueOf } from './definitions.ts';
import { expandProject } from './expand.ts';

const mesh = makeSphere(1, 6, 8);

/** All that a value consists of, as text: equal texts are equal to the bit. */
const textOf = (value: Value | undefined): string =>
  JSON.stringify(value, (_, v: unknown) =>
    ArrayBuffer.isView(v) ? Array.from(v as Float32Array, (x) => (Object.is(x, -0) ? '-0' : Number.isNaN(x) ? 'NaN' : x)) : v,
  );

const packAll = (p: Project, graphId: string, picked: readonly string[], tick = false) => {
  const ways = offeredWays(CATALOGUE, p, graphId, picked).filter((w) => w.needed || tick);
  return packNodes(CATALOGUE, p, graphId, picked, 'Part', ways);
};

const shown = (p: Project, ref = SHOWN) => evaluatorOf(mesh).evaluate({ project: p, frame: 7, wanted: [ref] });

describe('Packing', () => {
  test('the swell in a module is the swell, with its numbers, its costs and its messages on the use', () => {
    const plain = project([swell()], [0.3, 0.2, 0.1]);
    const picked = ['values', 'distance', 'ratio', 'response', 'offset', 'move'];
    const { project: packed, use, module } = packAll(plain, 'graph', picked, true);
    expect(textOf(shown(packed).value(SHOWN))).toBe(textOf(shown(plain).value(SHOWN)));
    const report = shown(packed).reports.get(use);
    expect(report?.failed).toBe(false);
    const out = catalogueOf(CATALOGUE, packed).get(`module:${module.id}@0`)?.outputs({})[0];
    expect(out).toMatchObject({ label: 'mesh', kind: 'mesh' });
    expect(report?.outputs[out!.id]).toMatchObject({ form: 'geometry', count: mesh.topology.pointCount });
    expect(shown(packed).reports.has(pathTo(use, 'offset'))).toBe(true);
    // The document is whole: it goes through a file.
    const { project: read, repairs } = readProjectDocument(JSON.parse(JSON.stringify(packed)));
    expect(repairs).toEqual([]);
    expect(read).toEqual(packed);
  });

  test('ways in have name, kind, unit, default and range of what they were', () => {
    const ways = offeredWays(CATALOGUE, project([swell()]), 'graph', ['offset', 'ratio', 'response']);
    const named = ways.map((w) => [w.side, w.way.name, w.way.kind, w.way.default, w.needed]);
    expect(named).toEqual([
      ['in', 'normals', 'value', expect.anything(), true],
      ['in', 'distance', 'value', expect.anything(), true],
      ['out', 'result', 'vector', null, true],
      ['in', 'arithmetic c', 'value', 0.3, false],
      ['in', 'arithmetic b', 'value', 0.85, false],
      ['in', 'Response response', 'setting', null, false],
    ]);
  });

  test('dials of one use are its own; a change inside shows in all', () => {
    const bulge = graph(
      [
        node('in', 'scene-mesh', { settings: { object: 'fish' } }),
        node('bulge', 'bulge', { inputs: { height: 0.3 } }),
        node('show', 'show-mesh', { settings: { object: 'fish' } }),
      ],
      ['in.mesh > bulge.mesh', 'bulge.mesh > show.mesh'],
    );
    const { project: packed, use, module } = packAll(project([bulge]), 'graph', ['bulge'], true);
    const height = offeredInputs(packed, use).find((i) => i.label === 'height')!.id;
    const meshIn = offeredInputs(packed, use).find((i) => i.kind === 'mesh')!.id;
    const meshOut = resolveGraph(catalogueOf(CATALOGUE, packed), packed.graphs[0]).get(use)!.outputs[0].id;
    const second: NodeRecord = { ...node('second', `module:${module.id}@0`, { inputs: { [height]: 0.7 } }) };
    const show2 = node('show2', 'show-mesh');
    const [g] = packed.graphs;
    const both: Project = {
      ...packed,
      graphs: [
        {
          ...g,
          nodes: [...g.nodes, second, show2],
          wires: [
            ...g.wires,
            { id: 'w1', from: { node: 'in', port: 'mesh' }, to: { node: 'second', port: meshIn }, pins: [] },
            { id: 'w2', from: { node: 'second', port: meshOut }, to: { node: 'show2', port: 'mesh' }, pins: [] },
          ],
        },
      ],
    };
    const at = (p: Project, show: string) =>
      textOf(shown(p, { node: show, port: SHOWN_PORT }).value({ node: show, port: SHOWN_PORT }));
    const flat = (value: number) =>
      at(
        project([{ ...bulge, nodes: bulge.nodes.map((n) => (n.id === 'bulge' ? { ...n, inputs: { height: value } } : n)) }]),
        'show',
      );
    expect(at(both, 'show')).toBe(flat(0.3));
    expect(at(both, 'show2')).toBe(flat(0.7));
    // Dragging the dial of one evaluates that use only.
    const evaluator = evaluatorOf(mesh);
    const wanted = [SHOWN, { node: 'show2', port: SHOWN_PORT }];
    evaluator.evaluate({ project: both, frame: 1, wanted });
    const moved = {
      ...both,
      graphs: [
        {
          ...both.graphs[0],
          nodes: both.graphs[0].nodes.map((n) => (n.id === 'second' ? { ...n, inputs: { [height]: 0.9 } } : n)),
        },
      ],
    };
    expect(evaluator.evaluate({ project: moved, frame: 1, wanted }).computed).toEqual(['second/bulge', 'show2']);
    // Uses with the same numbers share their results.
    const same = {
      ...both,
      graphs: [{ ...both.graphs[0], nodes: both.graphs[0].nodes.map((n) => (n.id === 'second' ? { ...n, inputs: {} } : n)) }],
    };
    const shared = evaluator.evaluate({ project: same, frame: 1, wanted });
    expect(shared.value({ node: 'second', port: meshOut })).toBe(shared.value({ node: use, port: meshOut }));
  });

  test('a graph without uses is not touched, and those without a module are told', () => {
    const plain = project([swell(), { ...breathing(), id: 'second' }]);
    expect(expandProject(CATALOGUE, plain).project).toBe(plain);
    const lost = project([graph([node('use', 'module:gone@3'), node('show', 'show-mesh')], ['use.way > show.mesh'])]);
    const words = [...shown(lost).reports.values()].flatMap((r) => r.problems.map(problemWords));
    expect(words.join(' ')).toContain('module');
  });

  test('modules in themselves, and more than memory holds, end', () => {
    const inner = (uses: string[]): GraphRecord => ({
      ...graph([node('i', 'way-in'), node('o', 'way-out'), ...uses.map((type, i) => node(`u${i}`, type))], []),
      id: `g${uses.join()}`,
    });
    const module = (id: string, uses: string[]) => ({
      id,
      version: 0,
      edited: false,
      name: id,
      summary: '',
      tags: [],
      example: 'ball' as const,
      proofs: [],
      graph: inner(uses),
    });
    const circle = {
      ...project([graph([node('a', 'module:a@0')], [])]),
      modules: [module('a', ['module:b@0']), module('b', ['module:a@0'])],
    };
    expect(expandProject(CATALOGUE, circle).project.graphs[0].nodes.map((n) => n.id)).toEqual(['a/u0/u0']);
    const ten = Array.from({ length: 10 }, (_, i) => `module:m${i}@0`);
    const bomb = {
      ...project([graph([node('a', 'module:m0@0')], [])]),
      modules: ten.map((_, i) => module(`m${i}`, i < 9 ? Array.from({ length: 10 }, () => `module:m${i + 1}@0`) : [])),
    };
    expect(expandProject(CATALOGUE, bomb).project.graphs[0].nodes.length).toBeLessThan(400_000);
  });
});

const offeredInputs = (p: Project, use: string) => resolveGraph(catalogueOf(CATALOGUE, p), p.graphs[0]).get(use)!.inputs;

/** Types that random graphs are made of: whatever reads nothing of a scene but the fish, and makes nothing of one. */
const TYPES = [...CATALOGUE.values()].filter((d) => !d.settings.some((s) => s.type === 'object') && !d.way && !d.shows);

/** A graph of many nodes, wired wherever a wire may be drawn. */
function randomGraph(seed: number, size: number): GraphRecord {
  const random = randomFrom(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  let made = graph(
    [
      node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
      node('at', 'scene-locator', { settings: { object: 'here' } }),
    ],
    [],
  );
  for (let k = 0; k < size; k++) {
    const type = pick(TYPES);
    const settings = Object.fromEntries(
      type.settings.flatMap((s) => (s.type === 'choice' && random() < 0.5 ? [[s.id, pick(s.options).value]] : [])),
    );
    made = { ...made, nodes: [...made.nodes, node(`n${k}`, type.id, { settings, skip: random() < 0.05 })] };
    for (const port of resolveGraph(CATALOGUE, made).get(`n${k}`)!.inputs) {
      if (port.default !== undefined && random() < 0.4) continue;
      const outputs = [...resolveGraph(CATALOGUE, made).values()].flatMap((n) =>
        n.outputs.map((o) => ({ node: n.record.id, port: o.id })),
      );
      const to = { node: `n${k}`, port: port.id };
      const fits = outputs.filter((from) => from.node !== to.node && checkConnection(CATALOGUE, made, from, to).ok);
      if (fits.length > 0) made = { ...made, wires: [...made.wires, { id: `w${k}${port.id}`, from: pick(fits), to, pins: [] }] };
    }
  }
  return made;
}

/** Every output outside of what is packed, and what is said of every node, by the id that it had at first. */
function everything(p: Project, graphOf: GraphRecord, idOf: (id: string) => string) {
  const wanted = [...resolveGraph(CATALOGUE, graphOf).values()].flatMap((n) =>
    n.outputs.map((o) => ({ node: n.record.id, port: o.id })),
  );
  const moved = wanted.map((r) => ({ ...r, node: idOf(r.node) }));
  const evaluation = evaluatorOf(mesh).evaluate({ project: p, frame: 5, wanted: moved });
  const values = moved.map((r, i) => [wanted[i].node, wanted[i].port, textOf(evaluation.value(r))]);
  const said = graphOf.nodes.map((n) => [n.id, evaluation.reports.get(idOf(n.id))?.problems.map(problemWords) ?? []]);
  return { values, said };
}

test('random graphs, packed, nested and unpacked again, are the same to the bit, and say the same of the same nodes', () => {
  let compared = 0;
  for (let seed = 1; seed <= 40; seed++) {
    const made = randomGraph(seed, 14);
    const plain = project([made], [0.2, 0.1, -0.3]);
    const before = everything(plain, made, (id) => id);
    const random = randomFrom(seed + 1000);
    const inner = made.nodes.filter(() => random() < 0.3).map((n) => n.id);
    const outerToo = made.nodes.filter((n) => !inner.includes(n.id) && random() < 0.3).map((n) => n.id);
    if (inner.length === 0) continue;
    const first = packAll(plain, 'graph', inner, random() < 0.5);
    const inFirst = (id: string) => (inner.includes(id) ? pathTo(first.use, id) : id);
    expect(everything(first.project, made, inFirst), `seed ${seed}, packed`).toEqual(before);
    const second = packAll(first.project, 'graph', [first.use, ...outerToo], random() < 0.5);
    const inSecond = (id: string) =>
      inner.includes(id) ? pathTo(pathTo(second.use, first.use), id) : outerToo.includes(id) ? pathTo(second.use, id) : id;
    expect(everything(second.project, made, inSecond), `seed ${seed}, nested`).toEqual(before);
    // Unpacked, nodes have other ids: what stayed outside is compared.
    const back = unpackUse(CATALOGUE, 'graph', second.use)(second.project);
    const outside = { ...made, nodes: made.nodes.filter((n) => !inner.includes(n.id) && !outerToo.includes(n.id)) };
    const after = everything(back, outside, (id) => id);
    expect(after.values, `seed ${seed}, unpacked`).toEqual(
      before.values.filter(([id]) => outside.nodes.some((n) => n.id === id)),
    );
    const uses = back.graphs[0].nodes.filter((n) => n.type.startsWith('module:'));
    expect(uses.length).toBe(1);
    const flat = unpackUse(CATALOGUE, 'graph', uses[0].id)(back);
    expect(flat.modules).toEqual([]);
    expect(flat.graphs[0].nodes.length).toBe(made.nodes.length);
    expect(flat.graphs[0].wires.length).toBe(made.wires.length);
    expect(everything(flat, outside, (id) => id).values).toEqual(after.values);
    compared += before.values.length;
  }
  expect(compared).toBeGreaterThan(500);
});

test('a skipped use hands on what comes in; one that reads a removed object goes on as it did', async () => {
  const part = graph(
    [
      node('in', 'scene-mesh', { settings: { object: 'fish' } }),
      node('round', 'shape-falloff', { settings: { object: 'here' }, inputs: { inner: 0.2, outer: 2 } }),
      node('bulge', 'bulge', { inputs: { radius: 3 } }),
      node('show', 'show-mesh', { settings: { object: 'fish' } }),
    ],
    ['in.mesh > bulge.mesh', 'round.falloff > bulge.weight', 'bulge.mesh > show.mesh'],
  );
  const { project: p, use } = packAll(project([part], [0.4, 0.3, 0]), 'graph', ['round', 'bulge']);
  const before = textOf(shown(p).value(SHOWN));
  const change = (q: Project, part: Partial<NodeRecord>): Project => ({
    ...q,
    graphs: q.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => (n.id === use ? { ...n, ...part } : n)) })),
  });
  const bare = project([graph(part.nodes.slice(0, 1).concat(part.nodes.slice(3)), ['in.mesh > show.mesh'])]);
  expect(textOf(shown(change(p, { skip: true })).value(SHOWN))).toBe(textOf(shown(bare).value(SHOWN)));
  expect(before).not.toBe(textOf(shown(bare).value(SHOWN)));
  // The locator is named by the use, in a way that stands for the setting inside; its weight stays where it was.
  const evaluator = evaluatorOf(mesh);
  const worlds = (q: Project, frames: readonly number[], ids: readonly string[]) =>
    Promise.resolve(Float64Array.from(frames.flatMap((f) => worldsAt(evaluator, q, ids, f).flatMap((m) => [...m]))));
  const kept = await keepRemoved(CATALOGUE, p, ['here'], (q, id, frames) => worlds(q, frames, [id]));
  const gone = removeObjects(['here'])(kept.project);
  expect(gone.objects.map((o) => o.id)).toEqual(['fish']);
  expect(gone.removed).toHaveLength(1);
  expect(textOf(shown(gone).value(SHOWN))).toBe(before);
});
