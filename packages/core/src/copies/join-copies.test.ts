import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Attribute } from '../geometry/attributes.ts';
import { computeNormals } from '../geometry/normals.ts';
import { mergeMeshes } from '../geometry/merge.ts';
import { elementCount, withPositions, type Mesh } from '../geometry/mesh.ts';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { transformMesh } from '../geometry/transform.ts';
import { makeCopies, type Copies } from './copies.ts';
import { copiesToMesh } from './join-copies.ts';

/** A mesh that has something of every sort: on points, corners, faces and edges, things in space and plain ones. */
function rich(mesh: Mesh, material: string): Mesh {
  const { topology } = mesh;
  const numbers = (count: number, by: number) => Float32Array.from({ length: count }, (_, i) => Math.sin(i * by));
  const vector = (name: string, role: Attribute['role'], on: Attribute['on']): Attribute => {
    return { name, on, type: 'vector', role, data: numbers(elementCount(topology, on) * 3, 1.3) };
  };
  const normals = computeNormals(
    new Float32Array(mesh.positions.length),
    mesh.positions,
    topology,
    topology.cornerPoints,
    'area',
  );
  return {
    ...mesh,
    attributes: [
      { name: 'restNormal', on: 'point', type: 'vector', role: 'normal', data: normals },
      vector('flow', 'direction', 'corner'),
      vector('home', 'position', 'point'),
      vector('plain', 'plain', 'point'),
      { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: numbers(topology.cornerCount * 2, 0.7) },
      { name: 'crease', on: 'edge', type: 'number', role: 'plain', data: numbers(elementCount(topology, 'edge'), 0.3) },
      { name: 'material', on: 'face', type: 'integer', role: 'plain', data: new Int32Array(topology.faceCount) },
    ],
    materials: [{ name: material, baseColour: [0.5, 0.5, 0.5] }] as unknown as Mesh['materials'],
  };
}

const SOURCES = [rich(makeBox([1, 2, 1], [1, 1, 1]), 'oak'), rich(makeSphere(0.5, 4, 5), 'tar'), makeGrid([1, 1], [2, 2])];

/** The plain way: every copy a mesh of its own, then all as one. */
const oneByOne = ({ which, sources, matrices }: Copies): Mesh =>
  mergeMeshes(
    Array.from(which, (s, i) => transformMesh(sources[s], matrices.slice(i * 16, i * 16 + 16), (n) => new Float32Array(n))),
  );

const entry = fc.double({ min: -2, max: 2, noNaN: true });
const matrix = fc.oneof(
  { weight: 6, arbitrary: fc.array(entry, { minLength: 12, maxLength: 12 }) },
  // Flat ones, and mirrors.
  { weight: 1, arbitrary: fc.constantFrom([1, 0, 0, 0, 0, 0, 0, 0, 1, 3, 2, 1], [-1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]) },
);
const packed = (all: readonly (readonly number[])[]) =>
  Float64Array.from(all.flatMap((m) => [0, 3, 6, 9].flatMap((c) => [...m.slice(c, c + 3), c === 9 ? 1 : 0])));

const contents = (mesh: Mesh) => ({
  positions: [...mesh.positions],
  starts: [...mesh.topology.faceStarts],
  corners: [...mesh.topology.cornerPoints],
  attributes: mesh.attributes
    .filter((a) => a.name !== 'copy')
    .map((a) => ({ ...a, data: [...a.data] }))
    .sort((a, b) => (a.name < b.name ? -1 : 1)),
  materials: mesh.materials,
});

test('copies as one mesh are what each by itself would be: mirrored, sheared and flat, whatever sits on what', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(2), matrix), { maxLength: 6 }), (all) => {
      const matrices = packed(all.map(([, m]) => m));
      const copies = makeCopies(
        SOURCES,
        Int32Array.from(all, ([which]) => which),
        matrices,
      );
      const mesh = copiesToMesh(copies);
      expect(contents(mesh)).toEqual(contents(oneByOne(copies)));
      expect(Array.from(mesh.attributes.find((a) => a.name === 'copy')?.data ?? [])).toEqual(
        all.flatMap(([which], i) => Array.from({ length: SOURCES[which].topology.pointCount }, () => i)),
      );
    }),
    { numRuns: 150 },
  );
});

test('copies that only moved keep their faces; one that is mirrored now has others, and a source that moved counts', () => {
  const which = Int32Array.of(0, 1, 0);
  const at = (x: number, size = 1) => packed([0, 1, 2].map((i) => [size, 0, 0, 0, 1, 0, 0, 0, 1, x + i, 0, 0]));
  const first = copiesToMesh(makeCopies(SOURCES, which, at(0)));
  const moved = makeCopies(SOURCES, which.slice(), at(5));
  expect(copiesToMesh(moved).topology).toBe(first.topology);
  expect(contents(copiesToMesh(moved))).toEqual(contents(oneByOne(moved)));
  const mirrored = makeCopies(SOURCES, which, at(0, -1));
  expect(copiesToMesh(mirrored).topology.id).not.toBe(first.topology.id);
  expect(contents(copiesToMesh(mirrored))).toEqual(contents(oneByOne(mirrored)));
  const swollen = SOURCES.map((s) =>
    withPositions(
      s,
      s.positions.map((v) => v * 2),
    ),
  );
  const larger = makeCopies(swollen, which, at(0));
  expect(copiesToMesh(larger).topology).toBe(first.topology);
  expect(contents(copiesToMesh(larger))).toEqual(contents(oneByOne(larger)));
  const painted = swollen.map((s) => ({ ...s, attributes: s.attributes.filter((a) => a.name !== 'plain') }));
  expect(copiesToMesh(makeCopies(painted, which, at(0))).attributes.map((a) => a.name)).not.toContain('plain');
});
