import { expect, test } from 'vitest';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { restProblems } from '../graph/readouts/rest-check.ts';
import { graphAt, insideOf } from '../modules/views.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { pathTo } from '../project/modules.ts';
import { makeObject } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { at } from '../testing/quay.ts';
import { changeObject, setInput, setSetting } from './document.ts';
import { keyInputs, trackRows } from './key-edits.ts';
import { offeredWays, packNodes, unpackUse } from './pack.ts';
import { takeSnapshot } from './take-snapshot.ts';

const evaluator = new Evaluator(CATALOGUE);
const HOOK = makeObject('hook', 'Hook', 'locator', { channels: at([0, 4, 1], [10, 30, 0]) });
const LAMP = makeObject('lamp', 'Lamp', 'prop', { channels: at([1, 2, 3], [0, 20, 5]), pivot: [0, 0.4, 0] });

/** A lamp that a hook leads, the constraint in a module. */
function packed(type = 'follow', inputs = {}): { project: Project; use: string; flat: Project } {
  const flat = project(
    [
      graph(
        [
          node('hook', 'scene-locator', { settings: { object: 'hook' } }),
          node('follow', type, { settings: { object: 'lamp' }, inputs }),
          node('drive', 'drive-object', { settings: { object: 'lamp' } }),
        ],
        ['hook.matrix > follow.a', 'follow.carrier > drive.matrix'],
      ),
    ],
    [0, 0, 0],
    [HOOK, LAMP],
  );
  const taken = withSnapshot(flat, 'graph', 'follow');
  const picked = ['hook', 'follow', 'drive'];
  const ways = offeredWays(CATALOGUE, taken, 'graph', picked).filter((w) => w.needed);
  return { ...packNodes(CATALOGUE, taken, 'graph', picked, 'Follow it', ways), flat: taken };
}

const withSnapshot = (p: Project, graphId: string, id: string): Project => {
  const snapshot = takeSnapshot(evaluator, p, 1, id);
  if (!snapshot) throw new Error('Nothing was taken.');
  return setSetting(CATALOGUE, graphId, id, 'snapshot', snapshot)(p);
};
const lampAt = (p: Project): number[] => [...worldsAt(evaluator, p, ['lamp'], 1)[0]].map((v) => Number(v.toFixed(9)));
const moved = changeObject('hook', { channels: at([2, 3, 5], [40, -20, 15]) });

test('a constraint in a module does what it did, and keeps its snapshot with the use', () => {
  const { project: p, use, flat } = packed();
  expect(lampAt(p)).toEqual(lampAt(flat));
  expect(lampAt(moved(p))).toEqual(lampAt(moved(flat)));
  expect(lampAt(moved(p))).not.toEqual(lampAt(p));
  expect(p.modules[0].graph.nodes.every((n) => n.settings.snapshot === undefined)).toBe(true);
  expect(Object.keys(p.graphs[0].nodes.find((n) => n.id === use)?.own ?? {})).toEqual(['follow']);
  expect(lampAt(moved(unpackUse(CATALOGUE, 'graph', use)(p)))).toEqual(lampAt(moved(flat)));
});

test.each([
  ['follow', {}],
  ['aim-at', { roll: 35 }],
] as const)('taken again inside, %s stays where it is, and goes on as the flat one does', (type, inputs) => {
  const { project: p, use, flat } = packed(type, inputs);
  const [inside, outside] = [moved(p), moved(flat)];
  const [a, b] = [withSnapshot(inside, insideOf(use), pathTo(use, 'follow')), withSnapshot(outside, 'graph', 'follow')];
  expect(a.modules).toBe(inside.modules);
  expect(lampAt(a)).toEqual(lampAt(inside));
  expect(lampAt(a)).toEqual(lampAt(b));
  const on = changeObject('hook', { channels: at([-1, 0, 2], [5, 80, -30]) });
  expect(lampAt(on(a))).toEqual(lampAt(on(b)));
  expect([...restProblems(evaluator, a).keys()]).toEqual([...restProblems(evaluator, b).keys()]);
});

test('numbers inside are keyed, and their rows are shown where their card is picked', () => {
  const { project: p, use } = packed('aim-at', { roll: 35 });
  const path = pathTo(use, 'follow');
  const keyed = keyInputs(CATALOGUE, insideOf(use), [path], 7)(p);
  const rows = trackRows(CATALOGUE, keyed, [], [path]);
  expect(rows.length).toBeGreaterThan(0);
  expect(rows.every((r) => r.track.keys[0].frame === 7)).toBe(true);
  expect(trackRows(CATALOGUE, keyed, [], [])).toEqual([]);
  expect(lampAt(keyed)).toEqual(lampAt(p));
});

test('inside, cards name the objects of the use; an edit there does not make them the module’s', () => {
  const { project: p, use } = packed('aim-at', { roll: 35 });
  const view = insideOf(use);
  const settingsOf = (q: Project, id: string) => graphAt(q, view)!.nodes.find((n) => n.id === pathTo(use, id))!.settings;
  expect(settingsOf(p, 'hook').object).toBe('hook');
  expect(settingsOf(p, 'follow').object).toBe('lamp');
  const edited = setInput(view, pathTo(use, 'follow'), 'roll', 10)(p);
  expect(
    edited.modules[0].graph.nodes.flatMap((n) => Object.values(n.settings)).filter((v) => v === 'lamp' || v === 'hook'),
  ).toEqual([]);
  expect(settingsOf(edited, 'follow').object).toBe('lamp');
  expect(edited.graphs).toBe(p.graphs);
});

test('in a module of a module, cards name the objects of the outermost use, and edits there keep them', () => {
  const { project: p, use } = packed('aim-at', { roll: 35 });
  const ways = offeredWays(CATALOGUE, p, 'graph', [use]).filter((w) => w.needed);
  const { project: outer, use: around } = packNodes(CATALOGUE, p, 'graph', [use], 'Around it', ways);
  const path = pathTo(around, use);
  const settingsOf = (q: Project, id: string) =>
    graphAt(q, insideOf(path))!.nodes.find((n) => n.id === pathTo(path, id))!.settings;
  expect(lampAt(outer)).toEqual(lampAt(p));
  expect(settingsOf(outer, 'hook').object).toBe('hook');
  expect(settingsOf(outer, 'follow').object).toBe('lamp');
  const edited = setInput(insideOf(path), pathTo(path, 'follow'), 'roll', 10)(outer);
  expect(settingsOf(edited, 'follow').object).toBe('lamp');
  expect(edited.modules.flatMap((m) => m.graph.nodes.map((n) => n.settings.object))).not.toContain('lamp');
  const named = setSetting(CATALOGUE, 'graph', around, Object.keys(edited.graphs[0].nodes[0].settings)[0], null)(edited);
  expect(graphAt(named, insideOf(path))).not.toBe(graphAt(edited, insideOf(path)));
});

test('unpacked, cards stand on no other', () => {
  const { project: p, use } = packed('aim-at', { roll: 35 });
  const put = (id: string, position: readonly [number, number]) => ({ ...node(id, 'number'), position });
  const around: Project = {
    ...p,
    modules: p.modules.map((m) => ({
      ...m,
      graph: { ...m.graph, nodes: m.graph.nodes.map((n, i) => ({ ...n, position: [i * 240, i * 150] as const })) },
    })),
    graphs: p.graphs.map((g) => ({
      ...g,
      nodes: [
        ...g.nodes,
        ...(
          [
            [240, 0],
            [0, 150],
            [480, 300],
            [-240, 0],
          ] as const
        ).map((at, i) => put(`n${i}`, at)),
      ],
    })),
  };
  const [{ nodes }] = unpackUse(CATALOGUE, 'graph', use)(around).graphs;
  const pairs = nodes.flatMap((a, i) => nodes.slice(i + 1).map((b) => [a.position, b.position] as const));
  for (const [a, b] of pairs) expect(Math.abs(a[0] - b[0]) >= 200 || Math.abs(a[1] - b[1]) >= 140, `${a} ${b}`).toBe(true);
});
