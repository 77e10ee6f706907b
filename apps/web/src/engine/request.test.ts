import { expect, test } from 'vitest';
import { makeObject, makeProject, type GraphRecord, type NodeReport, type Project } from '@umberfish/core';
import { uiReducer, uiReset } from '../state/ui-slice.ts';
import { wireWords } from '../builder/bench/wire-words.ts';
import { LAST_PART, partOf, readReports, requestFor } from './request.ts';

const shows = (id: string, object: string): GraphRecord => ({
  id,
  name: id,
  nodes: [
    {
      id: `show-${id}`,
      type: 'show-mesh',
      version: 1,
      title: '',
      position: [0, 0],
      inputs: {},
      settings: { object },
      skip: false,
      probes: [],
    },
  ],
  wires: [],
  sections: [],
  preview: null,
});
const project: Project = {
  ...makeProject('p', 'P'),
  assets: ['a', 'b'].map((id) => ({ id, name: id, points: 0, faces: 0, origin: '' })),
  objects: [makeObject('one', 'One', 'mesh', { mesh: 'a' }), makeObject('two', 'Two', 'mesh', { mesh: 'b' })],
  graphs: [shows('first', 'one'), shows('second', 'two')],
};
const ui = (change: object) => uiReducer(undefined, uiReset(change));

test('of an opened project what is stored comes first, then the graph that is looked at, then everything', () => {
  const state = ui({ graph: 'second' });
  const whole = requestFor(project, state, 1);
  const parts = [0, 1, 2].map((step) => partOf(whole, project, state.graph, step));
  expect(parts.map((p) => p.shown.map((s) => s.key))).toEqual([[], ['show-second'], ['show-first', 'show-second']]);
  // Stored meshes are in every part.
  for (const p of parts) expect([...p.assets].sort()).toEqual(['a', 'b']);
  expect(parts.slice(0, 2).every((p) => p.table === null && p.statistics.length === 0)).toBe(true);
  expect(parts[LAST_PART]).toBe(whole);
  expect(partOf(whole, project, null, 1).shown).toEqual([]);
});

test('a checker asks for the places it needs, a wire that is pointed at for its numbers; nothing else does', () => {
  expect(requestFor(project, ui({ graph: 'first' }), 1).paint).toBeNull();
  expect(requestFor(project, ui({ graph: 'first', shading: 'checker-rest' }), 1).paint).toEqual({
    name: 'restPosition',
    as: 'checker',
  });
  expect(requestFor(project, ui({ graph: 'first', shading: 'checker-uv' }), 1).paint).toEqual({ name: 'uv', as: 'checker' });
  expect(
    requestFor(project, ui({ graph: 'first', shading: 'facing', paint: { name: 'normal', as: 'rgb' } }), 1).paint?.name,
  ).toBe('normal');
  const port = { node: 'show-first', port: 'shown' };
  expect(requestFor(project, ui({ graph: 'first', hovered: port }), 1).statistics).toEqual([port]);
});

test('what runs through a wire is said with its count and its range', () => {
  const numbers = { form: 'column', kind: 'number', count: 11936 } as const;
  expect(wireWords(numbers, undefined)).toBe('11\u202f936 values');
  const range = { minimum: [0.0601], maximum: [1.6], mean: [1], notFinite: 0, histogram: [], histogramFrom: 0, histogramTo: 1 };
  expect(wireWords(numbers, { ...numbers, ...range })).toBe('11\u202f936 values · 0.06 … 1.60');
  expect(wireWords(numbers, { ...numbers, ...range, notFinite: 3 })).toContain('3 not finite');
  const mesh = { form: 'geometry', kind: 'mesh', count: 8 } as const;
  expect(wireWords(mesh, { ...mesh, ...range, minimum: [-1, 0, 0], maximum: [1, 2, 0] })).toBe(
    '8 points · x −1.00 … 1.00 · y 0.00 … 2.00 · z 0.00 … 0.00',
  );
  expect(wireWords({ form: 'single', kind: 'number', count: 1, single: [1e-17] }, undefined)).toBe('0.000');
  expect(wireWords({ form: 'falloff', kind: 'falloff', count: 1, words: 'a ball' }, undefined)).toBe('a ball');
});

test('animators look at no graph; what they picked is asked for at frames around, within the range, while nothing plays', () => {
  const graph = { ...shows('first', 'one'), preview: 'show-first' };
  const quay: Project = { ...project, graphs: [graph], range: { first: 1, last: 20 } };
  const port = { node: 'show-first', port: 'shown' };
  const state = { animating: true, graph: 'first', port, hovered: port, frame: 6, objects: ['one', 'two'] };
  const ghosts = { before: 2, after: 3, every: 5 };
  const plain = requestFor(quay, ui(state), 1);
  expect([plain.table, plain.statistics, plain.ghosts.frames]).toEqual([null, [], []]);
  expect(plain.shown.map((s) => s.key)).toEqual(['show-first']);
  const asked = requestFor(quay, ui({ ...state, ghosts }), 1).ghosts;
  expect(asked).toEqual({ frames: [1, 11, 16], results: [port], plain: [{ object: 'two', asset: 'b' }] });
  for (const other of [{ playing: true }, { objects: [] }, { animating: false }, { ghosts: { before: 0, after: 0, every: 5 } }])
    expect(requestFor(quay, ui({ ...state, ghosts, ...other }), 1).ghosts.frames).toEqual([]);
  // Not in the first parts of an opened project.
  expect(partOf(requestFor(quay, ui({ ...state, ghosts }), 1), quay, 'first', 1).ghosts.frames).toEqual([]);
});

test('a result that hangs under an object is hidden with it; a painted node is seen in its own numbers', () => {
  const own = shows('third', 'one');
  const [show] = own.nodes;
  const hung = { ...own, nodes: [{ ...show, settings: { ...show.settings, object: null, under: 'two' } }] };
  const withIt = { ...project, graphs: [...project.graphs, hung] };
  const keys = (p: Project) => requestFor(p, ui({ graph: 'third' }), 1).shown.map((s) => s.key);
  expect(keys(withIt)).toEqual(['show-first', 'show-second', 'show-third']);
  const hidden = { ...withIt, objects: withIt.objects.map((o) => (o.id === 'two' ? { ...o, visible: false } : o)) };
  expect(keys(hidden)).toEqual(['show-first']);
  const painted = {
    ...project,
    graphs: [
      {
        ...project.graphs[0],
        nodes: [
          ...project.graphs[0].nodes,
          { ...show, id: 'paint', type: 'paint-values', settings: { name: 'weight_hip', least: 0, most: 2 } },
        ],
      },
    ],
  };
  const paintOf = (colours: 'heat' | 'joints') =>
    requestFor(painted, ui({ graph: 'first', painting: { node: 'paint', colours }, paint: { name: 'uv', as: 'rgb' } }), 1).paint;
  expect(paintOf('heat')).toEqual({ name: 'weight_hip', as: 'heat', range: [0, 2] });
  expect(paintOf('joints')).toEqual({ name: 'weight_hip', as: 'joints' });
});

test('what a card shows of outputs that nobody reads is worked out, and said nothing of', () => {
  const near = { ...project.graphs[0].nodes[0], id: 'near', type: 'nearest', settings: {} };
  const [first] = project.graphs;
  const about = (port: string) => ({ code: 'not-closed' as const, severity: 'warning' as const, port: 'target', about: [port] });
  const reports = new Map([['near', { problems: [about('signed'), about('distance')] } as unknown as NodeReport]]);
  const told = (wires: GraphRecord['wires'], port: string | null) => {
    const graph = { ...first, nodes: [...first.nodes, near], wires };
    const state = ui({ graph: 'first', nodes: ['near'], port: port && { node: 'near', port } });
    const request = requestFor({ ...project, graphs: [graph] }, state, 1);
    expect(request.wanted).toContainEqual({ node: 'near', port: 'signed' });
    return readReports(reports, request.glanced)
      .get('near')!
      .problems.map((p) => p.about?.[0]);
  };
  const wire = { id: 'w', from: { node: 'near', port: 'signed' }, to: { node: 'show-first', port: 'mesh' }, pins: [] };
  expect(told([], 'distance')).toEqual(['distance']);
  expect(told([], 'signed')).toEqual(['signed']);
  expect(told([], null)).toEqual([]);
  // What is about two outputs is said while one of them is read.
  const both = { ...about('signed'), about: ['signed', 'distance'] };
  const glanced = [{ node: 'near', port: 'signed' }];
  const shared = new Map([['near', { problems: [both] } as unknown as NodeReport]]);
  expect(readReports(shared, glanced).get('near')!.problems).toEqual([both]);
  expect(told([wire], 'distance')).toEqual(['signed', 'distance']);
});
