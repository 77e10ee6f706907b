import { createRequire } from 'node:module';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  edgesOf,
  findAttribute,
  makeGrid,
  makeMesh,
  makeSphere,
  meshId,
  withAttribute,
  type Attribute,
  type Mesh,
} from '@umberfish/core';
import { importMeshes } from './import.ts';
import { FormatError } from './imported.ts';
import { readGltf } from './gltf-read.ts';
import { writeGlb } from './gltf-write.ts';
import { readObj } from './obj-read.ts';
import { shortest, writeMtl, writeObj } from './obj-write.ts';
import { valueToCsv, valueToJson } from './values-csv.ts';

const bunny = createRequire(import.meta.url)('bunny') as { positions: number[][]; cells: number[][] };
const bunnyMesh = makeMesh(
  Float32Array.from(bunny.positions.flat()),
  Int32Array.from({ length: bunny.cells.length + 1 }, (_, i) => i * 3),
  Int32Array.from(bunny.cells.flat()),
);

const face = (name: string, data: number[]): Attribute => ({
  name,
  on: 'face',
  type: 'integer',
  role: 'plain',
  data: Int32Array.from(data),
});

/** A crate: quads and a hexagon, two materials, two groups, uvs, hard edges, a point no face uses. */
function crate(): Mesh {
  const mesh = makeMesh(
    Float32Array.from([
      0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1, 0.5, -0.5, 0, 0.5, 1.5, 0, 9, 9, 9,
    ]),
    Int32Array.from([0, 6, 10, 14, 18, 22, 26]),
    Int32Array.from([0, 3, 9, 2, 1, 8, 4, 5, 6, 7, 0, 1, 5, 4, 2, 3, 7, 6, 1, 2, 6, 5, 0, 4, 7, 3]),
    {
      materials: [
        { name: 'Oak', baseColour: [0.3, 0.2, 0.1] },
        { name: 'Iron band', baseColour: [0.1, 0.1, 0.12] },
      ],
      groups: ['lid', 'sides'],
    },
  );
  const uv = Float32Array.from({ length: mesh.topology.cornerCount * 2 }, (_, i) => ((i * 7) % 5) / 4);
  const hard = new Int32Array(edgesOf(mesh.topology).count).fill(0).map((_, e) => (e < 6 ? 1 : 0));
  return [
    { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: uv } as Attribute,
    face('material', [0, 1, 1, 0, 0, 1]),
    face('group', [0, 1, 1, 1, 1, 1]),
    { name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data: hard } as Attribute,
  ].reduce(withAttribute, mesh);
}

const corners = (m: Mesh) => [Array.from(m.topology.faceStarts), Array.from(m.topology.cornerPoints)];

describe('OBJ', () => {
  test('keeps every point, corner, uv, group, material and hard edge through writing and reading', () => {
    const mesh = crate();
    const named = [{ name: 'Crate', mesh }];
    const back = readObj(writeObj(named), { name: 'Crate', materialText: writeMtl(named) }).meshes[0].mesh;
    expect(Array.from(back.positions)).toEqual(Array.from(mesh.positions));
    expect(corners(back)).toEqual(corners(mesh));
    expect(back.materials).toEqual(mesh.materials);
    const names = (m: Mesh) => Array.from(findAttribute(m, 'group', 'face')!.data, (g) => m.groups[g]);
    expect(names(back)).toEqual(names(mesh));
    expect(findAttribute(back, 'material', 'face')!.data).toEqual(findAttribute(mesh, 'material', 'face')!.data);
    expect(findAttribute(back, 'uv', 'corner')!.data).toEqual(findAttribute(mesh, 'uv', 'corner')!.data);
    expect(findAttribute(back, 'hard', 'edge')!.data).toEqual(findAttribute(mesh, 'hard', 'edge')!.data);
    expect(writeObj([{ name: 'Crate', mesh: back }])).toBe(writeObj(named));
  });

  test('a real mesh comes back to the bit; several meshes in one file stay apart', () => {
    const back = readObj(writeObj([{ name: 'a', mesh: bunnyMesh }])).meshes[0].mesh;
    expect(meshId({ ...back, attributes: [], materials: [], groups: [] })).toBe(meshId(bunnyMesh));
    const two = readObj(
      writeObj([
        { name: 'a', mesh: makeGrid([1, 1], [1, 1]) },
        { name: 'b', mesh: crate() },
      ]),
    ).meshes[0].mesh;
    expect(two.topology.pointCount).toBe(4 + 11);
    expect(two.topology.cornerPoints[4]).toBe(4);
    expect(two.groups).toContain('a');
  });

  test('numbers are the shortest that read back the same', () => {
    fc.assert(
      fc.property(
        fc.float({ noNaN: true, noDefaultInfinity: true }),
        (v) => void expect(Math.fround(Number(shortest(v)))).toBe(Math.fround(v) + 0),
      ),
    );
    expect(shortest(0.1)).toBe('0.1');
  });

  test('reads what other programs write: negative indices, joined lines, smoothing groups, units, z up', () => {
    const text =
      'v 0 0 0\nv 100 0 0 # a remark\nv 100 200 0\nv 0 200 300\n\nf -4 -3 \\\n -2 -1\r\ns off\nf 1 2 3\nl 1 2\nvp 0 0\n';
    const { meshes, notes } = readObj(text, { units: { metresPerUnit: 0.01, upAxis: 'z' } });
    expect(corners(meshes[0].mesh)).toEqual([
      [0, 4, 7],
      [0, 1, 2, 3, 0, 1, 2],
    ]);
    expect(Array.from(meshes[0].mesh.positions.slice(9), (v) => Number(v.toFixed(6)))).toEqual([0, 3, -2]);
    expect(notes.join(' ')).toContain('1 line of kind "l"');
    const creased = readObj('v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\ns 1\nf 1 2 3\ns 2\nf 1 3 4\n').meshes[0].mesh;
    expect(Array.from(findAttribute(creased, 'hard', 'edge')!.data)).toEqual([0, 0, 1, 0, 0]);
  });

  test('what is wrong is told with its line; numbers that are not become 0', () => {
    const refusal = (text: string) => expect(() => readObj(text));
    refusal('').toThrow('No points');
    refusal('v 0 0 0\nv 1 0 0\nf 1 2 9\n').toThrow('Line 3: the face names point "9", but there are 2 so far.');
    refusal('v 0 0 0\nf 1/2 1 1\n').toThrow('Line 2: the face names uv "2"');
    refusal('v 0 0 0\nf 0 1 1\n').toThrow('Line 2');
    const { meshes, notes } = readObj('v 0 nan 3\nv 1 2\nv 1e999 0 0\nf 1 2\nf 1 2 3\n');
    expect(Array.from(meshes[0].mesh.positions)).toEqual([0, 0, 3, 1, 2, 0, 0, 0, 0]);
    expect(notes.join(' ')).toBe(
      'Made 0: 3 numbers that cannot be read (first at line 1). Left out: 1 face with fewer than 3 corners (first at line 4).',
    );
  });

  test('any text is read or refused in words', () => {
    const line = fc.oneof(
      fc.string({ maxLength: 20 }),
      fc
        .tuple(
          fc.constantFrom('v', 'vt', 'vn', 'f', 's', 'usemtl', 'g', 'o'),
          fc.array(
            fc.oneof(
              fc.integer({ min: -9, max: 9 }).map(String),
              fc.constantFrom('1/1', '1//1', '2/1/1', 'x', '-1/-1', '1e400', '\\'),
            ),
            { maxLength: 6 },
          ),
        )
        .map(([k, a]) => `${k} ${a.join(' ')}`),
    );
    fc.assert(
      fc.property(fc.array(line, { maxLength: 30 }), (lines) => {
        try {
          const { mesh } = readObj(lines.join('\n')).meshes[0];
          expect(mesh.positions.every(Number.isFinite)).toBe(true);
        } catch (e) {
          expect(e).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 1500 },
    );
  });
});

describe('glTF', () => {
  test('points come back in their order and number, split or not, with materials and hard edges', async () => {
    for (const mesh of [bunnyMesh, crate(), makeSphere(1, 8, 12), makeGrid([1, 1], [3, 3])]) {
      const { meshes } = await readGltf(await writeGlb([{ name: 'It', mesh }]));
      const back = meshes[0].mesh;
      expect(meshes[0].name).toBe('It');
      expect(Array.from(back.positions)).toEqual(Array.from(mesh.positions));
      expect(back.topology.faceCount).toBe(mesh.topology.cornerCount - 2 * mesh.topology.faceCount);
      expect(back.materials.map((m) => m.name)).toEqual(
        mesh.materials.length > 0 ? mesh.materials.map((m) => m.name) : ['Default'],
      );
    }
    const crateBack = (await readGltf(await writeGlb([{ name: 'It', mesh: crate() }]))).meshes[0].mesh;
    expect(crateBack.materials[0].baseColour.map((v) => Number(v.toFixed(6)))).toEqual([0.3, 0.2, 0.1]);
    expect(findAttribute(crateBack, 'hard', 'edge')!.data.some((h) => h === 1)).toBe(true);
    const again = (await readGltf(await writeGlb([{ name: 'It', mesh: bunnyMesh }]))).meshes[0].mesh;
    expect(Array.from(again.topology.cornerPoints)).toEqual(Array.from(bunnyMesh.topology.cornerPoints));
    expect(findAttribute(again, 'hard', 'edge')).toBeUndefined();
  });

  test('vertices that a file of another program split are welded where they meet', async () => {
    // A strip of two triangles with no shared vertices, as JSON with its buffer inside.
    const data = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]);
    const json = {
      asset: { version: '2.0' },
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes: [{ name: 'Flag', mesh: 0, translation: [1, 2, 3] }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
      accessors: [{ bufferView: 0, componentType: 5126, count: 6, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] }],
      bufferViews: [{ buffer: 0, byteLength: 72 }],
      buffers: [{ byteLength: 72, uri: `data:application/octet-stream;base64,${Buffer.from(data.buffer).toString('base64')}` }],
    };
    const bytes = (j: unknown) => new TextEncoder().encode(JSON.stringify(j));
    const { meshes, notes } = await readGltf(bytes(json));
    expect(corners(meshes[0].mesh)).toEqual([
      [0, 3, 6],
      [0, 1, 2, 1, 3, 2],
    ]);
    expect(Array.from(meshes[0].matrix.slice(12, 15))).toEqual([1, 2, 3]);
    expect(notes.join(' ')).toContain('6 vertices welded to 4 points');
    const outside = { ...json, buffers: [{ byteLength: 72, uri: 'flag.bin' }] };
    await expect(readGltf(bytes(outside))).rejects.toThrow('buffers[0] is in the file "flag.bin"');
    const given = await importMeshes([
      { name: 'flag.gltf', bytes: bytes(outside) },
      { name: 'flag.bin', bytes: new Uint8Array(data.buffer) },
    ]);
    expect(given.meshes[0].mesh.topology.pointCount).toBe(4);
    const wrong = { ...json, accessors: [{ ...json.accessors[0], count: 600 }] };
    await expect(importMeshes([{ name: 'flag.gltf', bytes: bytes(wrong) }])).rejects.toThrow(
      'flag.gltf: accessors[0] says 600 elements',
    );
  });

  test('any damage is refused in words', async () => {
    const whole = await writeGlb([{ name: 'It', mesh: crate() }]);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(whole.length - 1),
        fc.integer({ min: 0, max: 255 }),
        fc.nat(whole.length),
        async (at, byte, cut) => {
          const damaged = whole.slice(0, cut > whole.length * 0.7 ? whole.length : cut);
          if (at < damaged.length) damaged[at] = byte;
          try {
            const { meshes } = await importMeshes([{ name: 'it.glb', bytes: damaged }]);
            for (const m of meshes) expect(m.mesh.positions.every(Number.isFinite)).toBe(true);
          } catch (e) {
            expect(e).toBeInstanceOf(FormatError);
            expect((e as Error).message).toMatch(/^it\.glb: /);
          }
        },
      ),
      { numRuns: 300 },
    );
    await expect(importMeshes([{ name: 'notes.txt', bytes: new Uint8Array(0) }])).rejects.toThrow('only OBJ, GLB and glTF');
  });
});

test('values as CSV and JSON', () => {
  const column = {
    form: 'column' as const,
    kind: 'vector' as const,
    count: 2,
    data: Float32Array.of(0.1, 2, 3, 4, NaN, 6),
    on: 'point' as const,
    owner: 'x',
    role: 'plain' as const,
  };
  expect(valueToCsv(column)).toBe('index,x,y,z\n0,0.1,2,3\n1,4,NaN,6\n');
  expect(valueToJson(column)).toMatchObject({
    form: 'column',
    kind: 'vector',
    count: 2,
    columns: ['x', 'y', 'z'],
  });
  expect(valueToCsv({ form: 'single', kind: 'number', data: Float64Array.of(2.5) })).toBe('index,value\n0,2.5\n');
});
