import { crc32, deflateSync } from 'node:zlib';
import fc from 'fast-check';
import validator from 'gltf-validator';
import { describe, expect, test } from 'vitest';
import {
  makeGrid,
  meshFromData,
  meshId,
  meshToArrays,
  meshToData,
  withAttribute,
  type Mesh,
  type SurfacePicture,
} from '@umberfish/core';
import { importMeshes, type SourceFile } from './import.ts';
import { writeGlb } from './gltf-write.ts';

/** A PNG of one colour. */
function png(width: number, height: number, colour: readonly [number, number, number]): Uint8Array<ArrayBuffer> {
  const chunk = (type: string, data: Uint8Array) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc32(body));
    return Buffer.concat([length, body, sum]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 2], 8);
  const row = Buffer.from([0, ...Array.from({ length: width }, () => colour).flat()]);
  const rows = Buffer.concat(Array.from({ length: Math.min(height, 8) }, () => row));
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return new Uint8Array(
    Buffer.concat([signature, chunk('IHDR', head), chunk('IDAT', deflateSync(rows)), chunk('IEND', Buffer.alloc(0))]),
  );
}

const BUOY: SurfacePicture = { type: 'image/png', bytes: png(4, 4, [200, 40, 20]) };
const SAIL: SurfacePicture = { type: 'image/png', bytes: png(2, 8, [230, 220, 190]) };

const UV = {
  name: 'uv',
  on: 'corner',
  type: 'pair',
  role: 'plain',
  data: Float32Array.of(0, 0, 0.5, 0, 0.5, 1, 0, 1, 0.5, 0, 1, 0, 1, 1, 0.5, 1),
} as const;

/** Two faces, each of a material of its own. */
function sheet(pictures: readonly (SurfacePicture | undefined)[]): Mesh {
  const grid = makeGrid([1, 1], [2, 1]);
  const materials = pictures.map((picture, i) => ({
    name: `Cloth ${i + 1}`,
    baseColour: [1, 0.5, 0.25] as const,
    ...(picture && { picture }),
  }));
  return withAttribute(withAttribute({ ...grid, materials }, UV), {
    name: 'material',
    on: 'face',
    type: 'integer',
    role: 'plain',
    data: Int32Array.of(0, pictures.length - 1),
  });
}

const imported = async (mesh: Mesh) => {
  const bytes = await writeGlb([{ name: 'Sheet', mesh }]);
  return { bytes, ...(await importMeshes([{ name: 'sheet.glb', bytes }])) };
};

test('pictures of materials go out to a GLB and come back, each in it once, and the file is valid', async () => {
  const { bytes, meshes } = await imported(sheet([BUOY, BUOY]));
  const { issues, info } = await validator.validateBytes(bytes);
  expect(issues.messages.filter((m: { severity: number }) => m.severity < 2)).toEqual([]);
  expect(info.resources?.filter((r) => r.image)).toHaveLength(1);
  const [{ mesh }] = meshes;
  expect(mesh.materials.map((m) => m.name)).toEqual(['Cloth 1', 'Cloth 2']);
  for (const { picture, baseColour } of mesh.materials) {
    expect(picture?.type).toBe('image/png');
    expect(Buffer.from(picture!.bytes).equals(BUOY.bytes as Buffer)).toBe(true);
    expect(baseColour).toEqual([1, 0.5, 0.25]);
  }
  const bare = await writeGlb([{ name: 'Bare', mesh: { ...sheet([BUOY]), attributes: [] } }]);
  expect((await validator.validateBytes(bare)).issues.messages).toEqual([]);
  const two = await imported(sheet([BUOY, SAIL]));
  expect(two.meshes[0].mesh.materials.map((m) => m.picture?.bytes.length)).toEqual([BUOY.bytes.length, SAIL.bytes.length]);
});

test('a picture is in the content id of a mesh and in its data, and is read back to the bit', () => {
  const ids = [[undefined], [BUOY], [SAIL]].map((p) => meshId(sheet(p)));
  expect(new Set(ids).size).toBe(3);
  const stored = meshFromData(structuredClone(meshToArrays(sheet([SAIL, undefined]))));
  expect(stored.materials).toEqual(sheet([SAIL, undefined]).materials);
  const back = meshFromData(JSON.parse(JSON.stringify(meshToData(sheet([SAIL, undefined])))));
  expect(Buffer.from(back.materials[0].picture!.bytes).equals(SAIL.bytes as Buffer)).toBe(true);
  expect('picture' in back.materials[1]).toBe(false);
  expect(meshId(back)).toBe(meshId(sheet([SAIL, undefined])));
  const broken = meshToData(sheet([SAIL]));
  expect(() =>
    meshFromData({ ...broken, materials: [{ ...broken.materials[0], picture: { type: 'image/png', base64: '%%' } }] }),
  ).toThrow('not valid base64');
  expect(() =>
    meshFromData({ ...broken, materials: [{ ...broken.materials[0], picture: { type: 'image/svg', base64: '' } }] }),
  ).toThrow('picture');
});

describe('a picture that cannot be used is told, and the mesh comes without it', () => {
  const uri = (bytes: Uint8Array) => `data:image/png;base64,${Buffer.from(bytes).toString('base64')}`;
  const read = async (
    image: Record<string, unknown>,
    others: readonly SourceFile[] = [],
    use: Record<string, unknown> = {},
    texture: Record<string, unknown> = { source: 0 },
  ) => {
    const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0);
    const json = {
      asset: { version: '2.0' },
      scenes: [{ nodes: [0] }],
      nodes: [{ mesh: 0 }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }],
      materials: [{ name: 'Tar', pbrMetallicRoughness: { baseColorTexture: { index: 0, ...use } } }],
      textures: [texture],
      images: [image],
      accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' }],
      bufferViews: [{ buffer: 0, byteLength: 36 }],
      buffers: [{ byteLength: 36, uri: `data:;base64,${Buffer.from(positions.buffer).toString('base64')}` }],
    };
    const bytes = new TextEncoder().encode(JSON.stringify(json));
    const { meshes, notes } = await importMeshes([{ name: 'tar.gltf', bytes }, ...others]);
    return { picture: meshes[0].mesh.materials[0].picture, notes: notes.join(' ') };
  };

  test('in the text, or in a file beside it', async () => {
    expect((await read({ uri: uri(BUOY.bytes as Uint8Array) })).picture?.bytes.length).toBe(BUOY.bytes.length);
    const beside = await read({ uri: 'maps/tar%20old.png' }, [{ name: 'tar old.png', bytes: SAIL.bytes as Uint8Array }]);
    expect(beside.picture?.bytes.length).toBe(SAIL.bytes.length);
    expect(beside.notes).not.toContain('left out');
  });

  const cases: [string, Parameters<typeof read>, RegExp][] = [
    ['not there', [{ uri: 'tar.png' }], /in the file "tar\.png"; choose both files together/],
    ['without bytes', [{}], /it has no bytes/],
    ['of another kind', [{ uri: `data:;base64,${Buffer.from('GIF89a..').toString('base64')}` }], /neither PNG nor JPEG/],
    ['cut within its header', [{ uri: uri(BUOY.bytes.slice(0, 12)) }], /is broken/],
    ['without a size', [{ uri: uri(png(0, 4, [0, 0, 0])) }], /is broken/],
    ['too large', [{ uri: uri(png(4, 20_000, [0, 0, 0])) }], /4 × 20[,. \u202f]?000 pixels large/],
    ['of other uvs', [{ uri: uri(BUOY.bytes as Uint8Array) }, [], { texCoord: 1 }], /other uvs than the first/],
    ['of an extension', [{ uri: '' }, [], {}, {}], /of a kind that is not read/],
  ];
  test.each(cases)('%s', async (_, given, sentence) => {
    const { picture, notes } = await read(...given);
    expect(picture).toBeUndefined();
    expect(notes).toMatch(sentence);
    expect(notes).toMatch(/Tar: its picture was left out/);
  });

  test('whatever bytes a picture has, PNG or JPEG by their beginning: it is taken or told, never thrown', async () => {
    const starts = [
      BUOY.bytes.slice(0, 24),
      Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 16, 0xff, 0xc0, 0, 17, 8),
      new Uint8Array(0),
    ];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...starts), fc.uint8Array({ maxLength: 60 }), async (start, rest) => {
        const { picture, notes } = await read({ uri: uri(Buffer.concat([start, rest])) });
        if (picture) expect(picture.bytes.length).toBe(start.length + rest.length);
        else
          expect(notes).toMatch(
            /its picture was left out, since (its file is broken|it is neither|it has no bytes|it is .* pixels large)/,
          );
      }),
      { numRuns: 300 },
    );
  });

  test('pictures that nobody asks for are told, beside an OBJ too', async () => {
    const { notes } = await read({ uri: 'tar.png' }, [
      { name: 'tar.png', bytes: BUOY.bytes as Uint8Array },
      { name: 'rope.jpg', bytes: SAIL.bytes as Uint8Array },
    ]);
    expect(notes).toContain('rope.jpg: left out, since only materials of glTF files have pictures');
    expect(notes).not.toContain('tar.png');
    const obj = { name: 'a.obj', bytes: new TextEncoder().encode('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') };
    const beside = await importMeshes([obj, { name: 'a.png', bytes: BUOY.bytes as Uint8Array }]);
    expect(beside.notes.join(' ')).toContain('a.png: left out');
  });

  test('names of what is not there are refused with their path', async () => {
    await expect(read({ uri: '' }, [], { index: 3 })).rejects.toThrow('baseColorTexture names textures[3], but there are 1');
    await expect(read({ bufferView: 9 })).rejects.toThrow('images[0] names bufferViews[9], but there are 1');
    await expect(read({}, [], {}, { source: 2 })).rejects.toThrow('textures[0] names images[2], but there are 1');
  });
});
