import {
  CATALOGUE,
  makeObject,
  makeProject,
  NOTHING_DRIVEN,
  type Project,
  addNode,
  changeNames,
  connect,
  emptyGraph,
  moveNodes,
  newId,
  nodeOf,
  pasteNodes,
  removeNodes,
  removeObjects,
  setInput,
  setPreview,
  setSetting,
  toggleProbe,
  addSection,
  changeSection,
  moveToSection,
  setPins,
  packNodes,
  graphAt,
  idInGraph,
  insideOf,
  type Edit,
} from '@umberfish/core';
import { describe, expect, test } from 'vitest';
import { drawnItems } from '../builder/stage/drawn-items.ts';
import { fittingPort, looseEnd, offered } from '../builder/bench/catalogue.ts';
import { copyNodes, readCopied } from '../builder/bench/clipboard.ts';
import { syncNodes, syncWires } from '../builder/bench/flow.ts';
import { wiresOnPath } from '../builder/bench/path.ts';
import { matching } from '../builder/palette-entries.ts';
import { GeometryStore } from '../engine/geometry-store.ts';
import { requestFor } from '../engine/request.ts';
import { edited, gestureEnded, opened, projectReducer, redone, undone } from './project-slice.ts';
import { nodesPicked, objectsPicked, portPicked, uiReducer, uiReset } from './ui-slice.ts';

const graph = { ...emptyGraph('G'), id: 'g' };
const base: Project = { ...makeProject('p', 'P'), graphs: [graph] };
const node = (id: string, type: string, settings = {}) => ({ ...nodeOf({ id: type, version: 1 }, [0, 0], settings), id });
const build = (...edits: ((p: Project) => Project)[]) => edits.reduce((p, e) => e(p), base);
const pair = build(
  addNode('g', node('a', 'make-grid')),
  addNode('g', node('b', 'move-points')),
  connect('g', { node: 'a', port: 'mesh' }, { node: 'b', port: 'mesh' }),
);

test('the palette puts what is called that first, and its heading with it', () => {
  const entry = (title: string, heading: string, words: string[] = []) => ({ key: title, heading, title, words, run: () => {} });
  const entries = [
    entry('Integer', 'Bring in', ['rounded to the nearest']),
    entry('Colour By', 'Read', ['through a gradient']),
    entry('Gradient', 'Maths'),
    entry('Remember Rest', 'Read'),
  ];
  const found = (search: string) => matching(entries, search).flatMap((g) => g.entries.map((e) => e.title));
  expect(found('gradient')).toEqual(['Gradient', 'Colour By']);
  expect(found('rest')).toEqual(['Remember Rest', 'Integer']);
  expect(found('')).toEqual(['Integer', 'Colour By', 'Remember Rest', 'Gradient']);
  expect(found('soft focus')).toEqual([]);
});

describe('sections and wires on the bench', () => {
  const boxed = build(
    () => pair,
    addNode('g', node('c', 'smooth')),
    connect('g', { node: 'b', port: 'mesh' }, { node: 'c', port: 'mesh' }),
    addSection('g', 's', ['a', 'b']),
  );

  test('a node is in one section; a section without nodes is gone', () => {
    expect(boxed.graphs[0].sections[0]).toMatchObject({ id: 's', nodes: ['a', 'b'], folded: false });
    const two = addSection('g', 't', ['b', 'c'])(boxed).graphs[0].sections;
    expect(two.map((x) => x.nodes)).toEqual([['a'], ['b', 'c']]);
    expect(moveToSection('g', ['c'], 's')(boxed).graphs[0].sections[0].nodes).toEqual(['a', 'b', 'c']);
    expect(moveToSection('g', ['a', 'b'], null)(boxed).graphs[0].sections).toEqual([]);
    expect(removeNodes('g', ['a', 'b'])(boxed).graphs[0].sections).toEqual([]);
  });

  test('folded, it hides its cards and takes over the wires that cross its edge', () => {
    const graph = changeSection('g', 's', { folded: true })(boxed).graphs[0];
    const shown = syncNodes(graph, [], null, []).filter((n) => !n.hidden);
    expect(shown.map((n) => n.id)).toEqual(['s', 'c']);
    expect(syncWires(graph, []).map((w) => [w.source, w.sourceHandle, w.target])).toEqual([['s', 'out', 'c']]);
  });

  test('a picked wire knows its whole path, and bends at its pins', () => {
    const [first, second] = boxed.graphs[0].wires;
    expect(wiresOnPath(boxed.graphs[0], [second.id])).toEqual(new Set([first.id, second.id]));
    const bent = setPins('g', first.id, [[4, 5]])(boxed).graphs[0];
    expect(bent.wires[0].pins).toEqual([[4, 5]]);
    expect(
      pasteNodes(
        'g',
        bent.nodes,
        bent.wires,
        new Map([
          ['a', 'x'],
          ['b', 'y'],
        ]),
        [10, 0],
      )(boxed).graphs[0].wires[2].pins,
    ).toEqual([[14, 5]]);
  });

  test('a renamed name of a formula keeps its wires, its value and its probe', () => {
    const named = (names: string[]) => ({ names: names.map((name) => ({ name, type: 'number' as const })) });
    const before = build(
      addNode('g', {
        ...node('f', 'formula', { inputs: named(['a']), outputs: named(['out']) }),
        inputs: { a: 3 },
        probes: ['out'],
      }),
      addNode('g', node('n', 'number')),
      addNode('g', node('m', 'arithmetic')),
      connect('g', { node: 'n', port: 'number' }, { node: 'f', port: 'a' }),
      connect('g', { node: 'f', port: 'out' }, { node: 'm', port: 'a' }),
    );
    const renamed = build(
      () => before,
      changeNames(CATALOGUE, 'g', 'f', 'inputs', 'input', named(['lift']).names, { from: 'a', to: 'lift' }),
      changeNames(CATALOGUE, 'g', 'f', 'outputs', 'output', named(['height']).names, { from: 'out', to: 'height' }),
    ).graphs[0];
    expect(renamed.nodes[0]).toMatchObject({ inputs: { lift: 3 }, probes: ['height'] });
    expect(renamed.wires.map((w) => [w.from.port, w.to.port])).toEqual([
      ['number', 'lift'],
      ['height', 'a'],
    ]);
    expect(changeNames(CATALOGUE, 'g', 'f', 'outputs', 'output', [])(before).graphs[0].wires.length).toBe(1);
  });
});

describe('edits', () => {
  test('share what they do not change', () => {
    const next = setInput('g', 'a', 'width', 4)(pair);
    expect(next.graphs[0].nodes[1]).toBe(pair.graphs[0].nodes[1]);
    expect(next.graphs[0].wires).toBe(pair.graphs[0].wires);
    expect(next.objects).toBe(pair.objects);
    const moved = moveNodes(
      'g',
      new Map([
        ['a', [5, 5] as const],
        ['b', [0, 0] as const],
      ]),
    )(pair);
    expect(moved.graphs[0].nodes[1]).toBe(pair.graphs[0].nodes[1]);
    const before = syncNodes(pair.graphs[0], [], null, []);
    const after = syncNodes(moved.graphs[0], ['a'], null, before);
    expect([after[0].selected, after[1] === before[1]]).toEqual([true, true]);
  });

  test('a wire replaces the one in its input; wires go with their nodes and their ports', () => {
    const more = build(
      () => pair,
      addNode('g', node('c', 'make-sphere')),
      connect('g', { node: 'c', port: 'mesh' }, { node: 'b', port: 'mesh' }),
    );
    expect(more.graphs[0].wires.map((w) => w.from.node)).toEqual(['c']);
    expect(removeNodes('g', ['a'])(setPreview('g', 'a')(pair)).graphs[0]).toMatchObject({
      wires: [],
      sections: [],
      preview: null,
    });
    const sum = build(
      addNode('g', node('n', 'number')),
      addNode('g', node('s', 'arithmetic', { operands: '3' })),
      connect('g', { node: 'n', port: 'number' }, { node: 's', port: 'c' }),
    );
    expect(setSetting(CATALOGUE, 'g', 's', 'operands', '2')(sum).graphs[0].wires).toEqual([]);
    expect(setSetting(CATALOGUE, 'g', 's', 'operation', 'multiply')(sum).graphs[0].wires.length).toBe(1);
    expect(toggleProbe('g', 'n', 'number')(toggleProbe('g', 'n', 'number')(sum)).graphs[0].nodes[0].probes).toEqual([]);
  });

  test('copies carry the wires among them, under new ids', () => {
    const copied = readCopied(copyNodes(pair, pair.graphs[0], ['a', 'b']))!;
    const ids = new Map(copied.nodes.map((n) => [n.id, newId(n.type)]));
    const pasted = pasteNodes('g', copied.nodes, copied.wires, ids, [10, 10])(pair).graphs[0];
    expect(pasted.nodes.length).toBe(4);
    expect(pasted.wires[1].from.node).toBe(ids.get('a'));
    expect(new Set(pasted.nodes.map((n) => n.id)).size).toBe(4);
    expect(readCopied('{"mark":"something else"}')).toBeUndefined();
    expect(readCopied('plain words')).toBeUndefined();
  });

  test('copies of a use carry its module, from inside of one too', () => {
    const picked = ['a', 'b'];
    const packed = packNodes(CATALOGUE, pair, 'g', picked, 'Part', []);
    const [g] = packed.project.graphs;
    const copied = readCopied(copyNodes(packed.project, g, [packed.use]))!;
    expect(copied.modules.map((m) => m.module.name)).toEqual(['Part']);
    // Inside, nodes are called by their paths; copied, by their own ids.
    const inside = graphAt(packed.project, insideOf(packed.use))!;
    expect(inside.nodes.map((n) => n.id)).toContain(`${packed.use}/a`);
    const inner = readCopied(
      copyNodes(
        packed.project,
        inside,
        inside.nodes.map((n) => n.id),
      ),
    )!;
    expect(inner.nodes.map((n) => n.id)).toEqual(expect.arrayContaining(picked));
    expect(inner.wires.every((w) => !w.from.node.includes('/') && !w.to.node.includes('/'))).toBe(true);
  });

  test('an edit inside of a use changes its module, and all that belongs to the use stays with it', () => {
    const packed = packNodes(CATALOGUE, pair, 'g', ['a', 'b'], 'Part', []);
    const view = insideOf(packed.use);
    const id = `${packed.use}/a`;
    const apply = (...edits: Edit[]) => edits.reduce((p, e) => e(p), packed.project);
    // A probe and the preview belong to the use: the module is as it was.
    const looked = apply(toggleProbe(view, id, 'number'), setPreview(view, id));
    expect(looked.modules).toBe(packed.project.modules);
    expect(looked.graphs[0].preview).toBe(id);
    expect(looked.graphs[0].nodes.find((n) => n.id === packed.use)?.own).toEqual({ a: { settings: {}, probes: ['number'] } });
    expect(graphAt(looked, view)!.nodes.find((n) => n.id === id)?.probes).toEqual(['number']);
    // A number belongs to the module, under the id that the node has in it.
    const turned = apply(setInput(view, id, 'value', 7));
    expect(turned.graphs).toBe(packed.project.graphs);
    expect(turned.modules[0].graph.nodes.find((n) => n.id === 'a')?.inputs).toEqual({ value: 7 });
    // A new node, wired, is one of the module; removed again, nothing is left of it.
    const more = apply(addNode(view, node('n', 'number')), removeNodes(view, [idInGraph(view, 'n')]));
    expect(more.modules[0].graph.nodes).toEqual(packed.project.modules[0].graph.nodes);
    expect(graphAt(packed.project, view)).toBe(graphAt(packed.project, view));
  });

  test('what hung under a removed object hangs under its parent', () => {
    const p: Project = {
      ...base,
      objects: [
        makeObject('a', 'A', 'group'),
        makeObject('b', 'B', 'group', { parent: 'a' }),
        makeObject('c', 'C', 'locator', { parent: 'b' }),
      ],
    };
    expect(removeObjects(['b'])(p).objects.map((o) => [o.id, o.parent])).toEqual([
      ['a', null],
      ['c', 'a'],
    ]);
    expect(removeObjects(['a', 'b'])(p).objects.map((o) => o.parent)).toEqual([null]);
  });
});

describe('history', () => {
  const step = (width: number, gesture: string | null = null) =>
    edited({ project: setInput('g', 'a', 'width', width)(pair), label: `Width ${width}`, gesture });
  const width = (s: ReturnType<typeof projectReducer>) => s.project?.graphs[0].nodes[0].inputs.width;

  test('a gesture is one step, another gesture another; undone steps can be redone until something else is done', () => {
    let s = projectReducer(undefined, opened({ project: pair, repairs: [] }));
    for (const action of [step(1, 'drag'), step(2, 'drag'), step(3, 'drag'), gestureEnded(), step(4, 'drag'), step(5)])
      s = projectReducer(s, action);
    expect(s.past.length).toBe(3);
    const seen = [];
    for (let i = 0; i < 4; i++) {
      seen.push(width(s));
      s = projectReducer(s, undone());
    }
    expect(seen).toEqual([5, 4, 3, undefined]);
    s = projectReducer(projectReducer(s, redone()), redone());
    expect(width(s)).toBe(4);
    s = projectReducer(s, step(9));
    expect(projectReducer(s, redone())).toBe(s);
  });
});

describe('what is asked of the worker', () => {
  const shown = build(
    () => pair,
    addNode('g', node('s', 'show-mesh', { name: 'It' })),
    connect('g', { node: 'b', port: 'mesh' }, { node: 's', port: 'mesh' }),
  );
  const ui = (...actions: Parameters<typeof uiReducer>[1][]) =>
    actions.reduce(uiReducer, uiReducer(undefined, uiReset({ graph: 'g' })));

  test('results; a preview instead of its graph’s results; probes; the picked node', () => {
    expect(requestFor(shown, ui(), 1).wanted).toEqual([{ node: 's', port: 'shown' }]);
    const previewed = requestFor(setPreview('g', 'a')(shown), ui(), 1);
    expect(previewed.shown).toEqual([{ key: 'preview', ref: { node: 'a', port: 'mesh' }, colourBy: undefined }]);
    expect(requestFor(toggleProbe('g', 'a', 'mesh')(shown), ui(), 1).statistics).toEqual([{ node: 'a', port: 'mesh' }]);
    const looked = requestFor(shown, ui(portPicked({ node: 'b', port: 'mesh' })), 1);
    expect(looked.table).toMatchObject({ ref: { node: 'b', port: 'mesh' }, on: 'point' });
    expect(requestFor(shown, ui(nodesPicked(['a'])), 1).wanted).toContainEqual({ node: 'a', port: 'mesh' });
  });

  test('nothing of what is hidden', () => {
    const objects = [
      makeObject('o', 'O', 'group', { visible: false }),
      makeObject('m', 'M', 'mesh', { parent: 'o', mesh: 'asset' }),
    ];
    const hidden = { ...setSetting(CATALOGUE, 'g', 's', 'object', 'm')(shown), objects, assets: [] };
    expect(requestFor(hidden, ui(), 1)).toMatchObject({ shown: [], assets: [], wanted: [] });
  });

  test('picking keeps the numbers in sight while an object is moved, and lets them go with another node', () => {
    const looking = ui(portPicked({ node: 'b', port: 'mesh' }), objectsPicked(['x']));
    expect(looking).toMatchObject({ objects: ['x'], nodes: [], port: { node: 'b' } });
    expect(uiReducer(looking, nodesPicked(['a']))).toMatchObject({ nodes: ['a'], objects: [], port: null });
  });
});

describe('pictures', () => {
  const topology = {
    id: 't',
    pointCount: 1,
    faceCount: 0,
    vertexPoints: Int32Array.of(0),
    triangles: new Uint32Array(0),
    triangleFaces: new Int32Array(0),
    groups: [],
    edges: new Uint32Array(0),
    materials: [],
  };
  const picture = (id: number, mesh: object) => ({
    id,
    frame: 1,
    reports: new Map(),
    statistics: new Map(),
    table: null,
    lines: [],
    ghosts: [],
    driven: NOTHING_DRIVEN,
    painted: new Map(),
    costInMs: 0,
    takenBytes: 0,
    meshes: [{ key: 's', topologyId: 't', ...mesh }],
  });

  test('what a picture leaves out is what was known', () => {
    const geometry = new GeometryStore();
    const positions = Float32Array.of(1, 2, 3);
    geometry.accept(picture(1, { topology, positions, normals: positions }));
    const first = geometry.get().meshes.get('s');
    geometry.accept(picture(2, {}));
    expect(geometry.get().meshes.get('s')).toBe(first);
    geometry.accept(picture(3, { positions: Float32Array.of(4, 5, 6) }));
    expect(geometry.get().meshes.get('s')?.topology).toBe(topology);
    expect(geometry.get().meshes.get('s')?.positions[0]).toBe(4);
    expect(geometry.topologiesReceived).toBe(1);
    geometry.forget();
    geometry.accept(picture(4, {}));
    expect(geometry.get().meshes.size).toBe(0);
  });

  test('a result stands for its object, whose own mesh becomes a ghost', () => {
    const p: Project = {
      ...setSetting(CATALOGUE, 'g', 's', 'object', 'm')(build(addNode('g', node('s', 'show-mesh')))),
      objects: [makeObject('m', 'M', 'mesh', { mesh: 'asset' })],
    };
    const mesh = { key: 's', topology, positions: new Float32Array(3), normals: new Float32Array(3) };
    const drawn = {
      request: 1,
      frame: 1,
      table: null,
      lines: [],
      ghosts: [],
      driven: NOTHING_DRIVEN,
      painted: new Map(),
      meshes: new Map([
        ['s', mesh],
        ['asset asset', mesh],
      ]),
    };
    expect(drawnItems(p, drawn, 'g', true).map((i) => [i.id, i.ghost])).toEqual([
      ['s', false],
      ['object m', true],
    ]);
    expect(drawnItems(p, drawn, 'g', false).length).toBe(1);
  });
});

test('a loose wire is offered what fits, at the port a person would mean', () => {
  const g = build(addNode('g', node('v', 'vector')), addNode('g', node('n', 'number'))).graphs[0];
  const vector = looseEnd(g, { node: 'v', port: 'vector' }, 'output')!;
  const number = looseEnd(g, { node: 'n', port: 'number' }, 'output')!;
  const port = (type: string, end: typeof vector) =>
    fittingPort(
      offered(end).find((d) => d.id === type)!,
      end,
    );
  expect(offered(vector).some((d) => d.id === 'response')).toBe(false);
  expect([port('noise', vector), port('move-points', vector), port('remap', number), port('move-points', number)]).toEqual([
    'position',
    'offset',
    'value',
    'weight',
  ]);
});
