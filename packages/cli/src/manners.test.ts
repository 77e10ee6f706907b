import { spawn, spawnSync } from 'node:child_process';
import {
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { makeGrid, makeObject, writeProjectFile, type GraphRecord, type ObjectRecord } from '@umberfish/core';
import { readObj } from '@umberfish/formats';
import { graph, node, project } from '../../core/src/testing/build.ts';
import { parseFrames } from './frames.ts';
import { run } from './testing.ts';

const BIN = fileURLToPath(new URL('../bin/umberfish.mjs', import.meta.url));
let folder = '';
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'umberfish-manners-'))));
afterAll(() => rmSync(folder, { recursive: true }));

let written = 0;
/** A project file with graphs and objects. */
function file(graphs: GraphRecord[], objects: ObjectRecord[] = []): string {
  const path = join(folder, `p${written++}.json`);
  const mesh = makeGrid([1, 1], [2, 2]);
  const made = project(graphs, [0, 0, 0], objects);
  writeFileSync(path, writeProjectFile(made, new Map(made.assets.map((a) => [a.id, mesh]))));
  return path;
}
const shown = (nodes: GraphRecord['nodes'], wires: string[]) =>
  file([graph([...nodes, node('show', 'show-mesh', { settings: { name: 'it' } })], wires)]);
const bake = (path: string, out: string, ...more: string[]) =>
  run('bake', path, '--result', 'it', '--out', join(folder, out), ...more);

describe('frames', () => {
  test.each<[string, number[]]>([
    ['7', [7]],
    ['1-4', [1, 2, 3, 4]],
    ['-3--1', [-3, -2, -1]],
    ['1-9x4,110', [1, 5, 9, 110]],
    [' 5 , 1-2 ,5', [1, 2, 5]],
  ])('%j', (text, frames) => expect(parseFrames(text)).toEqual(frames));
  test.each(['', 'abc', '9-1', '1-', '1-4x0', '1-4x', '1,,2', '1.5', '0-1000000', '1e3', '99999999999'])(
    '%j is refused',
    (text) => expect(() => parseFrames(text)).toThrow(/--frames/),
  );
  test('one frame', async () => {
    const path = shown([node('box', 'make-box')], ['box.mesh > show.mesh']);
    for (const bad of ['abc', '', '1e999', 'NaN', '1 2'])
      expect(await run('check', path, '--frame', bad)).toEqual({
        code: 1,
        out: '',
        error: `--frame "${bad}": expected a number, such as 7.\n`,
      });
    expect((await run('check', path, '--frame', '2.5')).code).toBe(0);
    expect((await run('values', path, '--node', 'box', '--port', 'mesh', '--frame', 'x')).code).toBe(1);
  });
});

describe('a bake never succeeds with nothing', () => {
  test('copies are written as a mesh, curves are refused by name, an unconnected result too', async () => {
    const copies = shown(
      [node('line', 'make-line', { inputs: { points: 3 } }), node('box', 'make-box'), node('place', 'place-copies')],
      ['line.curves > place.points', 'box.mesh > place.a', 'place.copies > show.mesh'],
    );
    expect(await bake(copies, 'copies.obj')).toMatchObject({ code: 0, error: '' });
    expect(readObj(readFileSync(join(folder, 'copies.obj'), 'utf8')).meshes[0].mesh.topology.faceCount % 3).toBe(0);
    const curves = shown([node('line', 'make-line')], ['line.curves > show.mesh']);
    expect(await bake(curves, 'curves.obj')).toMatchObject({
      code: 1,
      out: '',
      error: expect.stringContaining('"it" is curves, which are not baked. Sweep Along Curve'),
    });
    expect(existsSync(join(folder, 'curves.obj'))).toBe(false);
    const alone = shown([], []);
    expect((await bake(alone, 'alone.obj')).code).toBe(1);
    expect((await run('check', alone)).code).toBe(1);
  });

  test('wires from outputs that are gone, to inputs that are gone, of another kind', async () => {
    const gone = shown([node('box', 'make-box')], ['box.shell > show.mesh']);
    const sentence = '"mesh" is connected to "shell" of Make Box, which is no longer there.';
    expect((await run('check', gone)).out).toContain(sentence);
    expect(await bake(gone, 'gone.obj')).toMatchObject({ code: 1, error: expect.stringContaining(sentence) });
    const into = shown([node('box', 'make-box'), node('n', 'number')], ['box.mesh > show.mesh', 'n.number > box.roundness']);
    expect(await run('check', into)).toMatchObject({
      code: 1,
      out: expect.stringContaining('A wire leads to "roundness", which is no longer an input of Make Box.'),
    });
    const kind = shown([node('n', 'number')], ['n.number > show.mesh']);
    expect((await run('check', kind)).out).toMatch(/takes a mesh, curves or copies, but a number/);
    expect((await bake(kind, 'kind.obj')).code).toBe(1);
    // Nothing is said twice.
    expect((await run('check', kind)).out.match(/takes a mesh/g)?.length).toBe(1);
  });

  test('channels that cannot be read, or are not finite', async () => {
    const fine = makeObject('a', 'Buoy', 'locator', { animated: { 'translate.x': { expression: 'frame' } } });
    const unread = makeObject('b', 'Gull', 'locator', { animated: { 'rotate.y': { expression: '1 +' } } });
    const infinite = makeObject('c', 'Lamp', 'locator', { animated: { 'scale.x': { expression: '1 / (frame - 3)' } } });
    const path = file([], [fine, unread, infinite]);
    const check = await run('check', path, '--frame', '3');
    expect(check.code).toBe(1);
    expect(check.out).toContain('Gull: turn y has an expression that cannot be worked out');
    expect(check.out).toContain('Lamp: size x is not a finite number at frame 3');
    expect((await run('check', path, '--frame', '4')).out).not.toContain('Lamp');
    const motion = (names: string, frames: string, ...more: string[]) =>
      run('bake', path, '--objects', names, '--frames', frames, '--out', join(folder, 'm.csv'), ...more);
    expect(await motion('Buoy', '1-5')).toMatchObject({ code: 0, error: '' });
    expect(await motion('Lamp', '1-2')).toMatchObject({ code: 0 });
    expect(await motion('Lamp', '1-5')).toMatchObject({ code: 1, error: expect.stringContaining('frame 3: Lamp: size x') });
    expect((await motion('Gull', '1')).code).toBe(1);
    expect((await motion('Lamp', '1-5', '--keep-going')).out).toContain('m.csv');
  });

  test('what is not finite is named by node, element and frame, and never written', async () => {
    const nodes = [
      node('box', 'make-grid', { inputs: { cellsX: 2, cellsZ: 2 } }),
      node('f', 'formula', {
        settings: {
          formula: 'd = vector(0, if(index == 4, 1 / (frame - 2), 0), 0)',
          outputs: { names: [{ name: 'd', type: 'vector' }] },
          inputs: { names: [] },
          on: 'point',
        },
      }),
      node('move', 'move-points'),
    ];
    const path = shown(nodes, ['box.mesh > f.mesh', 'box.mesh > move.mesh', 'f.d > move.offset', 'move.mesh > show.mesh']);
    const made = await bake(path, 'nan/it.obj', '--frames', '1-3', '--keep-going');
    expect(made.code).toBe(1);
    expect(made.error).toMatch(
      /^frame 2: graph \/ \S.*: the position of point 4 is not a finite number, so it is not written\.\n$/,
    );
    expect(readdirSync(join(folder, 'nan'))).toEqual(['it.0001.obj', 'it.0003.obj']);
    const stopped = await bake(path, 'nan2/it.glb', '--frames', '1-3');
    expect(stopped.code).toBe(1);
    expect(readdirSync(join(folder, 'nan2'))).toEqual(['it.0001.glb']);
  });

  test('what reads itself at another frame ends with a sentence', async () => {
    const hook = makeObject('hook', 'Hook', 'locator');
    const nodes = [
      node('read', 'scene-locator', { settings: { object: 'hook' } }),
      node('lag', 'at-frame', { settings: { what: 'matrix', frames: 6 } }),
      node('drive', 'drive-object', { settings: { object: 'hook' } }),
    ];
    const path = file([graph(nodes, ['read.matrix > lag.value', 'lag.value > drive.matrix'])], [hook]);
    expect((await run('check', path)).out).toContain('This is part of a loop: ');
  });
});

describe('places to read and write', () => {
  const box = () => shown([node('box', 'make-box')], ['box.mesh > show.mesh']);

  test('folders, files that are no folders, long names: one sentence, nothing left behind', async () => {
    const path = box();
    mkdirSync(join(folder, 'full.obj'));
    writeFileSync(join(folder, 'plain'), 'x');
    const cases: [string, string][] = [
      ['full.obj', 'that is a folder, not a file'],
      ['plain/it.obj', 'a part of that path is a file, not a folder'],
      [`${'n'.repeat(300)}.obj`, 'that name is too long'],
    ];
    for (const [out, why] of cases)
      expect(await bake(path, out)).toEqual({ code: 1, out: '', error: `${join(folder, out)}: ${why}.\n` });
    expect(await run('info', folder)).toEqual({ code: 1, out: '', error: `${folder}: that is a folder, not a file.\n` });
    expect((await run('check', join(folder, 'nowhere.json'))).error).toMatch(/there is no such file/);
    expect(readdirSync(folder).filter((f) => f.endsWith('.part'))).toEqual([]);
  });

  test('a folder that the system refuses to make ends with a sentence; a link is written through', async () => {
    const path = box();
    for (const out of ['/proc/nowhere/deep/it.obj', '/proc/1/x/y/it.obj']) {
      const made = await run('bake', path, '--result', 'it', '--out', out);
      expect(made).toMatchObject({ code: 1, out: '', error: expect.stringMatching(/^\/proc\/.*\.\n$/) });
    }
    mkdirSync(join(folder, 'real'));
    writeFileSync(join(folder, 'real/there.obj'), 'before');
    symlinkSync('real/there.obj', join(folder, 'link.obj'));
    symlinkSync('real/new.obj', join(folder, 'ahead.obj'));
    for (const [link, target] of [
      ['link.obj', 'real/there.obj'],
      ['ahead.obj', 'real/new.obj'],
    ]) {
      expect((await bake(path, link)).code).toBe(0);
      expect(lstatSync(join(folder, link)).isSymbolicLink()).toBe(true);
      expect(readObj(readFileSync(join(folder, target), 'utf8')).meshes[0].mesh.topology.faceCount).toBe(6);
    }
    symlinkSync('round.obj', join(folder, 'round.obj'));
    expect((await bake(path, 'round.obj')).error).toContain('its links lead round in a circle');
  });

  test('of several with one name none is taken: their ids are told', async () => {
    const nodes = [node('box', 'make-box'), node('ball', 'make-sphere'), node('a', 'show-mesh', { settings: { name: 'it' } })];
    const again = node('b', 'show-mesh', { settings: { name: 'it' } });
    const twins = [makeObject('left', 'Twin', 'prop'), makeObject('right', 'Twin', 'prop')];
    const path = file(
      [
        graph(
          [...nodes, again, node('n1', 'number', { inputs: { value: 1 } }), node('n2', 'number', { inputs: { value: 2 } })],
          ['box.mesh > a.mesh', 'ball.mesh > b.mesh'],
        ),
      ],
      twins,
    );
    const refused = { code: 1, out: '', error: expect.stringContaining('Say which by its id: ') };
    expect(await run('values', path, '--node', 'Number', '--port', 'number')).toMatchObject(refused);
    expect((await run('values', path, '--node', 'n2', '--port', 'number')).out).toContain('2');
    expect(await bake(path, 'twice.obj')).toMatchObject({ ...refused, error: expect.stringContaining('"a", "b"') });
    const objects = await run('bake', path, '--objects', 'Twin', '--out', join(folder, 'twins.csv'));
    expect(objects).toMatchObject({ ...refused, error: expect.stringContaining('"left", "right"') });
    expect((await run('bake', path, '--objects', 'left', '--out', join(folder, 'twin.csv'))).code).toBe(0);
  });

  test('info and check speak as data too, and a mesh that is not finite is an error', async () => {
    const path = box();
    expect(JSON.parse((await run('info', path, '--json')).out)).toMatchObject({ results: [{ id: 'show', name: 'it' }] });
    expect(JSON.parse((await run('check', path, '--json')).out)).toMatchObject({ errors: 0 });
    const mesh = makeGrid([1, 1], [2, 2]);
    const bad = { ...mesh, positions: mesh.positions.map((v, i) => (i === 4 ? NaN : v)) };
    const broken = join(folder, 'nan.json');
    writeFileSync(broken, writeProjectFile(project([]), new Map([['mesh', bad]])));
    const { code, out } = await run('check', broken, '--json');
    expect([code, (JSON.parse(out) as { errors: number }).errors]).toEqual([1, 1]);
    expect(out).toContain('The place of point 1 is not a finite number');
  });

  test('a file that is there is replaced whole, and a disk that is full leaves it as it was', () => {
    const path = box();
    const out = join(folder, 'kept.obj');
    writeFileSync(out, 'before');
    // A process that may write no more than one block.
    const limited = spawnSync('bash', ['-c', `ulimit -f 1; trap "" XFSZ; node ${BIN} bake ${path} --result it --out ${out}`], {
      encoding: 'utf8',
    });
    expect(limited.status).toBe(limited.stderr === '' ? 0 : 1);
    const big = shown([node('grid', 'make-grid', { inputs: { cellsX: 60, cellsZ: 60 } })], ['grid.mesh > show.mesh']);
    writeFileSync(out, 'before');
    const full = spawnSync('bash', ['-c', `ulimit -f 1; trap "" XFSZ; node ${BIN} bake ${big} --result it --out ${out}`], {
      encoding: 'utf8',
    });
    expect(full.stderr).toContain(`${out}: there is no room left on the disk.`);
    expect(full.stderr.trim().split('\n').length).toBe(1);
    expect(full.status).toBe(1);
    expect(readFileSync(out, 'utf8')).toBe('before');
  });

  test('an interrupt leaves whole files or none', async () => {
    const big = shown([node('grid', 'make-grid', { inputs: { cellsX: 250, cellsZ: 250 } })], ['grid.mesh > show.mesh']);
    const out = join(folder, 'stopped');
    const child = spawn(process.execPath, [
      BIN,
      'bake',
      big,
      '--result',
      'it',
      '--frames',
      '1-200',
      '--out',
      join(out, 'it.obj'),
    ]);
    const ended = new Promise<number | null>((resolve) => child.on('exit', (code) => resolve(code)));
    await new Promise<void>((resolve) => child.stdout.on('data', () => resolve()));
    child.kill('SIGINT');
    expect(await ended).not.toBe(0);
    const files = readdirSync(out);
    expect(files.length).toBeGreaterThan(0);
    expect(files.length).toBeLessThan(200);
    for (const f of files) expect(readObj(readFileSync(join(out, f), 'utf8')).meshes[0].mesh.topology.faceCount).toBe(62_500);
  });

  test.each(['SIGINT', 'SIGTERM'] as const)('%s ends a bake into a pipe that nobody reads', async (signal) => {
    const path = shown([node('grid', 'make-grid')], ['grid.mesh > show.mesh']);
    const pipe = join(folder, `${signal}.obj`);
    expect(spawnSync('mkfifo', [pipe]).status).toBe(0);
    const child = spawn(process.execPath, [BIN, 'bake', path, '--result', 'it', '--out', pipe]);
    const ended = new Promise<string | null>((resolve) => child.on('exit', (_, by) => resolve(by)));
    // It waits for a reader once it sleeps without having written.
    const sleeps = () => /^State:\s+S/m.test(readFileSync(`/proc/${child.pid}/status`, 'utf8'));
    const opens = () => readFileSync(`/proc/${child.pid}/wchan`, 'utf8').includes('fifo') || sleeps();
    for (let quiet = 0; quiet < 10; quiet = opens() ? quiet + 1 : 0) await new Promise((resolve) => setTimeout(resolve, 50));
    child.kill(signal);
    expect(await ended).toBe(signal);
  });

  test('--version tells the version; a command that is not known is told', async () => {
    const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as { version: string };
    expect(await run('--version')).toEqual({ code: 0, out: `${version}\n`, error: '' });
    const wrong = await run('bakke');
    expect(wrong.code).toBe(1);
    expect(wrong.error).toContain('Did you mean bake?');
  });
});
