import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import {
  CATALOGUE,
  makeObject,
  makeProject,
  makeSphere,
  meshId,
  putOn,
  takeIn,
  writeModuleFile,
  writeProjectFile,
  type ModuleFile,
  type Project,
} from '@umberfish/core';
import { readObj } from '@umberfish/formats';
import { makeStarters } from '@umberfish/demo';
import { run } from './testing.ts';

let folder = '';
let ball = '';
const starters = makeStarters();
const starter = (id: string): ModuleFile => starters.find((s) => s.module.id === `starter-${id}`)!;
const mesh = makeSphere(1, 12, 16);

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'umberfish-'));
  const id = meshId(mesh);
  let project: Project = {
    ...makeProject('p', 'Ball with modules'),
    assets: [{ id, name: 'Ball', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
    objects: [makeObject('ball', 'Ball', 'mesh', { mesh: id })],
  };
  for (const file of [starter('swell'), starter('twist')]) {
    const taken = takeIn(project, file);
    project = putOn(CATALOGUE, taken.project, taken.module, [project.objects[0]], () => mesh).project;
  }
  ball = join(folder, 'ball.json');
  writeFileSync(ball, writeProjectFile(project, new Map([[id, mesh]])));
});
afterAll(() => rmSync(folder, { recursive: true }));

const highest = (obj: string): number => Math.max(...readObj(obj).meshes[0].mesh.positions.filter((_, i) => i % 3 === 1));

describe('modules on the command line', () => {
  test('are listed with ways and dials, and uses as a tree', async () => {
    const { code, out } = await run('modules', ball);
    expect(code).toBe(0);
    expect(out).toMatch(/Swell {2}\(1\.0, 1 use\)/);
    expect(out).toMatch(/in {2}height +number +0\.2 m {2}\(-1 to 1\)/);
    expect(out).toMatch(/out shaped/);
    const info = await run('info', ball);
    expect(info.out).toMatch(/Ball: 5 nodes, 4 wires\n {4}Swell {2}1\.0\n {4}Twist {2}1\.0/);
    expect(await run('check', ball)).toMatchObject({ code: 0 });
  });

  test('have their dials turned by --set, in values and in bakes', async () => {
    const at = async (...sets: string[]) => {
      const file = join(folder, 'out.obj');
      const result = await run('bake', ball, '--result', 'Ball', '--out', file, ...sets.flatMap((s) => ['--set', s]));
      expect(result).toMatchObject({ code: 0 });
      return highest(readFileSync(file, 'utf8'));
    };
    expect(await at()).toBeCloseTo(1.2, 4);
    expect(await at('Swell.height=0.5')).toBeCloseTo(1.5, 4);
    expect(await at('swell.HEIGHT=0', 'Twist.angle=0')).toBeCloseTo(1, 5);
    const values = await run('values', ball, '--node', 'Swell', '--port', 'shaped', '--set', 'Swell.height=0.25');
    expect(values.out.split('\n')[1]).toContain('1.25');
    expect((await run('values', ball, '--node', 'Twist', '--port', 'shaped', '--set', 'Twist.axis=x')).code).toBe(0);
  });

  test.each([
    ['Swell', 'expected USE.DIAL=VALUE'],
    ['Swel.height=1', 'Swell'],
    ['Swell.heigth=1', 'height'],
    ['Swell.height=tall', 'does not fit "height" (number)'],
    ['Swell.place=1,2,3', 'a wire leads to "place"'],
    ['Swell.response=1', 'is a response'],
    ['Twist.axis=w', 'x'],
  ])('--set %s is refused with a sentence', async (set, words) => {
    const { code, error } = await run('values', ball, '--node', 'Swell', '--port', 'shaped', '--set', set);
    expect(code).toBe(1);
    expect(error).toContain(words);
    expect(error).not.toContain('should not have');
  });

  test('prove what they promise; a promise that is broken fails, unless that is known', async () => {
    const write = (name: string, file: ModuleFile) => {
      const path = join(folder, name);
      writeFileSync(path, writeModuleFile(file));
      return path;
    };
    // What it costs is not promised here: a test does not hang on the time things take.
    const { module, ...rest } = starter('squash');
    const squash = { ...rest, module: { ...module, proofs: module.proofs.filter((p) => p.kind !== 'cost') } };
    const good = await run('prove', write('squash.json', squash));
    expect(good.out).toMatch(/ok {4}volume within 0\.01 %: the volume is off by/);
    expect(good.code, good.out).toBe(0);
    // A stretch that may not be, and a pop: a step in the response.
    const broken = {
      ...squash,
      module: { ...squash.module, proofs: [{ kind: 'stretch' as const, dials: {}, known: '', least: 0.99, most: 1.01 }] },
    };
    const junit = join(folder, 'out', 'results.xml');
    const bad = await run('prove', write('broken.json', broken), '--junit', junit);
    expect(bad.code).toBe(1);
    expect(bad.out).toMatch(/FAILS stretch between 0\.99 and 1\.01: edges are 0\.877 to 1\.3 × as long \(point \d+\)/);
    expect(bad.out).toContain('1 proof of 1 module, 1 fails.');
    expect(readFileSync(junit, 'utf8')).toContain('<failure message="edges are 0.877 to 1.3 × as long"/>');
    const known = {
      ...broken,
      module: { ...broken.module, proofs: [{ ...broken.module.proofs[0], known: 'It is <meant> to.' }] },
    };
    const still = await run('prove', write('known.json', known), '--json', '--junit', junit);
    expect(still.code).toBe(0);
    expect(JSON.parse(still.out)[0].proofs[0]).toMatchObject({ ok: false, known: 'It is <meant> to.' });
    expect(readFileSync(junit, 'utf8')).toContain('Known: It is &lt;meant&gt; to.');
    // A bound that nothing keeps is tried in a second process too, and still missed: no copying costs nothing.
    const never = { kind: 'cost' as const, dials: {}, known: '', most: 0 };
    const dear = await run('prove', write('dear.json', { ...squash, module: { ...squash.module, proofs: [never] } }), '--json');
    expect(dear.code).toBe(1);
    expect(JSON.parse(dear.out)[0].proofs).toMatchObject([{ ok: false, name: 'cost at most 0 × copying' }]);
    expect((await run('prove', ball)).out).toContain('2 modules');
    expect(await run('prove', write('cut.json', squash).replace('cut', 'nowhere'))).toMatchObject({
      code: 1,
      error: expect.stringContaining('no such file'),
    });
  });
});

test('a jump over a dial is found, with where it is', async () => {
  const swell = starter('swell');
  const graph = swell.module.graph;
  const step = {
    points: [
      { at: 0, value: 1, in: [0, 0] as const, out: [0, 0] as const, shape: 'step' as const },
      { at: 0.5, value: 0, in: [0, 0] as const, out: [0, 0] as const, shape: 'step' as const },
    ],
    invert: false,
  };
  const nodes = graph.nodes.map((n) => (n.id === 'by-distance' ? { ...n, settings: { ...n.settings, response: step } } : n));
  const file = join(folder, 'step.json');
  writeFileSync(file, writeModuleFile({ ...swell, module: { ...swell.module, graph: { ...graph, nodes } } }));
  const { code, out } = await run('prove', file);
  expect(code).toBe(1);
  expect(out).toMatch(/FAILS no pop over radius 0\.2 to 2: it jumps by 0\.2 m at/);
  expect(out).toMatch(/ok {4}no pop over height/);
});
