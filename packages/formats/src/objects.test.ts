import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import validator from 'gltf-validator';
import {
  CATALOGUE,
  channelsOver,
  compose,
  Evaluator,
  identity,
  isMirroring,
  makeBox,
  makeKey,
  makeObject,
  makeProject,
  multiply,
  sampleObjects,
  trackOf,
  transformMesh,
  trianglesOf,
  worldsAt,
  type Matrix,
  type Mesh,
  type Project,
} from '@umberfish/core';
import { FormatError } from './imported.ts';
import { METRES_Y_UP } from './units.ts';
import { importMeshes } from './import.ts';
import { readChannelsCsv, writeChannelsCsv } from './channels-csv.ts';
import { writeGlb } from './gltf-write.ts';
import { writeObj } from './obj-write.ts';
import { writeObjectsGlb } from './objects-glb.ts';

/** Volume by the divergence theorem: positive when faces look outwards. */
function volumeOf({ topology, positions: p }: Mesh): number {
  const { points } = trianglesOf(topology);
  let sum = 0;
  for (let i = 0; i < points.length; i += 3) {
    const [a, b, c] = [points[i] * 3, points[i + 1] * 3, points[i + 2] * 3];
    sum +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
}

const linear = (...pairs: [number, number][]) => ({ keys: trackOf(pairs.map(([f, v]) => makeKey(f, v, { shape: 'straight' }))) });
const smooth = (...pairs: [number, number][]) => ({
  keys: trackOf(pairs.map(([f, v]) => makeKey(f, v, { in: [-4, 0], out: [4, 0] }))),
});

/** A boat that sails on a straight line, a mast under it that sways, and a lamp under the mast that turns many times. */
const project: Project = {
  ...makeProject('p', 'P'),
  objects: [
    makeObject('boat', 'Boat', 'group', { animated: { 'translate.x': linear([1, 0], [41, 20]) } }),
    makeObject('mast', 'Mast', 'prop', {
      parent: 'boat',
      pivot: [0, 0.4, 0],
      channels: { translate: [0, 1, 0], rotate: [0, 10, 0], order: 'zxy', scale: [1, 2, 1] },
      animated: { 'rotate.z': smooth([1, -20], [20, 35], [41, -20]) },
    }),
    makeObject('lamp', 'Lamp, red', 'mesh', {
      parent: 'boat',
      animated: { 'rotate.y': linear([1, 0], [41, 1440]), 'scale.x': smooth([1, 1], [41, -2]) },
    }),
  ],
};
const frames = Array.from({ length: 41 }, (_, i) => i + 1);
const ids = ['boat', 'mast', 'lamp'];
const samples = sampleObjects(new Evaluator(CATALOGUE), project, ids, frames);

describe('objects in motion as GLB', () => {
  test('passes the validator, keeps names and hierarchy, and reads back at every frame within 1e-6 of the scene', async () => {
    const { bytes, notes } = await writeObjectsGlb(samples, frames, 24, new Map([['lamp', makeBox([1, 1, 1], [1, 1, 1])]]));
    expect(notes).toEqual([]);
    const report = await validator.validateBytes(bytes);
    expect(report.issues.messages.filter((m: { severity: number }) => m.severity < 2)).toEqual([]);
    const { objects, meshes } = await importMeshes([{ name: 'a.glb', bytes }], METRES_Y_UP);
    expect(objects?.map((o) => [o.name, o.parent === null ? null : objects[o.parent].name])).toEqual([
      ['Boat', null],
      ['Mast', 'Boat'],
      ['Lamp, red', 'Boat'],
    ]);
    expect(meshes.length).toBe(1);
    const scene = 21;
    frames.forEach((frame, f) => {
      const worlds = worldsAt(new Evaluator(CATALOGUE), project, ids, frame);
      const read: Matrix[] = [];
      objects?.forEach((o) => {
        const m = between(o.motion, f / 24) ?? o.matrix;
        read.push(o.parent === null ? m : multiply(identity(), read[o.parent], m));
      });
      ids.forEach((_, i) => read[i].forEach((v, k) => expect(Math.abs(v - worlds[i][k])).toBeLessThan(scene * 1e-6)));
    });
    // A straight line is two samples, however many frames it has.
    expect(objects?.[0].motion?.seconds.length).toBe(2);
    expect(objects?.[1].motion?.seconds.length).toBeGreaterThan(30);
  });

  test('a mirrored object keeps its outside: its node mirrors, and the format turns the faces round itself', async () => {
    const { bytes } = await writeObjectsGlb(samples, frames, 24, new Map([['lamp', makeBox([1, 2, 1], [1, 1, 1])]]));
    const { objects, meshes } = await importMeshes([{ name: 'a.glb', bytes }], METRES_Y_UP);
    const lamp = objects?.[2];
    const last = lamp?.motion?.matrices.at(-1) as Matrix;
    expect(isMirroring(lamp?.matrix as Matrix)).toBe(false);
    expect(isMirroring(last)).toBe(true);
    // In the file the mesh is as it is in its own space; in ours the world has its outside outside, by the same rule.
    expect(volumeOf(meshes[0].mesh)).toBeCloseTo(2, 5);
    expect(volumeOf(transformMesh(meshes[0].mesh, last, (n) => new Float32Array(n)))).toBeCloseTo(4, 4);
    // Made points of instead, and with that written in the world: the faces are turned in the file.
    const world = transformMesh(makeBox([1, 2, 1], [1, 1, 1]), last, (n) => new Float32Array(n));
    const flat = await importMeshes([{ name: 'b.glb', bytes: await writeGlb([{ name: 'Lamp', mesh: world }]) }], METRES_Y_UP);
    expect(volumeOf(flat.meshes[0].mesh)).toBeCloseTo(4, 4);
    const obj = await importMeshes(
      [{ name: 'b.obj', bytes: new TextEncoder().encode(writeObj([{ name: 'Lamp', mesh: world }])) }],
      METRES_Y_UP,
    );
    expect(volumeOf(obj.meshes[0].mesh)).toBeCloseTo(4, 4);
  });

  test('a file that was cut or changed is refused in a sentence or read, never worse', async () => {
    const { bytes } = await writeObjectsGlb(samples, frames, 24, new Map());
    await fc.assert(
      fc.asyncProperty(fc.nat(bytes.length - 1), fc.nat(255), fc.nat(bytes.length), async (at, byte, cut) => {
        const bad = bytes.slice(0, cut > bytes.length / 2 ? cut : bytes.length);
        bad[at % bad.length] = byte;
        try {
          await importMeshes([{ name: 'a.glb', bytes: bad }], METRES_Y_UP);
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 150 },
    );
  });
});

/** A motion at a moment that is one of its own or lies between two. */
function between(motion: { seconds: readonly number[]; matrices: readonly Matrix[] } | null, t: number): Matrix | undefined {
  if (!motion) return undefined;
  const { seconds, matrices } = motion;
  const i = Math.max(
    0,
    seconds.findLastIndex((s) => s <= t + 1e-6),
  );
  const next = Math.min(i + 1, seconds.length - 1);
  const part = next > i ? Math.max(0, Math.min(1, (t - seconds[i]) / (seconds[next] - seconds[i]))) : 0;
  return matrices[i].map((v, k) => v + (matrices[next][k] - v) * part);
}

describe('channels as CSV', () => {
  test('turns never jump, and what is read back stands where it stood', () => {
    const channels = samples.map(channelsOver);
    const turns = channels[2].rows.map((r) => r['rotate.y']);
    for (let i = 1; i < turns.length; i++) expect(Math.abs(turns[i] - turns[i - 1])).toBeLessThan(180);
    expect(Math.abs(turns[40] - turns[0])).toBeCloseTo(1440, 6);
    const read = readChannelsCsv(writeChannelsCsv(channels, frames));
    expect(read.map((r) => r.object)).toEqual(['Boat', 'Mast', 'Lamp, red']);
    const mast = read[1].channels;
    frames.forEach((frame, f) => {
      const at = (c: string) => mast.get(c)?.[f][1] ?? NaN;
      expect(mast.get('rotate.z')?.[f][0]).toBe(frame);
      const m = compose(
        [0, 0, 0],
        [at('rotate.x'), at('rotate.y'), at('rotate.z')].map((a) => (a * Math.PI) / 180) as never,
        'zxy',
        [1, 2, 1],
      );
      for (const k of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(m[k]).toBeCloseTo(samples[1].matrices[f][k], 9);
    });
  });

  test('every name survives the round trip, and none is a formula to a spreadsheet', () => {
    const evil = [
      '=cmd()',
      '+1',
      '-1',
      '@SUM(A1)',
      "'=x",
      "''-",
      "'tis",
      '\t=1',
      '',
      ' outer ',
      'two\nlines',
      'two\r\nlines',
      '"quoted"',
      'a,b',
      'Boat',
      'Boat',
      '__proto__',
      'constructor',
      '\uFEFFx',
      'é ü 灯',
    ];
    const there = (names: readonly string[]) => {
      const objects = names.map((name, i) =>
        makeObject(`-o${i}`, name, 'locator', { animated: { 'translate.x': linear([1, i], [3, i + 2]) } }),
      );
      const all = sampleObjects(
        new Evaluator(CATALOGUE),
        { ...project, objects },
        objects.map((o) => o.id),
        [1, 2, 3],
      ).map(channelsOver);
      return writeChannelsCsv(all, [1, 2, 3]);
    };
    const text = there(evil);
    const read = readChannelsCsv(text);
    expect(read.map((r) => r.object)).toEqual(evil);
    expect(read.map((r) => r.id)).toEqual(evil.map((_, i) => `-o${i}`));
    read.forEach((r, i) =>
      expect(r.channels.get('translate.x')).toEqual([
        [1, i],
        [2, i + 1],
        [3, i + 2],
      ]),
    );
    // Cells as a spreadsheet sees them: words in quotes lose these first.
    for (const word of text.matchAll(/(?:^|\n)"?([^\s",])/g)) expect(word[1]).not.toMatch(/[=+@-]/);
    const anyName = fc.array(
      fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom('=', "'", '"', ',', '\n', '\r', ' ', 'a', '-') })),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(anyName, (names) => void expect(readChannelsCsv(there(names)).map((r) => r.object)).toEqual(names)),
      { numRuns: 200 },
    );
  });

  test('bad rows are named by line; any text is read or refused in a sentence', () => {
    const refused = (text: string) => {
      try {
        readChannelsCsv(text);
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
        return (error as Error).message;
      }
      return '';
    };
    expect(refused('a,b\n')).toContain('"object" and "frame"');
    expect(refused('object,frame,translate.x\nBoat,1,2\nBoat,2\n')).toBe('Line 3 has 2 cells, the header has 3.');
    expect(refused('object,frame,translate.x\nBoat,1,wet\n')).toBe('Line 2: "wet" in "translate.x" is not a number.');
    expect(refused('object,frame,translate.x\nBoat,1,1e308\n')).toMatch(/^Line 2: 1e\+308 in "translate.x" is too large/);
    expect(refused('object,frame\n"Boat,1\n')).toBe('Line 2: a quoted cell does not end.');
    fc.assert(fc.property(fc.string(), fc.string(), (a, b) => void refused(`object,frame,${a}\n${b}`)));
  });
});
