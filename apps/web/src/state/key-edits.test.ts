import {
  CATALOGUE,
  keysIn,
  makeObject,
  makeProject,
  type InputValue,
  type Project,
  addNode,
  connect,
  emptyGraph,
  changeTracks,
  chosenAt,
  keyInputs,
  trackRows,
} from '@umberfish/core';
import { expect, test } from 'vitest';

const node = (id: string, type: string, inputs: Record<string, InputValue> = {}) => ({
  id,
  type,
  version: 1,
  title: '',
  position: [0, 0] as const,
  inputs,
  settings: {},
  skip: false,
  probes: [],
});
const start: Project = {
  ...makeProject('p', 'P'),
  objects: [makeObject('duck', 'Duck', 'prop')],
  graphs: [{ ...emptyGraph('Graph'), id: 'g' }],
};
const build = (...edits: ((p: Project) => Project)[]) => edits.reduce((p, edit) => edit(p), start);

const expression = { expression: 'frame / 2' };
const project = build(
  addNode('g', node('move', 'build-matrix', { translate: [1, expression, 3] })),
  addNode('g', node('dial', 'number', { value: 0.25 })),
  addNode('g', node('ball', 'make-sphere')),
  addNode('g', node('out', 'transform')),
  connect('g', { node: 'ball', port: 'mesh' }, { node: 'out', port: 'mesh' }),
);
const inputs = (p: Project, id: string) => p.graphs[0].nodes.find((n) => n.id === id)?.inputs ?? {};

test('numbers of cards are keyed as they are at the frame; expressions, wires and other cards stay', () => {
  const once = keyInputs(CATALOGUE, 'g', ['move', 'out'], 10)(project);
  const [x, y, z] = inputs(once, 'move').translate as readonly unknown[];
  expect([x, z].map((v) => keysIn(v)?.keys.map((k) => [k.frame, k.value]))).toEqual([[[10, 1]], [[10, 3]]]);
  expect(y).toEqual(expression);
  // Numbers nobody typed are keyed as the defaults that stand there.
  expect(trackRows(CATALOGUE, once, [], ['out']).every((r) => r.track.keys.length === 1)).toBe(true);
  expect(inputs(once, 'out').mesh).toBeUndefined();
  expect(inputs(once, 'dial')).toEqual({ value: 0.25 });
  // A second key stands where the first track is by then, and changes nothing else.
  const twice = keyInputs(CATALOGUE, 'g', ['move'], 30)(once);
  expect(keysIn((inputs(twice, 'move').translate as readonly unknown[])[2])?.keys.map((k) => [k.frame, k.value])).toEqual([
    [10, 3],
    [30, 3],
  ]);
  expect(inputs(twice, 'out')).toBe(inputs(once, 'out'));
  expect(keyInputs(CATALOGUE, 'g', [], 1)(project)).toBe(project);
  expect(keyInputs(CATALOGUE, 'nowhere', ['move'], 1)(project)).toBe(project);
});

test('rows of keys name their owner; a change touches only rows with chosen keys, and what is chosen goes along', () => {
  const keyed = keyInputs(CATALOGUE, 'g', ['move'], 5)(project);
  const rows = trackRows(CATALOGUE, keyed, [], []);
  expect(rows.filter((r) => r.label.startsWith('move')).map((r) => r.owner)).toContain('Build Matrix');
  expect(trackRows(CATALOGUE, keyed, ['duck'], [])).toEqual([]);
  const chosen = new Map([[rows[0].key, [5]]]);
  const later = changeTracks(rows, chosen, (t) => ({ ...t, keys: t.keys.map((k) => ({ ...k, frame: 9 })) }))(keyed);
  expect(trackRows(CATALOGUE, later, [], []).map((r) => r.track.keys[0].frame)).toEqual([9, ...rows.slice(1).map(() => 5)]);
  expect(chosenAt(chosen, (f) => f + 4)).toEqual(new Map([[rows[0].key, [9]]]));
  // Without any key left, the number that stood there stays.
  const gone = changeTracks(rows, chosen, () => undefined)(keyed);
  expect(trackRows(CATALOGUE, gone, [], [])).toHaveLength(rows.length - 1);
});
