import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import {
  catalogueOf,
  exampleMesh,
  exampleOf,
  lookAt,
  prove,
  CATALOGUE,
  Evaluator,
  Trial,
  makeObject,
  makeProject,
  makeSphere,
  putOn,
  readModuleFile,
  SHOWN_PORT,
  shownResults,
  takeIn,
  wallsOf,
  wrongWire,
  writeModuleFile,
  type ModuleFile,
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
