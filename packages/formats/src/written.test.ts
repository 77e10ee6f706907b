import { describe, expect, test } from 'vitest';
import validator from 'gltf-validator';
import {
  CATALOGUE,
  edgesOf,
  Evaluator,
  findAttribute,
  makeBox,
  makeGrid,
  makeMesh,
  makeObject,
  makeProject,
  sampleObjects,
  withAttribute,
  withPositions,
  type Mesh,
  type ObjectRecord,
} from '@umberfish/core';
import { writeGlb } from './gltf-write.ts';
import { importMeshes } from './import.ts';
import { FormatError } from './imported.ts';
import { readObj } from './obj-read.ts';
import { writeMtl, writeObj } from './obj-write.ts';
import { writeObjectsGlb } from './objects-glb.ts';

const NOTHING = makeMesh(new Float32Array(0), new Int32Array(1), new Int32Array(0));
const DOTS = makeMesh(Float32Array.of(0, 0, 0, 1, 2, 3), new Int32Array(1), new Int32Array(0));

/** Complaints of the validator that are errors or warnings. */
async function complaints(bytes: Uint8Array): Promise<string[]> {
  const { issues } = await validator.validateBytes(bytes);
  return issues.messages.filter((m: { severity: number }) => m.severity < 2).map((m: { message: string }) => m.message);
}

const written = (objects: ObjectRecord[], frames: number[], meshes: [string, Mesh][] = []) => {
  const project = { ...makeProject('p', 'P'), objects };
  const samples = sampleObjects(
    new Evaluator(CATALOGUE),
    project,
    objects.map((o) => o.id),
    frames,
  );
  return writeObjectsGlb(samples, frames, 24, new Map(meshes));
};

describe('every GLB is valid', () => {
  test('meshes: none, empty, points only, loose points beside faces, a face that is one line', async () => {
    const loose = makeMesh(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5), Int32Array.of(0, 3), Int32Array.of(0, 1, 2));
    const line = makeMesh(Float32Array.of(0, 0, 0, 1, 0, 0, 2, 0, 0), Int32Array.of(0, 3), Int32Array.of(0, 1, 2));
    await expect(writeGlb([])).rejects.toThrow('There is nothing to write.');
    for (const meshes of [[NOTHING], [DOTS], [DOTS, NOTHING, loose], [line], [makeBox([1, 1, 1], [1, 1, 1]), DOTS]]) {
      const bytes = await writeGlb(meshes.map((mesh, i) => ({ name: `m${i}`, mesh })));
      expect(await complaints(bytes)).toEqual([]);
    }
    const { objects, notes } = await importMeshes([{ name: 'a.glb', bytes: await writeGlb([{ name: 'Dots', mesh: DOTS }]) }]);
    expect(objects?.map((o) => [o.name, o.mesh])).toEqual([['Dots', null]]);
    expect(notes.join(' ')).toContain('lines and points were left out');
  });

  test('objects: without mesh or motion, at one frame, flat, with one mesh for several', async () => {
    const box = makeBox([1, 1, 1], [1, 1, 1]);
    const still = makeObject('a', 'A', 'locator');
    const under = makeObject('b', 'B', 'prop', {
      parent: 'a',
      channels: { translate: [1, 2, 3], rotate: [0, 90, 0], order: 'xyz', scale: [0, 1, 0] },
    });
    const mirrored = makeObject('c', 'C', 'mesh', {
      channels: { translate: [0, 0, 0], rotate: [0, 0, 0], order: 'xyz', scale: [-1, 1, 1] },
    });
    for (const frames of [[1], [1, 2, 3]])
      for (const meshes of [
        [],
        [['b', NOTHING]],
        [
          ['b', DOTS],
          ['c', box],
        ],
        [
          ['a', box],
          ['c', box],
        ],
      ] as [string, Mesh][][]) {
        const { bytes } = await written([still, under, mirrored], frames, meshes);
        expect(await complaints(bytes)).toEqual([]);
        const { objects } = await importMeshes([{ name: 'a.glb', bytes }]);
        expect(objects?.map((o) => o.name)).toEqual(['A', 'B', 'C']);
      }
    const once = await written(
      [still, mirrored],
      [1],
      [
        ['a', box],
        ['c', box],
      ],
    );
    const twice = await written(
      [still, mirrored],
      [1],
      [
        ['a', box],
        ['c', makeBox([1, 1, 1], [1, 1, 1])],
      ],
    );
    expect(once.bytes.length).toBeLessThan(twice.bytes.length * 0.7);
  });

  test('what is not finite is never written: the element and the frame are named', async () => {
    const box = makeBox([1, 1, 1], [1, 1, 1]);
    const positions = Float32Array.from(box.positions);
    positions[3 * 5 + 1] = NaN;
    const bad = withPositions(box, positions);
    const sentence = '"Crate": the position of point 5 is not a finite number';
    await expect(writeGlb([{ name: 'Crate', mesh: bad }])).rejects.toThrow(sentence);
    expect(() => writeObj([{ name: 'Crate', mesh: bad }])).toThrow(sentence);
    const uv = new Float32Array(box.topology.cornerCount * 2);
    uv[7] = Infinity;
    const badUv = withAttribute(box, { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: uv });
    expect(() => writeObj([{ name: 'Crate', mesh: badUv }])).toThrow(FormatError);
    const gone = makeObject('a', 'Lost', 'locator', {
      channels: { translate: [1e308, 0, 0], rotate: [0, 0, 0], order: 'xyz', scale: [1, 1, 1] },
      pivot: [-1e308, 0, 0],
    });
    const child = makeObject('b', 'Child', 'locator', { parent: 'a' });
    const result = written([{ ...gone, channels: { ...gone.channels, scale: [1e300, 1, 1] } }, child], [7, 8]);
    await expect(result).rejects.toThrow('"Lost" at frame 7: its matrix is not finite');
  });

  test('a still object costs two samples and a turning one few, however many frames', async () => {
    const frames = Array.from({ length: 4000 }, (_, i) => i + 1);
    const still = await written([makeObject('a', 'A', 'locator')], frames);
    const short = await written([makeObject('a', 'A', 'locator')], frames.slice(0, 2));
    expect(still.bytes.length).toBe(short.bytes.length);
    const turning = makeObject('a', 'A', 'locator', {
      animated: { 'rotate.y': { expression: 'frame * 0.9' } },
    });
    const { bytes } = await written([turning], frames);
    const { objects } = await importMeshes([{ name: 'a.glb', bytes }]);
    const motion = objects?.[0].motion;
    // Ten turns are not told in fewer than three samples each; the reader puts more between them.
    expect(motion?.seconds.length).toBeLessThan(400);
    motion?.seconds.forEach((s, i) => {
      const angle = ((s * 24 + 1) * 0.9 * Math.PI) / 180;
      expect(motion.matrices[i][0]).toBeCloseTo(Math.cos(angle), 4);
      expect(motion.matrices[i][8]).toBeCloseTo(Math.sin(angle), 4);
    });
  });
});

describe('hard edges inside soft areas', () => {
  const grid = makeGrid([1, 1], [4, 4]);
  const { count } = edgesOf(grid.topology);
  const hardened = (edges: readonly number[]) =>
    withAttribute(grid, {
      name: 'hard',
      on: 'edge',
      type: 'toggle',
      role: 'plain',
      data: Int32Array.from({ length: count }, (_, e) => (edges.includes(e) ? 1 : 0)),
    });
  const pairsOf = (mesh: Mesh) => {
    const hard = findAttribute(mesh, 'hard', 'edge')?.data;
    const { points } = edgesOf(mesh.topology);
    return Array.from(hard ?? [])
      .flatMap((h, e) => (h ? `${points[e * 2]}-${points[e * 2 + 1]}` : []))
      .sort();
  };

  test.each([[[11]], [[11, 12]], [[0]], [[5, 20, 31]], [Array.from({ length: count }, (_, e) => e)], [[]]])(
    'edges %j survive OBJ and GLB',
    async (edges) => {
      const mesh = hardened(edges);
      const named = [
        { name: 'a', mesh: makeBox([1, 1, 1], [1, 1, 1]) },
        { name: 'b', mesh },
      ];
      expect(pairsOf(readObj(writeObj([{ name: 'a', mesh }])).meshes[0].mesh)).toEqual(pairsOf(mesh));
      // After other meshes in the file the points count on.
      expect(pairsOf(readObj(writeObj(named)).meshes[0].mesh).length).toBe(edges.length);
      const { meshes } = await importMeshes([{ name: 'a.glb', bytes: await writeGlb([{ name: 'a', mesh }]) }]);
      expect(pairsOf(meshes[0].mesh)).toEqual(pairsOf(mesh));
    },
  );

  test('pairs that are no edges, and extras of other programs, change nothing', () => {
    const text = `${writeObj([{ name: 'a', mesh: grid }])}\n# hard 1 25\n# hard 1\n# hard x y\n# hard 1 2 3\n# hard 900 901\n`;
    expect(pairsOf(readObj(text).meshes[0].mesh)).toEqual([]);
  });
});

describe('OBJ as others write it', () => {
  const square = [
    '# a square',
    'v 0 0 0 # first',
    'v 1 0 0',
    'v 1 1 0 #third',
    'v 0 1 0',
    'vt 0 0 # uv',
    'usemtl Oak #2',
    'g Side # 1',
    's 1 # smooth',
    'f 1 2 3 4 # quad',
    '#f 1 2 3',
  ];
  test.each(['\n', '\r\n', '\r'])('lines that end with %j, remarks after numbers', (end) => {
    const { meshes, notes } = readObj(square.join(end));
    expect(Array.from(meshes[0].mesh.topology.cornerPoints)).toEqual([0, 1, 2, 3]);
    expect(Array.from(meshes[0].mesh.positions.slice(6))).toEqual([1, 1, 0, 0, 1, 0]);
    expect(meshes[0].mesh.materials.map((m) => m.name)).toEqual(['Oak #2']);
    expect(meshes[0].mesh.groups).toEqual(['Side # 1']);
    expect(notes).toEqual([]);
    expect(() => readObj([...square, 'f 1 2 9'].join(end))).toThrow('Line 12: the face names point "9"');
    expect(
      readObj(['v 0 0 0', 'v 1 0 0', 'v 1 1 0', 'f 1 \\', '2 \\', '3', 'f 1 2 9'].slice(0, 6).join(end)).meshes[0].mesh.topology
        .faceCount,
    ).toBe(1);
  });

  test('names with line breaks stay names', () => {
    const evil = 'Crate\nv 9 9 9\nf 1 2 3';
    const box = {
      ...makeBox([1, 1, 1], [1, 1, 1]),
      materials: [{ name: evil, baseColour: [1, 0, 0] as const }],
    };
    const mesh = withAttribute(box, { name: 'material', on: 'face', type: 'integer', role: 'plain', data: new Int32Array(6) });
    const named = [{ name: evil, mesh }];
    const back = readObj(writeObj(named), { materialText: writeMtl(named) }).meshes[0].mesh;
    expect(back.topology.pointCount).toBe(8);
    expect(back.topology.faceCount).toBe(6);
    expect(back.materials).toEqual([{ name: 'Crate v 9 9 9 f 1 2 3', baseColour: [1, 0, 0] }]);
  });
});
