import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { multiply, identity, type Matrix } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { signedDistances } from '../nearest/signed.ts';
import { edgesOf } from './edges.ts';
import { findAttribute, makeMesh, withAttribute, type Mesh } from './mesh.ts';
import { transformMesh } from './transform.ts';
import { elementsId } from './topology.ts';
import { pointNormals } from './normals.ts';
import { makeSphere } from './primitives.ts';
import { makeBox, makeTube } from './solids.ts';
import { trianglesOf } from './triangles.ts';
import { isTurned, turnFaces } from './turn.ts';
import { volumeOf } from '../testing/surface.ts';

const floats = (n: number) => new Float32Array(n);
const through = (mesh: Mesh, m: Matrix) => transformMesh(mesh, m, floats);

const sizes = fc.constantFrom(-2, -1, -0.5, 0.5, 1, 3);
const angle = fc.double({ min: -3, max: 3, noNaN: true });
/** Any matrix with a size: turned, sheared, mirrored or not. */
const matrix = fc
  .tuple(
    fc.tuple(angle, angle, angle),
    fc.tuple(sizes, sizes, sizes),
    fc.tuple(angle, angle, angle),
    fc.tuple(sizes, sizes, sizes),
  )
  .map(([a, s, b, t]) => multiply(identity(), compose([0.3, -1, 2], a, 'xyz', s), compose([0, 0, 0], b, 'zyx', t)));

describe('faces that a mirroring matrix turns round', () => {
  const box = makeBox([2, 1, 3], [2, 2, 3]);
  const cone = makeTube(0.4, 1, 2, 7, true);

  test('what was outside stays outside, whatever the matrix: volume, normals, signed distance', () => {
    fc.assert(
      fc.property(matrix, fc.constantFrom(box, cone, makeSphere(1, 6, 8)), (m, mesh) => {
        const moved = through(mesh, m);
        const det =
          m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5]);
        expect(volumeOf(moved)).toBeCloseTo(volumeOf(mesh) * Math.abs(det), 2);
        // Its middle is inside, and a step along a normal leads out.
        const middle = [0, 1, 2].map((axis) => {
          const own = mesh === cone ? [0, 0.5, 0] : [0, 0, 0];
          return m[axis] * own[0] + m[4 + axis] * own[1] + m[8 + axis] * own[2] + m[12 + axis];
        });
        expect(signedDistances(moved, Float32Array.from(middle))[0]).toBeLessThan(0);
        const n = pointNormals(moved);
        for (let o = 0; o < n.length; o += 3) {
          const out = [0, 1, 2].map((axis) => moved.positions[o + axis] - middle[axis]);
          expect(out[0] * n[o] + out[1] * n[o + 1] + out[2] * n[o + 2]).toBeGreaterThan(0);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('the first corner stays first; values follow their corners and edges; points and faces keep theirs', () => {
    const { cornerCount, faceCount, cornerPoints, faceStarts } = box.topology;
    const edges = edgesOf(box.topology);
    const data = Float32Array.from({ length: cornerCount * 2 }, (_, i) => i);
    let mesh = withAttribute(box, { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data });
    mesh = withAttribute(mesh, {
      name: 'hard',
      on: 'edge',
      type: 'integer',
      role: 'plain',
      data: Int32Array.from({ length: edges.count }, (_, e) => e),
    });
    mesh = withAttribute(mesh, {
      name: 'face',
      on: 'face',
      type: 'integer',
      role: 'plain',
      data: Int32Array.from({ length: faceCount }, (_, f) => f),
    });
    const turned = turnFaces(mesh);
    const t = turned.topology;
    const uv = findAttribute(turned, 'uv', 'corner')?.data as Float32Array;
    const hard = findAttribute(turned, 'hard', 'edge')?.data as Int32Array;
    for (let f = 0; f < faceCount; f++) {
      const now = Array.from(t.cornerPoints.slice(faceStarts[f], faceStarts[f + 1]));
      const before = Array.from(cornerPoints.slice(faceStarts[f], faceStarts[f + 1]));
      expect(now).toEqual([before[0], ...before.slice(1).reverse()]);
      for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
        // The uv tells which corner it was: the one of the same point.
        expect(cornerPoints[uv[c * 2] / 2]).toBe(t.cornerPoints[c]);
        expect(uv[c * 2 + 1]).toBe(uv[c * 2] + 1);
      }
    }
    const now = edgesOf(t);
    for (let e = 0; e < now.count; e++)
      expect(Array.from(now.points.slice(e * 2, e * 2 + 2))).toEqual(
        Array.from(edges.points.slice(hard[e] * 2, hard[e] * 2 + 2)),
      );
    expect(findAttribute(turned, 'face', 'face')?.data).toBe(findAttribute(mesh, 'face', 'face')?.data);
    // Columns of points and faces belong to it as before, those of corners and edges do not.
    for (const on of ['point', 'face']) expect(elementsId(t, on)).toBe(elementsId(mesh.topology, on));
    for (const on of ['corner', 'edge']) expect(elementsId(t, on)).not.toBe(elementsId(mesh.topology, on));
    expect(isTurned(t, mesh.topology) && isTurned(mesh.topology, t)).toBe(true);
    expect(isTurned(t, t) || isTurned(mesh.topology, mesh.topology)).toBe(false);
    const twice = turnFaces(turned);
    expect(twice.topology).toBe(mesh.topology);
    expect(twice.attributes).toEqual(mesh.attributes);
  });

  test('polygons are cut into the same triangles, each turned round', () => {
    // A concave face, a square, a bent quad.
    const p = [0, 0, 0, 4, 0, 0, 4, 4, 0, 2, 1, 0, 0, 4, 0, 4, 0, 4, 4, 4, 3];
    const mesh = makeMesh(Float32Array.from(p), Int32Array.of(0, 5, 9), Int32Array.of(0, 1, 2, 3, 4, 1, 5, 6, 2));
    const before = trianglesOf(mesh.topology);
    const after = trianglesOf(turnFaces(mesh).topology);
    expect(after.faces).toEqual(before.faces);
    for (let t = 0; t < before.count; t++) {
      const [a, b, c] = before.points.slice(t * 3, t * 3 + 3);
      expect(Array.from(after.points.slice(t * 3, t * 3 + 3))).toEqual([a, c, b]);
    }
  });
});
