import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readChannelsCsv, readGltf, readObj } from '@umberfish/formats';
import { run } from './testing.ts';

const DEMO = fileURLToPath(new URL('../../../demo/lantern-quay.json', import.meta.url));
let folder = '';
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'umberfish-'))) && undefined);
afterAll(() => rmSync(folder, { recursive: true }));

/** The demo with a change to its text. */
function changed(name: string, from: string | RegExp, to: string): string {
  const text = readFileSync(DEMO, 'utf8');
  const path = join(folder, name);
  expect(text.replace(from, to)).not.toBe(text);
  writeFileSync(path, text.replace(from, to));
  return path;
}

describe('the command line', () => {
  test('info lists, check finds nothing wrong with the demo', async () => {
    const info = await run('info', DEMO);
    expect(info.code).toBe(0);
    for (const word of ['Lantern Quay', 'Pufferfish: 11936 points', 'Harbour water: 7 nodes', 'pufferfish'])
      expect(info.out).toContain(word);
    expect(await run('check', DEMO)).toEqual({ code: 0, out: 'No problems.\n', error: '' });
  });

  test('check lists problems and exits with 1', async () => {
    const path = changed('broken.json', '0.8 + 0.4 * sin(seconds / 3)', '0.8 + 0.4 * sine(seconds)');
    const { code, out } = await run('check', path);
    expect(code).toBe(1);
    expect(out).toContain('Harbour water / Breath: The expression in "value" has the unknown function "sine"');
    expect(out).toContain('1 error, 0 other.');
    expect(await run('check', join(folder, 'nowhere.json'))).toMatchObject({
      code: 1,
      error: expect.stringContaining('there is no such file'),
    });
    writeFileSync(join(folder, 'cut.json'), readFileSync(DEMO, 'utf8').slice(0, 5000));
    expect(await run('check', join(folder, 'cut.json'))).toMatchObject({
      code: 1,
      error: expect.stringContaining('not JSON'),
    });
  });

  test('bake writes one file a frame, numbered, with the points of the source', async () => {
    const { code, out } = await run('bake', DEMO, '--result', 'water', '--frames', '1-3', '--out', join(folder, 'w/water.obj'));
    expect(code).toBe(0);
    expect(out.trim().split('\n').length).toBe(3);
    expect(readdirSync(join(folder, 'w')).sort()).toEqual(['water.0001.obj', 'water.0002.obj', 'water.0003.obj']);
    const at = (n: number) => readObj(readFileSync(join(folder, `w/water.000${n}.obj`), 'utf8')).meshes[0].mesh;
    expect(at(1).topology.pointCount).toBe(161 * 111);
    expect(at(1).positions).not.toEqual(at(3).positions);
    const glb = await run('bake', DEMO, '--result', 'pufferfish', '--out', join(folder, 'fish.glb'));
    expect(glb.code).toBe(0);
    expect((await readGltf(new Uint8Array(readFileSync(join(folder, 'fish.glb'))))).meshes[0].mesh.topology.pointCount).toBe(
      11936,
    );
  });

  test('a bake with errors stops with 1 and says where, unless told to keep going', async () => {
    const path = changed('wrong.json', '"b": 0.62', '"b": {"expression": "1 +"}');
    const stopped = await run('bake', path, '--result', 'pufferfish', '--frames', '1-2', '--out', join(folder, 'a/f.obj'));
    expect(stopped.code).toBe(1);
    expect(stopped.error).toContain('frame 1: Swell / By radius: The expression in "b"');
    expect(stopped.out).toBe('');
    const on = await run(
      'bake',
      path,
      '--result',
      'pufferfish',
      '--frames',
      '1-2',
      '--keep-going',
      '--out',
      join(folder, 'b/f.obj'),
    );
    expect(on.code).toBe(1);
    expect(readdirSync(join(folder, 'b')).filter((f) => f.endsWith('.obj')).length).toBe(2);
    expect((await run('bake', DEMO, '--result', 'whale', '--out', 'x.obj')).error).toContain(
      'There is no result "whale". There are "pufferfish", "water"',
    );
    expect((await run('bake', DEMO, '--result', 'pufferfsh', '--out', 'x.obj')).error).toBe(
      'There is no result "pufferfsh". Did you mean "pufferfish"?\n',
    );
    expect((await run('bake', DEMO, '--result', 'water', '--frames', '9-1', '--out', 'x.obj')).error).toContain('--frames "9-1"');
    expect((await run('bake', DEMO, '--result', 'water', '--out', 'x.fbx')).error).toContain('.obj or .glb');
    expect((await run('bake', DEMO)).code).toBe(1);
  });

  test('values as CSV and JSON; the frame matters where time does', async () => {
    const csv = await run('values', DEMO, '--node', 'distance', '--port', 'result', '--frame', '3');
    const lines = csv.out.trim().split('\n');
    expect(lines[0]).toBe('index,value');
    expect(lines.length).toBe(11937);
    const json = JSON.parse(
      (await run('values', DEMO, '--node', 'Breath', '--port', 'number', '--frame', '24', '--format', 'json')).out,
    ) as { rows: number[][] };
    expect(json.rows[0][0]).toBeCloseTo(0.8 + 0.4 * Math.sin(1 / 3), 12);
    expect((await run('values', DEMO, '--node', 'Breth', '--port', 'x')).error).toContain('Did you mean "Breath"?');
    expect((await run('values', DEMO, '--node', 'quetzal', '--port', 'x')).error).toMatch(
      /There are ("[^"]+", ){11}"[^"]+", and \d+ more/,
    );
    expect((await run('values', DEMO, '--node', 'breath', '--port', 'x')).error).toContain('Outputs: number');
    expect((await run('values', DEMO, '--node', 'breath', '--port', 'number', '--format', 'xml')).error).toContain('csv or json');
  });
});

describe('contacts', () => {
  test('as CSV and JSON, of some frames or the range; what has none is told', async () => {
    const args = ['contacts', DEMO, '--node', 'hw-left-down'];
    const csv = (await run(...args, '--frames', '20-23')).out.trim().split('\n');
    expect(csv[0]).toBe('contact,frame,depth before,depth after,touching,slid');
    expect(csv.filter((l) => l.startsWith('Left heel,'))).toHaveLength(4);
    const json = JSON.parse((await run(...args, '--frames', '1-120x7', '--format', 'json')).out) as {
      frames: number[];
      contacts: { name: string; deepestAfter: { value: number }; deepestBefore: { value: number } }[];
    };
    expect(json.frames).toHaveLength(18);
    // Its skin is kept out of the shingle, so each contact is.
    for (const c of json.contacts) {
      expect(c.deepestAfter.value).toBeLessThan(1e-3);
      expect(c.deepestBefore.value).toBeGreaterThanOrEqual(c.deepestAfter.value);
    }
    expect((await run('contacts', DEMO, '--node', 'hw-ground')).error).toContain('tells of no contacts');
    expect((await run(...args, '--format', 'xml')).error).toContain('csv or json');
    expect((await run(...args, '--frames', '9-1')).error).toContain('--frames "9-1"');
  });
});

describe('baking the motion of objects', () => {
  test('one GLB or CSV for all frames; names and endings are checked', async () => {
    const glb = await run('bake', DEMO, '--objects', 'hand lantern', '--frames', '1-30', '--out', join(folder, 'lantern.glb'));
    expect(glb).toMatchObject({ code: 0, error: '' });
    const { objects } = await readGltf(new Uint8Array(readFileSync(join(folder, 'lantern.glb'))));
    expect(objects?.map((o) => o.name)).toEqual(['Crane corner', 'Hand lantern']);
    expect(objects?.[1].motion?.seconds.length).toBeGreaterThan(10);
    const csv = await run('bake', DEMO, '--objects', 'Hand lantern,Gull', '--frames', '1-120', '--out', join(folder, 'l.csv'));
    expect(csv.code).toBe(0);
    const lines = readFileSync(join(folder, 'l.csv'), 'utf8').trim().split('\n');
    expect(lines.length).toBe(241);
    expect(lines[0]).toContain('object,id,frame,translate.x');
    // Names may have commas, in the list and in the table.
    const led = await run('bake', DEMO, '--objects', 'gull, Crate, led', '--frames', '1', '--out', join(folder, 'led.csv'));
    expect(led).toMatchObject({ code: 0, error: '' });
    expect(readChannelsCsv(readFileSync(join(folder, 'led.csv'), 'utf8')).map((c) => c.object)).toEqual(['Gull', 'Crate, led']);
    const once = await run('bake', DEMO, '--objects', 'Gull', '--frames', '7', '--out', join(folder, 'one.glb'));
    expect(once.code).toBe(0);
    expect((await run('bake', DEMO, '--objects', 'whale', '--out', 'x.glb')).error).toContain('no object "whale"');
    expect((await run('bake', DEMO, '--objects', 'Gull', '--out', 'x.obj')).error).toContain('.glb or .csv');
    expect((await run('bake', DEMO, '--out', 'x.obj')).error).toContain('either --result or --objects');
  });
});
