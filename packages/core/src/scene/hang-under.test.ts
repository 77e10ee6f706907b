import { CATALOGUE } from '../nodes/index.ts';
import { describe, expect, test } from 'vitest';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { type Animated, type KeyTrack } from '../project/fields.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { at, near } from '../testing/quay.ts';
import { hungUnder, type Hung, type WorldsOf } from './hang-under.ts';
import { makeKey, trackOf } from './keys.ts';
import { worldMatrix } from './world.ts';
import { objectsById } from './objects.ts';

const worlds: WorldsOf = (p, id, frames) => {
  const evaluator = new Evaluator(CATALOGUE);
  return Promise.resolve(Float64Array.from(frames.flatMap((f) => worldsAt(evaluator, p, [id], f).flatMap((m) => Array.from(m)))));
};
const keys = (...pairs: [number, number][]): Animated => ({
  keys: trackOf(pairs.map(([f, v]) => makeKey(f, v, { shape: 'straight' }))),
});

const CREW = makeObject('crew', 'Crew', 'group', { channels: at([1, 0, 0], [0, 45, 0]) });
const BOAT = makeObject('boat', 'Boat', 'group', { channels: at([5, 1, 0], [10, 90, 0], [2, 2, 2]) });
const LANTERN = makeObject('lantern', 'Lantern', 'prop', {
  parent: 'crew',
  channels: at([0.5, 4, 0], [0, 20, 0]),
  pivot: [0, 0.3, 0],
});

const scene = (...objects: ObjectRecord[]): Project => ({ ...project([]), objects });
const hang = async (p: Project, parent: string | null, frame = 1, autoKey = false): Promise<Hung> => {
  const hung = await hungUnder(p, 'lantern', parent, frame, worlds, autoKey);
  if (!hung || hung === 'flat') throw new Error(`It was not hung: ${hung}.`);
  return hung;
};
const same = async (a: Project, b: Project, frame: number) => near(await worldAt(b, frame), await worldAt(a, frame), 7);
const worldAt = async (p: Project, frame: number) => (await worlds(p, 'lantern', [frame])) ?? [];
const lanternOf = (p: Project) => p.objects.find((o) => o.id === 'lantern') as ObjectRecord;

describe('hanging under another', () => {
  test('keeps the place now and at rest; what has nothing to make up for is left alone', async () => {
    const p = scene(CREW, BOAT, { ...LANTERN, rest: at([0, 2, 0], [0, 0, 30]) });
    for (const parent of ['boat', null]) {
      const { project: made, residual } = await hang(p, parent);
      expect(residual).toBe(0);
      await same(p, made, 1);
      near(worldMatrix(objectsById(made.objects), 'lantern', 'rest'), worldMatrix(objectsById(p.objects), 'lantern', 'rest'), 7);
      expect(lanternOf(made).parent).toBe(parent);
      expect(lanternOf(made).animated).toEqual({});
    }
    // Under something that is only moved, turns and their expressions stay as they are.
    const swings = { ...LANTERN, animated: { 'rotate.x': { expression: 'sin(frame) * 10' } } };
    const made = await hang(scene({ ...CREW, channels: at([0, 0, 0]) }, { ...BOAT, channels: at([3, 0, 0]) }, swings), 'boat');
    expect(lanternOf(made.project).animated).toEqual(swings.animated);
    near(lanternOf(made.project).channels.translate, [-2.5, 4, 0]);
  });

  test('keyed objects keep their place at every key; under what stands still, in between too', async () => {
    const swings = { ...LANTERN, animated: { 'translate.x': keys([1, 0], [21, 5]), 'rotate.y': keys([11, 0], [31, 170]) } };
    const p = scene(CREW, { ...BOAT, channels: at([5, 1, 0]) }, swings);
    const made = await hang(p, 'boat', 6);
    for (const f of [1, 11, 21, 31]) await same(p, made.project, f);
    expect(made.away).toBeLessThan(1e-6);
    // Turning about one axis only, by 45° more: the keys it had are moved, handles and all.
    const turn = lanternOf(made.project).animated['rotate.y'] as { keys: KeyTrack };
    expect(turn.keys.keys.map((k) => [k.frame, k.value])).toEqual([
      [11, 45],
      [31, 215],
    ]);
    // Under what moves, it keeps its place at its keys, and says how far it is away in between.
    const sails = { ...BOAT, channels: at([0, 0, 0]), animated: { 'translate.z': { expression: 'frame * frame / 100' } } };
    const q = scene({ ...CREW, channels: at([0, 0, 0]) }, sails, {
      ...LANTERN,
      animated: { 'translate.x': keys([1, 0], [21, 5]) },
    });
    const moving = await hang(q, 'boat');
    for (const f of [1, 21]) await same(q, moving.project, f);
    // z = f²/100 between 1 and 21 against a straight line: 1 m at most, in the middle.
    expect(moving.away).toBeCloseTo(1, 6);
  });

  test('a carrier of a graph is taken into account; with auto-key everything that changes is keyed', async () => {
    const g = graph(
      [
        node('m', 'build-matrix', { inputs: { translate: [0, { expression: 'frame' }, 0], rotate: [0, 90, 0] } }),
        node('drive', 'drive-object', { settings: { object: 'lantern' } }),
      ],
      ['m.matrix > drive.matrix'],
    );
    const p = { ...scene(CREW, BOAT, LANTERN), graphs: [g] };
    const made = await hang(p, 'boat', 7, true);
    await same(p, made.project, 7);
    expect(Object.keys(lanternOf(made.project).animated)).toContain('translate.x');
  });

  test('a single key is moved; channels without keys keep none', async () => {
    const p = scene(CREW, BOAT, { ...LANTERN, animated: { 'rotate.y': keys([5, 20]) } });
    const made = await hang(p, 'boat', 9);
    await same(p, made.project, 5);
    expect(Object.keys(lanternOf(made.project).animated)).toEqual(['rotate.y']);
  });

  test('what has no size keeps nobody in place, and nothing is changed', async () => {
    const p = scene(CREW, { ...BOAT, channels: at([0, 0, 0], [0, 0, 0], [1, 0, 1]) }, LANTERN);
    expect(await hungUnder(p, 'lantern', 'boat', 1, worlds)).toBe('flat');
    expect(await hungUnder(p, 'gone', 'boat', 1, worlds)).toBeUndefined();
  });
});
