import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findAttribute, isMirroring } from '@umberfish/core';
import { importMeshes, type SourceFile } from './import.ts';
import { FormatError } from './imported.ts';

const text = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));
const base64 = (data: ArrayBufferView) =>
  `data:application/octet-stream;base64,${Buffer.from(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength).toString('base64')}`;

/** Two triangles that share an edge: four points, with their uvs and indices after them in one buffer. */
const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0);
const uvs = Float32Array.of(0.1, 0.2, 0.9, 0.2, 0.9, 0.8, 0.1, 0.8);
const indices = Uint16Array.of(0, 1, 2, 0, 2, 3);
const all = new Uint8Array(92);
all.set(new Uint8Array(positions.buffer), 0);
all.set(new Uint8Array(uvs.buffer), 48);
all.set(new Uint8Array(indices.buffer), 80);

const flag = () => ({
  asset: { version: '2.0' },
  scene: 0,
  scenes: [{ nodes: [0] }],
  nodes: [{ name: 'Flag', mesh: 0, children: [1] }, { name: 'Rope' }] as Record<string, unknown>[],
  meshes: [{ primitives: [{ attributes: { POSITION: 0, TEXCOORD_0: 1 } as Record<string, number>, indices: 2 }] }],
  accessors: [
    { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3' },
    { bufferView: 1, componentType: 5126, count: 4, type: 'VEC2' },
    { bufferView: 2, componentType: 5123, count: 6, type: 'SCALAR' },
  ] as Record<string, unknown>[],
  bufferViews: [
    { buffer: 0, byteLength: 48 },
    { buffer: 0, byteOffset: 48, byteLength: 32 },
    { buffer: 0, byteOffset: 80, byteLength: 12 },
  ] as Record<string, unknown>[],
  buffers: [{ byteLength: 92, uri: base64(all) }] as Record<string, unknown>[],
});
type Flag = ReturnType<typeof flag>;

const read = (json: unknown, others: readonly SourceFile[] = []) =>
  importMeshes([{ name: 'flag.gltf', bytes: text(json) }, ...others]);
const changed = (change: (f: Flag) => void) => {
  const f = flag();
  change(f);
  return f;
};

test('the flag as it is', async () => {
  const { meshes, objects, notes } = await read(flag());
  expect(meshes[0].mesh.topology.pointCount).toBe(4);
  expect(Array.from(meshes[0].mesh.topology.cornerPoints)).toEqual([0, 1, 2, 0, 2, 3]);
  expect(objects?.map((o) => [o.name, o.parent])).toEqual([
    ['Flag', null],
    ['Rope', 0],
  ]);
  expect(notes.length).toBe(1);
});

describe('what is hostile is refused in a sentence that names its path', () => {
  const cases: [string, (f: Flag) => void, RegExp][] = [
    ['a circle of nodes', (f) => (f.nodes[1].children = [0]), /nodes\[0\] hangs in two places, or under itself/],
    ['a node under itself', (f) => (f.nodes[1].children = [1]), /nodes\[1\] hangs in two places/],
    [
      'a node in two places',
      (f) => f.nodes.push({ children: [1] }) && f.scenes[0].nodes.push(2),
      /nodes\[1\] hangs in two places/,
    ],
    ['a child that is not there', (f) => (f.nodes[0].children = [7]), /nodes\[0\]\.children names nodes\[7\], but there are 2/],
    ['nodes that are no list', (f) => Object.assign(f, { nodes: {} }), /nodes: expected array, received object/],
    ['a node that is null', (f) => Object.assign(f.nodes, [null]), /nodes\[0\]: expected object, received null/],
    ['no asset', (f) => Object.assign(f, { asset: undefined }), /asset: expected object/],
    ['version 1', (f) => (f.asset.version = '1.0'), /it is glTF 1\.0; glTF 2\.0 can be read/],
    ['a translation that overflows', (f) => (f.nodes[0].translation = [1, 2]), /nodes\[0\]\.translation: /],
    [
      '2^31 elements',
      (f) => (f.accessors[0].count = 2 ** 31),
      /accessors\[0\] says 2147483648 elements, which is more than its buffer view holds/,
    ],
    [
      '59 million elements of no bytes',
      (f) => (f.accessors[0] = { componentType: 5126, count: 59e6, type: 'VEC3' }),
      /accessors\[0\] says 59000000 elements, but the file has no bytes/,
    ],
    ['a count below 0', (f) => (f.accessors[0].count = -3), /accessors\[0\]\.count: /],
    ['a count that is no whole number', (f) => (f.accessors[0].count = 2.5), /accessors\[0\]\.count: /],
    ['elements that overlap', (f) => (f.bufferViews[0].byteStride = 4), /accessors\[0\]: its elements of 12 bytes overlap/],
    ['a stride that goes too far', (f) => (f.bufferViews[0].byteStride = 252), /accessors\[0\] says 4 elements/],
    [
      'a sparse part of 2^31',
      (f) =>
        (f.accessors[0].sparse = { count: 2 ** 31, indices: { bufferView: 2, componentType: 5123 }, values: { bufferView: 0 } }),
      /accessors\[0\]\.sparse says 2147483648 elements/,
    ],
    [
      'a sparse part beyond its view',
      (f) => (f.accessors[0].sparse = { count: 4, indices: { bufferView: 2, componentType: 5125 }, values: { bufferView: 0 } }),
      /accessors\[0\]\.sparse says 4/,
    ],
    ['a view beyond its buffer', (f) => (f.bufferViews[0].byteLength = 480), /bufferViews\[0\] reaches beyond its buffer/],
    [
      'a buffer shorter than it says',
      (f) => Object.assign(f.buffers[0], { byteLength: 9200 }),
      /buffers\[0\] says 9200 bytes, but there are 92\. Was the file cut short\?/,
    ],
    [
      'a buffer that is no base64',
      (f) => (f.buffers[0].uri = 'data:x;base64,!!!!'),
      /buffers\[0\] is written in its uri, but not as base64/,
    ],
    ['a buffer that is nowhere', (f) => (f.buffers[0].uri = undefined), /buffers\[0\] has no bytes/],
    [
      'an accessor that is not there',
      (f) => (f.meshes[0].primitives[0].attributes.POSITION = 9),
      /meshes\[0\]\.primitives\[0\]\.POSITION names accessors\[9\], but there are 3/,
    ],
    [
      'positions of another kind',
      (f) => (f.meshes[0].primitives[0].attributes.POSITION = 1),
      /POSITION is of type VEC2, not VEC3/,
    ],
    ['uvs for other vertices', (f) => (f.accessors[1].count = 3), /TEXCOORD_0 is for 3 vertices, but there are 4/],
    [
      'indices of floats',
      (f) =>
        (f.meshes[0].primitives[0].indices = 3) &&
        f.accessors.push({ bufferView: 1, componentType: 5126, count: 8, type: 'SCALAR' }),
      /indices are not whole numbers/,
    ],
    [
      'an index beyond the vertices',
      (f) => (f.accessors[0].count = 3) && (f.accessors[1].count = 3),
      /index 5 names vertex 3, but there are 3/,
    ],
    [
      'what needs an extension',
      (f) => Object.assign(f, { extensionsRequired: ['EXT_packed_shells'] }),
      /without the extension "EXT_packed_shells"/,
    ],
    ['more nodes than can be held', (f) => (f.nodes = Array.from({ length: 100_001 }, () => ({}))), /it has 100001 nodes/],
  ];
  test.each(cases)('%s', async (_, change, sentence) => {
    const refused = read(changed(change));
    await expect(refused).rejects.toThrow(sentence);
    await expect(refused).rejects.toThrow(/^flag\.gltf: /);
  });

  test('a GLB that is cut anywhere', async () => {
    const json = text({ ...flag(), buffers: [{ byteLength: 92 }] });
    const padded = new Uint8Array(Math.ceil(json.length / 4) * 4).fill(32);
    padded.set(json);
    const glb = new Uint8Array(12 + 8 + padded.length + 8 + 92);
    const view = new DataView(glb.buffer);
    [0x46546c67, 2, glb.length, padded.length, 0x4e4f534a].forEach((v, i) => view.setUint32(i * 4, v, true));
    glb.set(padded, 20);
    view.setUint32(20 + padded.length, 92, true);
    view.setUint32(24 + padded.length, 0x004e4942, true);
    glb.set(all, 28 + padded.length);
    const whole = await importMeshes([{ name: 'flag.glb', bytes: glb }]);
    expect(whole.meshes[0].mesh.topology.pointCount).toBe(4);
    for (let length = 0; length < glb.length; length += 3)
      await expect(importMeshes([{ name: 'flag.glb', bytes: glb.subarray(0, length) }])).rejects.toThrow(/^flag\.glb: /);
  });

  test('anything changed to anything is read or refused in words, soon', async () => {
    const hostile = fc.oneof(
      fc.constantFrom<unknown>(null, -1, 0.5, 2 ** 31, 2 ** 53, 1e308, '', '__proto__', 'data:,', [], {}, true, [[]], 3, 7),
      fc.integer({ min: 0, max: 4 }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(), hostile), { minLength: 1, maxLength: 3 }), async (changes) => {
        const f = flag() as unknown;
        for (const [which, value] of changes) {
          const places: [Record<string, unknown>, string][] = [];
          const walk = (o: unknown) => {
            if (typeof o !== 'object' || o === null) return;
            for (const k of Object.keys(o)) {
              places.push([o as Record<string, unknown>, k]);
              walk((o as Record<string, unknown>)[k]);
            }
          };
          walk(f);
          const [owner, key] = places[which % places.length];
          owner[key] = value;
        }
        try {
          const { meshes } = await read(f);
          for (const m of meshes) expect(m.mesh.positions.every(Number.isFinite)).toBe(true);
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
          expect((error as Error).message).toMatch(/^flag\.gltf: /);
          expect((error as Error).message).not.toMatch(/undefined|typed array|not a function|not iterable/);
        }
      }),
      { numRuns: 1500 },
    );
  });
});

test('buffers are found by their names as they are written, escaped, in folders or here', async () => {
  for (const [uri, name] of [
    ['x.bin', 'x.bin'],
    ['./x.bin', 'x.bin'],
    ['my%20mesh.bin', 'my mesh.bin'],
    ['my%20mesh.bin', 'my%20mesh.bin'],
    ['parts/x.bin', 'x.bin'],
    ['parts\\x.bin', 'x.bin'],
    ['50%.bin', '50%.bin'],
    ['fa%CC%88hre.bin', 'fähre.bin'],
    ['__proto__', '__proto__'],
  ]) {
    const { meshes } = await read(
      changed((f) => (f.buffers[0].uri = uri)),
      [{ name, bytes: all }],
    );
    expect(meshes[0].mesh.topology.pointCount, uri).toBe(4);
  }
  await expect(
    read(
      changed((f) => (f.buffers[0].uri = 'y.bin')),
      [{ name: 'x.bin', bytes: all }],
    ),
  ).rejects.toThrow('buffers[0] is in the file "y.bin". Choose both files together');
  await expect(
    read(
      changed((f) => (f.buffers[0].uri = 'x.bin')),
      [{ name: 'x.bin', bytes: all.subarray(0, 50) }],
    ),
  ).rejects.toThrow('buffers[0] says 92 bytes, but there are 50');
});

test('what hangs too deep and what other scenes hold is left out with a word', async () => {
  const deep = await read(
    changed(
      (f) =>
        (f.nodes = Array.from({ length: 20_000 }, (_, i) => ({
          mesh: 0,
          translation: [0, 0.5, 0],
          children: i < 19_999 ? [i + 1] : [],
        }))),
    ),
  );
  expect(deep.objects?.length).toBe(500);
  expect(deep.notes.join(' ')).toContain('Left out: 19\u202f500 nodes more than 500 deep.');
  expect(deep.meshes[499].matrix[13]).toBe(250);
  expect(deep.meshes[499].mesh).toBe(deep.meshes[0].mesh);
  const scenes = await read(
    changed((f) => (f.scenes = [{ nodes: [1] }, { nodes: [0] }]) && Object.assign(f, { scene: 1 }) && (f.nodes[0].children = [])),
  );
  expect(scenes.objects?.map((o) => o.name)).toEqual(['Flag']);
  expect(scenes.notes.join(' ')).toContain('Left out: 1 node outside the scene; the file has 1 more scene.');
});

test('primitives keep what is theirs: uvs of one, of both on the same points, of none', async () => {
  const twice = (attributes: Record<string, number>) =>
    read(changed((f) => f.meshes[0].primitives.push({ attributes, indices: 2 })));
  const uvOf = async (r: ReturnType<typeof twice>) => findAttribute((await r).meshes[0].mesh, 'uv', 'corner')?.data;
  const none = await uvOf(twice({ POSITION: 0 }));
  expect(none?.length).toBe(24);
  expect(none?.[0]).toBeCloseTo(0.1, 6);
  expect(Array.from(none?.slice(12) ?? [])).toEqual(Array.from({ length: 12 }, (_, i) => i % 2));
  expect((await twice({ POSITION: 0 })).notes.join(' ')).toContain('some of its primitives have no uvs');
  const other = changed((f) => {
    f.accessors.push({ bufferView: 0, componentType: 5126, count: 4, type: 'VEC2' });
    f.meshes[0].primitives.push({ attributes: { POSITION: 0, TEXCOORD_0: 3 }, indices: 2 });
  });
  const both = await uvOf(read(other));
  expect(Array.from(both?.slice(12, 16) ?? [])).toEqual([0, 1, 0, 0]);
  expect((await read(other)).meshes[0].mesh.topology.pointCount).toBe(4);
  expect(await uvOf(read(changed((f) => delete f.meshes[0].primitives[0].attributes.TEXCOORD_0)))).toBeUndefined();
});

test('sparse and interleaved numbers, and matrices with shear, are read as they are meant', async () => {
  const values = Float32Array.of(5, 6, 7);
  const sparse = changed((f) => {
    f.buffers.push({ byteLength: 12, uri: base64(values) }, { byteLength: 1, uri: base64(Uint8Array.of(2)) });
    f.bufferViews.push({ buffer: 1, byteLength: 12 }, { buffer: 2, byteLength: 1 });
    f.accessors[0] = {
      ...f.accessors[0],
      byteOffset: 12,
      count: 3,
      sparse: { count: 1, indices: { bufferView: 4, componentType: 5121 }, values: { bufferView: 3 } },
    };
    f.meshes[0].primitives[0] = { attributes: { POSITION: 0 }, indices: 3 };
    f.accessors.push({ bufferView: 2, componentType: 5123, count: 3, type: 'SCALAR' });
  });
  expect(Array.from((await read(sparse)).meshes[0].mesh.positions)).toEqual([1, 0, 0, 1, 1, 0, 5, 6, 7]);
  const beyond = changed((f) => {
    f.buffers.push({ byteLength: 12, uri: base64(values) }, { byteLength: 1, uri: base64(Uint8Array.of(3)) });
    f.bufferViews.push({ buffer: 1, byteLength: 12 }, { buffer: 2, byteLength: 1 });
    const indices = { bufferView: 4, componentType: 5121 };
    f.accessors[0] = { ...f.accessors[0], byteOffset: 12, count: 3, sparse: { count: 1, indices, values: { bufferView: 3 } } };
  });
  await expect(read(beyond)).rejects.toThrow('accessors[0].sparse replaces element 3, but there are 3, from 0 on.');
  const woven = new Float32Array(20);
  for (let v = 0; v < 4; v++) {
    woven.set(positions.subarray(v * 3, v * 3 + 3), v * 5);
    woven.set(uvs.subarray(v * 2, v * 2 + 2), v * 5 + 3);
  }
  const interleaved = changed((f) => {
    f.buffers.push({ byteLength: 80, uri: base64(woven) });
    f.bufferViews.push({ buffer: 1, byteLength: 80, byteStride: 20 });
    Object.assign(f.accessors[0], { bufferView: 3 });
    Object.assign(f.accessors[1], { bufferView: 3, byteOffset: 12 });
  });
  const plain = (await read(flag())).meshes[0].mesh;
  const back = (await read(interleaved)).meshes[0].mesh;
  expect(back.positions).toEqual(plain.positions);
  expect(findAttribute(back, 'uv', 'corner')?.data).toEqual(findAttribute(plain, 'uv', 'corner')?.data);
  const matrix = [1, 0.5, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0, 3, 2, 1, 1];
  const sheared = await read(changed((f) => (f.nodes[0].matrix = matrix)));
  expect(Array.from(sheared.objects?.[0].matrix ?? [])).toEqual(matrix);
  expect(isMirroring(sheared.meshes[0].matrix)).toBe(true);
});

test('keys that are not finite, or out of order, are left out with a word; many are read in good time', async () => {
  const moving = (times: number[], xs: number[]) => {
    const data = Float32Array.from([...times, ...xs.flatMap((x) => [x, 0, 0])]);
    return changed((f) => {
      f.buffers.push({ byteLength: data.byteLength, uri: base64(data) });
      f.bufferViews.push({ buffer: 1, byteLength: data.byteLength });
      f.accessors.push({ bufferView: 3, componentType: 5126, count: times.length, type: 'SCALAR' });
      f.accessors.push({ bufferView: 3, byteOffset: times.length * 4, componentType: 5126, count: xs.length, type: 'VEC3' });
      Object.assign(f, {
        animations: [
          {
            samplers: [{ input: 3, output: 4 }],
            channels: [
              { sampler: 0, target: { node: 1, path: 'translation' } },
              { sampler: 0, target: { node: 0, path: 'pointer' } },
            ],
          },
        ],
      });
    });
  };
  const { objects, notes } = await read(moving([0, 1, NaN, 0.5, 2, 3], [0, 1, 2, 3, NaN, 4]));
  const motion = objects?.[1].motion;
  expect(motion?.seconds).toEqual([0, 1, 3]);
  expect(motion?.matrices.map((m) => m[12])).toEqual([0, 1, 4]);
  expect(notes.join(' ')).toContain('Rope: left out 3 keys of its translation, not finite or not in order.');
  expect(notes.join(' ')).toContain('Flag: how its "pointer" changes was left out.');
  const many = Array.from({ length: 120_000 }, (_, i) => i);
  const long = await read(moving(many, many));
  expect(long.objects?.[1].motion?.seconds.length).toBe(100_000);
  expect(long.notes.join(' ')).toContain('of 120\u202f000 keys of its translation the first 100\u202f000 were read');
});
