import { makeGrid } from '@umberfish/core';
import { describe, expect, test } from 'vitest';
import { writeGlb } from './gltf-write.ts';
import { importMeshes } from './import.ts';
import { writeObj } from './obj-write.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const obj = (name: string, library = '') => bytes(`${library}o ${name}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl paint\nf 1 2 3\n`);
const paint = (red: number) => bytes(`newmtl paint\nKd ${red} 0 0\n`);

describe('several files at once', () => {
  test('all are read; objects keep their own meshes and what they hang under', async () => {
    const glb = await writeGlb([
      { name: 'Left', mesh: makeGrid([1, 1], [1, 1]) },
      { name: 'Right', mesh: makeGrid([1, 1], [2, 1]) },
    ]);
    const read = await importMeshes([
      { name: 'crate.obj', bytes: obj('crate') },
      { name: 'pair.glb', bytes: glb },
      { name: 'lid.obj', bytes: obj('lid') },
    ]);
    expect(read.origins).toEqual(['crate.obj', 'pair.glb', 'lid.obj']);
    expect(read.refused).toEqual([]);
    expect(read.objects.map((o) => (o.mesh === null ? null : read.meshes[o.mesh].origin))).toEqual([
      'crate.obj',
      'pair.glb',
      'pair.glb',
      'lid.obj',
    ]);
    expect(read.objects.map((o) => (o.mesh === null ? 0 : read.meshes[o.mesh].mesh.topology.pointCount))).toEqual([3, 4, 6, 3]);
  });

  test('long lines of blanks and many lines that go on hold nothing up', async () => {
    const blanks = ' '.repeat(64_000);
    for (const more of [
      blanks,
      `mtllib${blanks}x${blanks}y`,
      `mtllib ${blanks}`,
      `v${blanks}`,
      'mtllib a\n'.repeat(20_000),
      '\\\n'.repeat(64_000),
    ]) {
      const read = await importMeshes([
        { name: 'crate.obj', bytes: bytes(`${more}\n${'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'}`) },
      ]);
      expect(read.refused).toEqual([]);
      expect(read.meshes[0].mesh.topology.faceCount).toBe(1);
    }
  });

  test('a file that cannot be read is named and keeps none of the others back', async () => {
    const read = await importMeshes([
      { name: 'bad.obj', bytes: bytes('v 0 0 0\nf 1 2 3\n') },
      { name: 'crate.obj', bytes: obj('crate') },
      { name: 'notes.txt', bytes: bytes('buy rope') },
    ]);
    expect(read.origins).toEqual(['crate.obj']);
    expect(read.refused).toEqual([expect.stringMatching(/^bad\.obj: Line 2: the face names point/)]);
    expect(read.notes.join(' ')).toMatch(/bad\.obj: Line 2.*notes\.txt: not a mesh, and left out/);
    await expect(
      importMeshes([
        { name: 'a.obj', bytes: bytes('f 1 2 3') },
        { name: 'b.glb', bytes: bytes('no') },
      ]),
    ).rejects.toThrow(/a\.obj: .*b\.glb: /);
  });

  test('each OBJ takes the material library it names, or the one of its own name', async () => {
    const read = await importMeshes([
      { name: 'a.obj', bytes: obj('a', 'mtllib ./red.mtl\r\n') },
      { name: 'b.obj', bytes: obj('b') },
      { name: 'c.obj', bytes: obj('c') },
      { name: 'b.mtl', bytes: paint(0.25) },
      { name: 'Red.mtl', bytes: paint(1) },
    ]);
    const reds = read.meshes.map((m) => m.mesh.materials[0].baseColour[0]);
    expect(reds.slice(0, 2)).toEqual([1, 0.25]);
    expect(reds[2]).not.toBe(1);
    const alone = await importMeshes([
      { name: 'x.obj', bytes: obj('x') },
      { name: 'other.mtl', bytes: paint(0.5) },
    ]);
    expect(alone.meshes[0].mesh.materials[0].baseColour[0]).toBe(0.5);
    expect(writeObj([{ name: 'x', mesh: alone.meshes[0].mesh }], 'x.mtl')).toContain('mtllib x.mtl');
  });
});
