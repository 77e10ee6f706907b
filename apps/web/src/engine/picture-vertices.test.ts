import fc from 'fast-check';
import { expect, test } from 'vitest';
import { computeNormals, makeBox, makeMesh, makeSphere, shadingVertices, withAttribute, type Mesh } from '@umberfish/core';
import { makePictureTopology } from './picture.ts';
import { liesByUv, pictureVertices, vertexNormals, vertexPositions } from './picture-vertices.ts';

const floats = (n: number) => new Float32Array(n);
const withUv = (mesh: Mesh, at: (corner: number) => readonly [number, number]): Mesh => {
  const { cornerCount } = mesh.topology;
  const data = Float32Array.from({ length: cornerCount * 2 }, (_, i) => at(Math.floor(i / 2))[i % 2]);
  return withAttribute(mesh, { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data });
};
const uvOf = (mesh: Mesh) => mesh.attributes.find((a) => a.name === 'uv')!.data;

/** Every corner is drawn at its point, with its own uv and the normal of its shading; each point keeps its number. */
function check(mesh: Mesh): void {
  const vertices = pictureVertices(mesh, true);
  const { topology } = mesh;
  const { byUv, cornerVertices, vertexPoints, count } = vertices;
  const shading = shadingVertices(mesh);
  const smooth = computeNormals(floats(shading.count * 3), mesh.positions, topology, shading.cornerVertices, 'area');
  const [positions, normals] = [vertexPositions(mesh, vertices, floats), vertexNormals(mesh, vertices, floats, () => {})];
  expect([positions.length, normals.length, byUv!.uvs.length]).toEqual([count * 3, count * 3, count * 2]);
  for (let p = 0; p < topology.pointCount; p++) expect(vertexPoints[p]).toBe(p);
  for (let c = 0; c < topology.cornerCount; c++) {
    const v = cornerVertices[c];
    expect(vertexPoints[v]).toBe(topology.cornerPoints[c]);
    expect([byUv!.uvs[v * 2], byUv!.uvs[v * 2 + 1]]).toEqual([uvOf(mesh)[c * 2], uvOf(mesh)[c * 2 + 1]]);
    for (let k = 0; k < 3; k++) {
      expect(positions[v * 3 + k]).toBe(mesh.positions[topology.cornerPoints[c] * 3 + k]);
      expect(normals[v * 3 + k]).toBe(smooth[shading.cornerVertices[c] * 3 + k]);
    }
  }
}

test('where something lies by uv, vertices are split where uvs are, and nowhere else; shading stays as it is', () => {
  const ball = makeSphere(1, 6, 8);
  // One uv for each point: nothing is split.
  const even = withUv(ball, (c) => [ball.topology.cornerPoints[c], 1]);
  expect(pictureVertices(even, true).count).toBe(ball.topology.pointCount);
  check(even);
  // One for each corner: every corner is a vertex.
  const torn = withUv(ball, (c) => [c, -c]);
  expect(pictureVertices(torn, true).count).toBe(ball.topology.cornerCount);
  check(torn);
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 1, maxLength: 40 }), fc.boolean(), (some, hard) => {
      const box = makeBox([1, 1, 1], [2, 2, 2]);
      const plain = hard ? box : { ...box, attributes: [] };
      check(withUv(plain, (c) => [some[c % some.length], some[(c * 7) % some.length]]));
    }),
    { numRuns: 40 },
  );
  // Not finite ones are what they are; −0 and 0 too.
  check(withUv(ball, (c) => [c % 3 === 0 ? NaN : 0, c % 2 === 0 ? -0 : Infinity]));
});

test('a fan of thousands of uvs about one point is split at once', () => {
  const n = 20_000;
  const positions = new Float32Array((n + 2) * 3).map((_, i) => Math.sin(i));
  const corners = new Int32Array(n * 3);
  for (let f = 0; f < n; f++) corners.set([0, f + 1, f + 2], f * 3);
  const fan = makeMesh(
    positions,
    new Int32Array(n + 1).map((_, i) => i * 3),
    corners,
  );
  const vertices = pictureVertices(
    withUv(fan, (c) => [c, 0]),
    true,
  );
  expect(vertices.count).toBe(n * 3);
  // Few uvs, walked past the end of long chains: some stand twice, which shows nowhere.
  check(withUv(makeSphere(1, 4, 90), (c) => [c % 60, 0]));
});

test('uvs and pictures are sent where something lies by them, and only there', () => {
  const bytes = Uint8Array.of(1, 2, 3);
  const ball = withUv(makeSphere(1, 4, 6), (c) => [c, 0]);
  const worn: Mesh = { ...ball, materials: [{ name: 'Net', baseColour: [1, 1, 1], picture: { type: 'image/png', bytes } }] };
  const none = { paint: null };
  const uvs = { paint: { name: 'uv', as: 'checker' as const } };
  expect([liesByUv(none, ball), liesByUv(none, worn), liesByUv(uvs, ball)]).toEqual([false, true, true]);
  const topology = (m: Mesh, byUv: boolean) => makePictureTopology(m, 'id', pictureVertices(m, byUv));
  expect(topology(ball, false).uvs).toBeUndefined();
  expect(topology(worn, true).materials[0].picture?.bytes).toBe(bytes);
  // Without uvs there is no place for it.
  expect(topology({ ...worn, attributes: [] }, true).materials[0].picture).toBeUndefined();
});
