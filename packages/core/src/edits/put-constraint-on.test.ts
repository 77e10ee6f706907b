import { describe, expect, test } from 'vitest';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { wallsOf } from '../modules/walls.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { InputValue, SettingValue, Way } from '../project/fields.ts';
import type { ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { apart, byId, evaluatorFor, poseOf, scene, services } from '../testing/carried.ts';
import { graph, node } from '../testing/build.ts';
import { offeredWays, packNodes, unpackUse } from './pack.ts';
import { putConstraintOn, wrongToConstrain, type PutOn } from './put-constraint-on.ts';
import { wrongToPutOn } from './put-on.ts';

/** A module made of constraint nodes, packed out of a graph; hooks and masts are its drivers. */
function moduleOf(nodes: NodeRecord[], wires: string[], carrier: string): { project: Project; module: ModuleRecord } {
  const sources = ['hook', 'mast'].map((id) => node(`from-${id}`, 'scene-locator', { settings: { object: id } }));
  const drive = node('drive', 'drive-object', { settings: { object: 'lantern' } });
  const flat = {
    ...scene(1),
    graphs: [graph([...sources, ...nodes, drive], [...wires, `${carrier} > drive.matrix`])],
  };
  const picked = nodes.map((n) => n.id);
  const ways = offeredWays(CATALOGUE, flat, 'graph', picked).filter((w) => w.needed);
  const { project, module } = packNodes(CATALOGUE, flat, 'graph', picked, 'Carry', ways);
  return { project, module };
}

const constraint = (type: string, settings: Record<string, SettingValue> = {}, inputs: Record<string, InputValue> = {}) =>
  node('it', type, { settings: { object: 'lantern', ...settings }, inputs });

const FOLLOW = moduleOf([constraint('follow')], ['from-hook.matrix > it.a'], 'it.carrier');
const MODULES = {
  follow: FOLLOW,
  'aim with a roll of its own': moduleOf(
    [constraint('aim-at', { up: 'target' }, { roll: 40 })],
    ['from-hook.matrix > it.a', 'from-mast.matrix > it.b'],
    'it.carrier',
  ),
  'one constraint behind another': moduleOf(
    [constraint('follow'), node('more', 'between', { settings: { object: 'lantern' } }), node('both', 'multiply-matrices')],
    [
      'from-hook.matrix > it.a',
      'from-hook.matrix > more.a',
      'from-mast.matrix > more.b',
      'it.carrier > both.a',
      'more.carrier > both.b',
    ],
    'both.matrix',
  ),
};

/** Paths of what a use keeps of its own. */
const ownedBy = (project: Project, use: string): string[] =>
  Object.keys(project.graphs.flatMap((g) => g.nodes).find((n) => n.id === use)?.own ?? {});

/** A module whose first way in of a kind is another. */
function changed(module: ModuleRecord, kind: Way['kind'], parts: Partial<Way>): ModuleRecord {
  const { wayIn, ins } = wallsOf(CATALOGUE, module.graph);
  const first = ins.find((w) => w.kind === kind);
  const ways = { ways: ins.map((w) => (w === first ? { ...w, ...parts } : w)) };
  const nodes = module.graph.nodes.map((n) => (n === wayIn ? { ...n, settings: { ...n.settings, ways } } : n));
  return { ...module, graph: { ...module.graph, nodes } };
}

/** A scene with a module put on the lantern. */
async function put(
  base: Project,
  { module }: { module: ModuleRecord },
  drivers: readonly string[],
  frame = 1,
): Promise<PutOn | string> {
  const evaluator = evaluatorFor();
  const project = base.modules.includes(module) ? base : { ...base, modules: [...base.modules, module] };
  const pose = poseOf(evaluator, project, frame);
  const picked = ['lantern', ...drivers].map((id) => byId(project, id));
  return putConstraintOn(CATALOGUE, pose, module, picked, services(evaluator), () => undefined);
}
const made = async (...of: Parameters<typeof put>): Promise<PutOn> => {
  const result = await put(...of);
  if (typeof result === 'string') throw new Error(result);
  return result;
};
const lanternAt = (project: Project) => worldsAt(evaluatorFor(), project, ['lantern'], 1)[0];
const movedTo = (project: Project, id: string, translate: readonly [number, number, number]): Project => ({
  ...project,
  objects: project.objects.map((o) => (o.id === id ? { ...o, channels: { ...o.channels, translate } } : o)),
});

describe('a constraint module put on an object', () => {
  test.each(Object.entries(MODULES))(
    '%s: it stays where it is, under any parent, and is carried afterwards',
    async (_name, it) => {
      const drivers = it === FOLLOW ? ['hook'] : ['hook', 'mast'];
      for (let seed = 1; seed <= 6; seed++) {
        const stood = lanternAt(scene(seed));
        const { project, use } = await made(scene(seed), it, drivers);
        expect(apart(lanternAt(project), stood), String(seed)).toBeLessThan(1e-6);
        expect(apart(lanternAt(movedTo(project, 'hook', [9, 8, 7])), stood)).toBeGreaterThan(0.01);
        expect(drivingNodes(CATALOGUE, project)).toHaveLength(1);
        // What it remembers is the use's own; the module has nothing of this scene.
        expect(ownedBy(project, use).length).toBeGreaterThan(0);
        expect(project.modules.at(-1)).toBe(it.module);
        // Unpacked, it carries as before.
        const flat = movedTo(unpackUse(CATALOGUE, project.graphs[0].id, use)(project), 'hook', [9, 8, 7]);
        expect(apart(lanternAt(flat), lanternAt(movedTo(project, 'hook', [9, 8, 7])))).toBe(0);
        // A second one goes behind the first, and nothing moves.
        const there = movedTo(project, 'hook', [1, 5, 2]);
        const twice = await made(there, FOLLOW, ['mast']);
        expect(apart(lanternAt(twice.project), lanternAt(there)), `${seed}, twice`).toBeLessThan(1e-6);
        expect(drivingNodes(CATALOGUE, twice.project)).toHaveLength(1);
        expect(apart(lanternAt(movedTo(twice.project, 'mast', [9, 8, 7])), lanternAt(there))).toBeGreaterThan(0.01);
      }
    },
  );

  test('what it asks for and was not picked is made where the way says, and named', async () => {
    const asking = changed(FOLLOW.module, 'matrix', { control: 'place', start: 'origin', name: 'hanger' });
    const base = scene(2);
    const stood = lanternAt(base);
    const { project, locators } = await made(base, { module: asking }, []);
    expect(locators.map((l) => l.name)).toEqual(['Carry hanger']);
    expect(apart(locators[0].channels.translate, stood.slice(12, 15))).toBeLessThan(1e-9);
    expect(apart(lanternAt(project), stood)).toBeLessThan(1e-6);
    expect(apart(lanternAt(movedTo(project, locators[0].id, [9, 8, 7])), stood)).toBeGreaterThan(1);
    // Picked, it is taken.
    expect((await made(base, { module: asking }, ['mast'])).locators).toEqual([]);
  });

  test('what cannot be is said in a sentence, and nothing is made', async () => {
    const base = scene(3);
    const [lantern, hook, mast] = ['lantern', 'hook', 'mast'].map((id) => byId(base, id));
    const wrong = (...picked: Parameters<typeof wrongToConstrain>[2][number][]) =>
      wrongToConstrain(CATALOGUE, MODULES['aim with a roll of its own'].module, picked);
    expect(wrong()).toBe('For "Carry", pick the object, then its target, then its up target (Shift and click).');
    expect(wrong(lantern, hook)).toBe(wrong());
    expect(wrong(lantern, hook, mast)).toBeUndefined();
    expect(wrong(lantern, hook, lantern)).toContain('cannot drive itself');
    expect(wrongToPutOn(CATALOGUE, base, FOLLOW.module, [lantern])).toContain('pick the object');
    // The deck carries the lantern: it cannot be carried by it.
    const evaluator = evaluatorFor();
    const project = { ...base, modules: [FOLLOW.module] };
    const loop = await putConstraintOn(
      CATALOGUE,
      poseOf(evaluator, project, 1),
      FOLLOW.module,
      [byId(base, 'deck'), lantern],
      services(evaluator),
      () => undefined,
    );
    expect(loop).toMatch(/^"Deck" moves what it would be moved by, which is a loop: /);
    // Two nodes that carry it already, or a module that does so inside, leave no place for another.
    const first = (await made(base, FOLLOW, ['hook'])).project;
    const both = { ...first, graphs: [...first.graphs, ...(await made(base, FOLLOW, ['mast'])).project.graphs] };
    expect(await put(both, FOLLOW, ['mast'])).toContain('Several nodes carry');
  });
});
