import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import {
  catalogueOf,
  exampleMesh,
  exampleOf,
  lookAt,
  prove,
  CATALOGUE,
  Evaluator,
  Trial,
  makeGrid,
  makeObject,
  makeProject,
  makeSphere,
  putOn,
  readModuleFile,
  renameObject,
  REST_CHANNELS,
  SHOWN_PORT,
  skinGraph,
  shownResults,
  takeIn,
  wallsOf,
  worldsAt,
  wrongToPutOn,
  wrongWire,
  writeModuleFile,
  type ModuleFile,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { makeStarters } from './starters.ts';

const starters = makeStarters();
const mesh = makeSphere(1, 12, 16);

/** A project with a ball on which a module was put, and a curve. */
function withModule(file: ModuleFile): Project {
  const start: Project = {
    ...makeProject('p', 'P'),
    assets: [{ id: 'ball', name: 'Ball', points: 0, faces: 0, origin: '' }],
    objects: [makeObject('ball', 'Ball', 'mesh', { mesh: 'ball' })],
  };
  const taken = takeIn(start, file);
  return putOn(CATALOGUE, taken.project, taken.module, [taken.project.objects[0]], () => mesh).project;
}

test('what is shipped is what the script makes, and is read like any file', () => {
  const shipped: unknown[] = JSON.parse(readFileSync(new URL('../starters.json', import.meta.url), 'utf8'));
  expect(shipped).toEqual(JSON.parse(JSON.stringify(starters)));
  expect(new Set(starters.map((s) => s.module.id)).size).toBe(starters.length);
  for (const s of starters) expect(readModuleFile(writeModuleFile(s))).toEqual(s);
});

test.each(starters.map((s) => [s.module.name, s] as const))(
  '%s: every wire inside fits, every way leads somewhere, every card says what it takes',
  (_name, file) => {
    const { graph, summary, tags } = file.module;
    const types = catalogueOf(CATALOGUE, { modules: [file.module] });
    for (const wire of graph.wires) expect(wrongWire(types, graph, wire), JSON.stringify(wire)).toBeUndefined();
    const { ins, outs, wayIn, wayOut } = wallsOf(CATALOGUE, graph);
    for (const w of ins) {
      const isUsed = w.sets.length > 0 || graph.wires.some((x) => x.from.node === wayIn?.id && x.from.port === w.id);
      expect(isUsed, w.name).toBe(true);
      expect(w.help, w.name).not.toBe('');
    }
    for (const w of outs) expect(graph.wires.some((x) => x.to.node === wayOut?.id && x.to.port === w.id)).toBe(true);
    expect(summary).not.toBe('');
    expect(tags.length).toBeGreaterThan(1);
  },
);

test.each(starters.map((s) => [s.module.name, s] as const))(
  '%s does something in its example, without a message, and keeps what it promises',
  async (_name, file) => {
    const example = await exampleOf(file);
    if (typeof example === 'string') throw new Error(example);
    const bare = { ...example, project: { ...example.project, graphs: [] } };
    const rest = example.carries ? lookAt(new Trial(bare, () => 0), {}, 1).positions : exampleMesh(example.example).positions;
    const seen = lookAt(new Trial(example, () => 0), {}, 20);
    expect(seen.positions.every(Number.isFinite)).toBe(true);
    expect(seen.positions.some((v, i) => Math.abs(v - (rest[i] ?? 0)) > 1e-3)).toBe(true);
    expect(file.module.proofs.length).toBeGreaterThan(2);
    for (const proof of await prove(file)) expect(proof.ok, `${proof.name}: ${proof.found}`).toBe(true);
  },
  30_000,
);

test('one put on after the other goes on from what the first made, and the fish is shown once', () => {
  const swell = starters.find((s) => s.module.id === 'starter-swell')!;
  const twist = starters.find((s) => s.module.id === 'starter-twist')!;
  const first = withModule(swell);
  expect(first.objects.map((o) => o.name)).toEqual(['Ball', 'Swell place']);
  // The top of its bounds.
  expect(first.objects[1].channels.translate[1]).toBeCloseTo(1, 5);
  const taken = takeIn(first, twist);
  const both = putOn(CATALOGUE, taken.project, taken.module, [first.objects[0]], () => mesh).project;
  expect(both.graphs).toHaveLength(1);
  expect(shownResults(CATALOGUE, both)).toHaveLength(1);
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('ball', mesh);
  const [{ node }] = shownResults(CATALOGUE, both);
  const ran = evaluator.evaluate({ project: both, frame: 1, wanted: [{ node, port: SHOWN_PORT }] }).computed;
  const at = (part: string) => ran.findIndex((id) => id.endsWith(part));
  expect(at('/move')).toBeGreaterThanOrEqual(0);
  expect(at('/twist')).toBeGreaterThan(at('/move'));
});

test('squash and stretch keeps the volume', () => {
  const project = withModule(starters.find((s) => s.module.id === 'starter-squash')!);
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('ball', mesh);
  const [{ node }] = shownResults(CATALOGUE, project);
  const value = evaluator.evaluate({ project, frame: 1, wanted: [{ node, port: SHOWN_PORT }] }).value({ node, port: SHOWN_PORT });
  if (value?.form !== 'geometry') throw new Error('Nothing came out.');
  const size = [0, 1, 2].map((axis) => {
    const of = (p: Readonly<Float32Array>) =>
      Math.max(...p.filter((_, i) => i % 3 === axis)) - Math.min(...p.filter((_, i) => i % 3 === axis));
    return of(value.mesh.positions) / of(mesh.positions);
  });
  expect(size[1]).toBeCloseTo(1.3, 5);
  expect(size[0] * size[1] * size[2]).toBeCloseTo(1, 5);
});

describe('modules that pose joints', () => {
  const called = (id: string) => starters.find((s) => s.module.id === `starter-${id}`) as ModuleFile;
  const at = (x: number, y: number, z: number) => ({ ...REST_CHANNELS, translate: [x, y, z] as const });
  const joint = (id: string, parent: string, x: number, y: number, z = 0) =>
    makeObject(id, id, 'joint', { parent, channels: at(x, y, z), rest: at(x, y, z) });
  const scene: Project = {
    ...makeProject('p', 'P'),
    assets: [{ id: 'deck', name: 'Deck', points: 0, faces: 0, origin: '' }],
    objects: [
      makeObject('boatman', 'Boatman', 'chain', { channels: at(1, 1, 0) }),
      ...[joint('Hip', 'boatman', 0, 0), joint('Knee', 'Hip', 0, -0.5, 0.1), joint('Ankle', 'Knee', 0, -0.5, -0.1)],
      joint('Toe', 'Ankle', 0, -0.1, 0.2),
      makeObject('deck', 'Deck', 'mesh', { mesh: 'deck' }),
      makeObject('step', 'Step', 'locator', { channels: at(1.3, 0.3, 0.4) }),
    ],
  };
  const byId = (id: string) => scene.objects.find((o) => o.id === id) as ObjectRecord;
  const worlds = (project: Project, ids: readonly string[]) => {
    const evaluator = new Evaluator(CATALOGUE);
    evaluator.setAsset('deck', makeGrid([8, 8], [4, 4]));
    return worldsAt(evaluator, project, ids, 1).map((w) => Array.from(w.slice(12, 15)));
  };

  test('on the joint that is picked: its way names it, what else is picked is its target, and the joint goes there', () => {
    const taken = takeIn(scene, called('limb'));
    const put = putOn(CATALOGUE, taken.project, taken.module, [byId('Ankle'), byId('step')], () => undefined);
    const use = put.project.graphs[0].nodes.find((n) => n.id === put.use);
    expect([use?.settings, put.locators]).toEqual([{ 'way-tip': 'Ankle' }, []]);
    const [[x, y, z]] = worlds(put.project, ['Ankle']);
    expect([x, y, z]).toEqual([1.3, 0.3, 0.4].map((v) => expect.closeTo(v, 6) as number));
    // Its field offers the joints of the chain that comes in.
    const definition = catalogueOf(CATALOGUE, put.project).get(use?.type ?? '');
    expect(definition?.settings.find((s) => s.id === 'way-tip')).toMatchObject({ jointOf: 'way-chain' });
    // The joint has another name: the use is told.
    const renamed = renameObject(catalogueOf(CATALOGUE, put.project), 'Ankle', 'Left ankle')(put.project);
    expect(renamed.graphs[0].nodes.find((n) => n.id === put.use)?.settings['way-tip']).toBe('Left ankle');
  });

  test('one after the other in one graph: the leg to its step, then its foot out of the deck', () => {
    const low = {
      ...scene,
      objects: scene.objects.map((o) =>
        o.id === 'step' ? { ...o, channels: at(1.2, 0.2, 0.2) } : o.id === 'deck' ? { ...o, channels: at(0, 0.3, 0) } : o,
      ),
    };
    const first = takeIn(low, called('limb'));
    const limb = putOn(CATALOGUE, first.project, first.module, [byId('Ankle'), low.objects[6]], () => undefined);
    expect(worlds(limb.project, ['Ankle'])[0][1]).toBeCloseTo(0.2, 6);
    const second = takeIn(limb.project, called('foot'));
    const both = putOn(CATALOGUE, second.project, second.module, [byId('Ankle'), byId('deck')], () => undefined);
    expect(both.project.graphs).toHaveLength(1);
    expect(both.project.graphs[0].nodes.filter((n) => n.type === 'drive-chain')).toHaveLength(1);
    // No joint of the foot is in the deck, and the deepest is on it.
    const heights = worlds(both.project, ['Ankle', 'Toe']).map(([, height]) => height);
    expect(Math.min(...heights)).toBeCloseTo(0.3, 3);
  });

  test('a foot takes the skin that a graph moves by its chain, so that no point of it is in the ground', () => {
    const hull = makeObject('hull', 'Hull', 'mesh', { mesh: 'hull' });
    const skinned = { ...scene, objects: [...scene.objects, hull] };
    const withSkin = { ...skinned, graphs: [skinGraph(hull, byId('boatman'))] };
    const taken = takeIn(withSkin, called('foot'));
    const put = putOn(CATALOGUE, taken.project, taken.module, [byId('Ankle'), byId('deck')], () => undefined);
    const graph = put.project.graphs.find((g) => g.id === put.graph);
    const wire = graph?.wires.find((w) => w.to.node === put.use && w.to.port === 'way-skin');
    expect(graph?.nodes.find((n) => n.id === wire?.from.node)?.settings.object).toBe('hull');
  });

  test('what cannot be is said; where nothing is picked for a place, a locator is made at the joint', () => {
    const wrong = (id: string, ...picked: ObjectRecord[]) => {
      const taken = takeIn(scene, called(id));
      return wrongToPutOn(CATALOGUE, taken.project, taken.module, picked);
    };
    expect(wrong('limb')).toContain('pick a chain, or the joint at its end');
    expect(wrong('foot', byId('Ankle'))).toContain('its ground');
    expect(wrong('limb', byId('Ankle'), byId('deck'))).toContain('takes "Deck" nowhere');
    expect(wrong('spine', byId('boatman'))).toContain('its curve');
    expect(wrong('limb', byId('deck'))).toContain('pick a chain');
    const taken = takeIn(scene, called('tail'));
    const tail = putOn(CATALOGUE, taken.project, taken.module, [byId('boatman')], () => undefined);
    expect(tail.locators).toEqual([]);
    const look = takeIn(scene, called('neck'));
    const { locators } = putOn(CATALOGUE, look.project, look.module, [byId('boatman')], () => undefined);
    // As far beyond the last joint as its bone is long.
    expect(locators[0].channels.translate).toEqual([1, -0.2, 0.4].map((v) => expect.closeTo(v, 9) as number));
  });
});
