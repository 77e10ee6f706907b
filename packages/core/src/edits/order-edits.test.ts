import fc from 'fast-check';
import { expect, test } from 'vitest';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { shownResults } from '../graph/network/shown.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject } from '../project/kinds/index.ts';
import { readProjectFile, writeProjectFile } from '../project/file.ts';
import type { Project } from '../project/schema.ts';
import { hierarchyOf, pickableIds, rowsFound } from '../scene/hierarchy.ts';
import { graph, node, project, swell } from '../testing/build.ts';
import { duplicateGraph, subjectsOf } from './graph-edits.ts';
import { inFolder, listedGraphs, orderGraph, orderObjects, renameFolder } from './order-edits.ts';

const named = (...names: string[]): Project => ({
  ...project([]),
  objects: names.map((n) => makeObject(n, n, 'group')),
});
const names = (p: Project) => p.objects.map((o) => o.name).join('');

test('objects move beside another and keep their order among themselves', () => {
  const p = named('a', 'b', 'c', 'd', 'e');
  expect(names(orderObjects(['d', 'b'], { id: 'a', where: 'before' })(p))).toBe('bdace');
  expect(names(orderObjects(['a', 'c'], { id: 'e', where: 'after' })(p))).toBe('bdeac');
  expect(names(orderObjects(['c', 'e'], { id: 'c', where: 'after' })(p))).toBe('abced');
  expect(orderObjects(['b'], { id: 'a', where: 'after' })(p)).toBe(p);
  expect(orderObjects(['b'], { id: 'gone', where: 'after' })(p)).toBe(p);
  const ids = fc.subarray(['a', 'b', 'c', 'd', 'e']);
  fc.assert(
    fc.property(ids, fc.constantFrom('a', 'c', 'e'), fc.constantFrom('before' as const, 'after' as const), (moved, id, where) => {
      const next = names(orderObjects(moved, { id, where })(p));
      expect([...next].sort().join('')).toBe('abcde');
      // Those that stay keep their order, and so do those that move.
      const others = [...'abcde'].filter((x) => !moved.includes(x) || x === id);
      expect([...next].filter((x) => others.includes(x))).toEqual(others);
      const moving = moved.filter((x) => x !== id).join('');
      const at = next.indexOf(id);
      expect(where === 'before' ? next.slice(0, at).endsWith(moving) : next.slice(at + 1).startsWith(moving)).toBe(true);
    }),
  );
});

test('graphs are listed by folder, move into the folder of what they are dropped on, and files keep it', () => {
  const p = project(['a', 'b', 'c', 'd'].map((id) => graph([], [], id)));
  const list = (now: Project) =>
    listedGraphs(now.graphs)
      .map((f) => `${f.folder}[${f.graphs.map((g) => g.id).join('')}]`)
      .join(' ');
  expect(list(p)).toBe('[abcd]');
  const folded = inFolder('c', 'Fish')(inFolder('a', 'Fish')(p));
  expect(list(folded)).toBe('Fish[ac] [bd]');
  const moved = orderGraph('d', { id: 'a', where: 'before' })(folded);
  expect(list(moved)).toBe('Fish[dac] [b]');
  expect(list(orderGraph('d', { id: 'b', where: 'after' })(moved))).toBe('Fish[ac] [bd]');
  expect(list(renameFolder('Fish', 'Puffer')(moved))).toBe('Puffer[dac] [b]');
  expect(list(renameFolder('Fish', '')(moved))).toBe('[dabc]');
  expect(orderGraph('a', { id: 'a', where: 'after' })(p)).toBe(p);
  expect(readProjectFile(writeProjectFile(moved, new Map())).project.graphs).toEqual(moved.graphs);
});

test('a graph made again gives the same numbers, and shows nothing twice', () => {
  const p = project([swell()], [0, 1, 0]);
  const made = duplicateGraph(CATALOGUE, p, 'graph')!;
  expect(made.project.graphs.map((g) => g.name)).toEqual(['graph', 'graph 2']);
  expect(made.skipped).toHaveLength(1);
  expect(shownResults(CATALOGUE, made.project)).toEqual(shownResults(CATALOGUE, p));
  const [one, two] = made.project.graphs;
  expect(new Set([...one.nodes, ...two.nodes].map((n) => n.id)).size).toBe(one.nodes.length * 2);
  // Shown in place of the first, it is the same to the bit.
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('mesh', makeSphere(1, 8, 12));
  const meshOf = (project: Project) => {
    const [{ node: id }] = shownResults(CATALOGUE, project);
    const value = evaluator
      .evaluate({ project, frame: 1, wanted: [{ node: id, port: SHOWN_PORT }] })
      .value({ node: id, port: SHOWN_PORT });
    return value?.form === 'geometry' ? value.mesh.positions : undefined;
  };
  const alone = { ...made.project, graphs: [{ ...two, nodes: two.nodes.map((n) => ({ ...n, skip: false })) }] };
  expect(meshOf(alone)).toEqual(meshOf(p));
  expect(meshOf(p)).toBeDefined();
  expect(duplicateGraph(CATALOGUE, p, 'gone')).toBeUndefined();
});

test('a graph is about what it shows or drives; where that is nothing, about what it reads', () => {
  const drives = graph(
    [
      node('here', 'scene-locator', { settings: { object: 'here' } }),
      node('drive', 'drive-object', { settings: { object: 'fish' } }),
      node('off', 'drive-object', { settings: { object: 'here' }, skip: true }),
    ],
    ['here.matrix > drive.matrix'],
    'drives',
  );
  const reads = graph([node('there', 'scene-locator', { settings: { object: 'here' } })], [], 'reads');
  const odd = graph([node('gone', 'scene-locator', { settings: { object: 'nobody' } })], [], 'odd');
  expect([...subjectsOf(CATALOGUE, project([drives, reads, odd]))]).toEqual([
    ['drives', ['fish']],
    ['reads', ['here']],
    ['odd', []],
  ]);
});

test('what hangs under a locked object is not picked; a search keeps what a find hangs under', () => {
  const objects = [
    makeObject('crane', 'Crane', 'group', { pickable: false }),
    makeObject('jib', 'Jib', 'group', { parent: 'crane' }),
    makeObject('hook', 'Old Hook', 'group', { parent: 'jib' }),
    makeObject('mast', 'Mast', 'group'),
    makeObject('hooked', 'Hooked', 'group', { parent: 'mast' }),
    makeObject('flag', 'Flag', 'group', { parent: 'mast' }),
  ];
  expect([...pickableIds(objects)].sort()).toEqual(['flag', 'hooked', 'mast']);
  const found = (search: string) => rowsFound(hierarchyOf(objects), search).map((r) => `${'.'.repeat(r.level)}${r.object.id}`);
  expect(found('hook')).toEqual(['crane', '.jib', '..hook', 'mast', '.hooked']);
  expect(found('hook OLD')).toEqual(['crane', '.jib', '..hook']);
  expect(found('mast')).toEqual(['mast']);
  expect(found('flag')).toEqual(['mast', '.flag']);
  expect(found(' ')).toHaveLength(6);
  expect(found('whale')).toEqual([]);
});
