import { describe, expect, test } from 'vitest';
import { makeMesh, withPositions, type Mesh } from '../geometry/mesh.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { makeBox, makeTube } from '../geometry/solids.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { randomFrom } from '../maths/random.ts';
import { signedPlainly } from '../testing/surface.ts';
import { isClosed, signedDistances } from './signed.ts';

/** Compares at places all round a mesh, half of them near its points and edges. */
function expectSigned(mesh: Mesh, seed = 1): void {
  expect(isClosed(mesh)).toBe(true);
  const random = randomFrom(seed);
  const p = mesh.positions;
  const size = Math.max(...Array.from(p, Math.abs));
  const { points, count } = trianglesOf(mesh.topology);
  for (let i = 0; i < 600; i++) {
    const t = Math.floor(random() * count) * 3;
    const s = random() < 0.3 ? 0 : random();
    const near = [0, 1, 2].map((axis) => p[points[t] * 3 + axis] * (1 - s) + p[points[t + 1] * 3 + axis] * s);
    const away = i % 2 === 0 ? 1.5 : 0.2;
    const place = Float32Array.from(near, (v) => (i % 4 === 1 ? 0 : v) + (random() - 0.5) * away * size);
    const known = signedPlainly(mesh, place[0], place[1], place[2]);
    if (Math.abs(known) < 1e-5 * size) continue;
    expect(signedDistances(mesh, place)[0], `at ${[...place].join(', ')}`).toBeCloseTo(known, 5);
  }
}

/** A mesh with every point moved. */
const moved = (mesh: Mesh, to: (p: number[], i: number) => number[]) =>
  withPositions(
    mesh,
    Float32Array.from(
      Array.from({ length: mesh.topology.pointCount }, (_, i) => to([...mesh.positions.slice(i * 3, i * 3 + 3)], i)).flat(),
    ),
  );

describe('signed distances by places', () => {
  test('a tube whose end is drawn together to a tip', () => {
    const tube = makeTube(0.3, 2, 1, 16, true);
    const cone = moved(tube, ([x, y, z]) => [x * (1 - y / 2), y, z * (1 - y / 2)]);
    expect(signedDistances(cone, Float32Array.of(-0.5, 2.2, 0))[0]).toBeCloseTo(Math.hypot(0.5, 0.2), 5);
    expectSigned(cone);
    expectSigned(moved(makeTube(0.3, 2, 5, 16, true), ([x, y, z]) => [x * Math.sin(y * 1.5), y, z * Math.sin(y * 1.5)]));
  });

  test('boxes and balls with edges and whole sides drawn together', () => {
    const box = makeBox([2, 1, 1], [3, 2, 2]);
    // A wedge, a tent, and one whose top is a line.
    expectSigned(moved(box, ([x, y, z]) => [x, y * (0.5 - x / 2), z]));
    expectSigned(moved(box, ([x, y, z]) => [y > 0 ? 0 : x, y, z]));
    expectSigned(moved(box, ([x, y, z]) => (y > 0 ? [x, y, 0] : [x, y, z])));
    expectSigned(moved(makeSphere(1, 10, 12), ([x, y, z]) => [x, Math.max(y, -0.4), z]));
    expectSigned(moved(makeSphere(1, 10, 12), ([x, y, z]) => (y > 0.5 ? [0, 0.9, 0] : [x, y, z])));
  });

  test('a box whose faces share no points is closed all the same', () => {
    const box = makeBox([2, 1, 1], [2, 2, 2]);
    const { cornerPoints, faceStarts } = box.topology;
    const apart = Float32Array.from(
      { length: cornerPoints.length * 3 },
      (_, i) => box.positions[cornerPoints[Math.floor(i / 3)] * 3 + (i % 3)],
    );
    // Minus nothing is the same place as nothing.
    apart.forEach((v, i) => v === 0 && i % 2 === 0 && (apart[i] = -0));
    const mesh = makeMesh(
      apart,
      Int32Array.from(faceStarts),
      Int32Array.from(cornerPoints, (_, i) => i),
    );
    expectSigned(mesh);
    const torn = moved(mesh, (p, i) => (i === 3 ? [p[0] + 0.1, p[1], p[2]] : p));
    expect(isClosed(torn)).toBe(false);
  });

  test('triangles without area on sharp edges, along the edge and beside it', () => {
    // A blade: two long triangles meet at a sharp edge, whose middle (points 4, 5) only one side knows of; triangles of
    // no area close the gap between.
    const p = [0, 0, -1, 0, 0, 1, 1, 0.15, 0, 1, -0.15, 0, 0, 0, 0, 0, 0, 0.4];
    const faces = [
      [0, 1, 2], // above, with the whole edge
      [0, 3, 4],
      [4, 3, 5],
      [5, 3, 1], // below, with its parts
      [0, 4, 1],
      [4, 5, 1], // no area
      [0, 2, 3],
      [1, 3, 2],
    ];
    let tried = 0;
    for (const flip of [false, true]) {
      const corners = faces.map((f) => (flip ? f : f.toReversed())).flat();
      const blade = makeMesh(
        Float32Array.from(p),
        Int32Array.from({ length: 9 }, (_, i) => i * 3),
        Int32Array.from(corners),
      );
      expect(isClosed(blade)).toBe(true);
      if (signedPlainly(blade, 0.6, 0, 0) > 0) continue;
      expectSigned(blade, 4);
      tried++;
    }
    expect(tried).toBe(1);
  });

  test('two boxes that touch at a corner and along an edge', () => {
    const one = makeBox([1, 1, 1], [1, 1, 1]);
    const n = one.topology.pointCount;
    for (const by of [
      [1, 1, 1],
      [1, 1, 0],
      [1, 1, 0.5],
    ]) {
      const both = Float32Array.from({ length: n * 6 }, (_, i) =>
        i < n * 3 ? one.positions[i] : one.positions[i - n * 3] + by[i % 3],
      );
      const corners = Int32Array.from({ length: 48 }, (_, i) => one.topology.cornerPoints[i % 24] + (i < 24 ? 0 : n));
      expectSigned(
        makeMesh(
          both,
          Int32Array.from({ length: 13 }, (_, i) => i * 4),
          corners,
        ),
        7,
      );
    }
  });
});
