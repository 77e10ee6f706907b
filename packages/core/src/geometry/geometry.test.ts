import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { averageOf, boundsCentre, boundsOf, boundsSize } from './bounds.ts';
import { edgesOf } from './edges.ts';
import { elementCount, emptyMesh, makeMesh, withAttribute, type Mesh } from './mesh.ts';
import { transformMesh } from './transform.ts';
import { MeshError } from './topology.ts';
import { computeNormals, pointNormals } from './normals.ts';
import { makeDisc, makeGrid, makeSphere } from './primitives.ts';
import { shadingVertices } from './shading.ts';
import { trianglesOf } from './triangles.ts';
import { compose } from '../maths/factors.ts';

const CUBE_POINTS = Float32Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1]);
const CUBE_QUADS = [
  [0, 3, 2, 1],
  [4, 5, 6, 7],
  [0, 1, 5, 4],
  [2, 3, 7, 6],
  [1, 2, 6, 5],
  [0, 4, 7, 3],
];

function meshOf(points: Float32Array, faces: readonly (readonly number[])[]): Mesh {
  const starts = [0];
  for (const f of faces) starts.push(starts[starts.length - 1] + f.length);
  return makeMesh(points, Int32Array.from(starts), Int32Array.from(faces.flat()));
}
const cube = () => meshOf(CUBE_POINTS, CUBE_QUADS);

function area(mesh: Mesh): number {
  const { points, count } = trianglesOf(mesh.topology);
  let sum = 0;
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => Array.from(mesh.positions.subarray(points[t * 3 + k] * 3, points[t * 3 + k] * 3 + 3)));
    const u = b.map((v, i) => v - a[i]);
    const w = c.map((v, i) => v - a[i]);
    sum += Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]) / 2;
  }
  return sum;
}

describe('meshes', () => {
  test('are refused with the place when they are not whole', () => {
    const bad = (positions: number[], starts: number[], corners: number[]) => () =>
      makeMesh(Float32Array.from(positions), Int32Array.from(starts), Int32Array.from(corners));
    expect(bad([0, 0], [0], [])).toThrow(MeshError);
    expect(bad([0, 0, 0], [0, 3], [0, 0, 1])).toThrow('Corner 2 names point 1, but there are 1 points.');
    expect(bad([0, 0, 0], [0, 2], [0, 0])).toThrow('Face 0 has fewer than 3 corners.');
    expect(bad([0, 0, 0], [1, 3], [0, 0, 0])).toThrow('Face starts');
    const attribute = {
      name: 'w',
      on: 'point' as const,
      type: 'number' as const,
      role: 'plain' as const,
      data: new Float32Array(3),
    };
    expect(() => makeMesh(new Float32Array(3), Int32Array.of(0), new Int32Array(0), { attributes: [attribute] })).toThrow(
      '"w" has 3 numbers',
    );
  });

  test('primitives have the points, faces and Euler characteristic they promise', () => {
    const counts = (m: Mesh) => [m.topology.pointCount, edgesOf(m.topology).count, m.topology.faceCount];
    const euler = (m: Mesh) => counts(m)[0] - counts(m)[1] + counts(m)[2];
    expect(counts(makeGrid([2, 3], [4, 5]))).toEqual([30, 49, 20]);
    expect(euler(makeGrid([2, 3], [4, 5]))).toBe(1);
    expect(euler(makeDisc(1, 3, 7))).toBe(1);
    expect(euler(makeSphere(1, 6, 9))).toBe(2);
    expect(euler(cube())).toBe(2);
    expect(elementCount(emptyMesh().topology, 'edge')).toBe(0);
    // Everything faces outwards or up.
    const sphere = makeSphere(2, 12, 24);
    const n = pointNormals(sphere);
    for (let i = 0; i < n.length; i += 3) {
      const dot = (n[i] * sphere.positions[i] + n[i + 1] * sphere.positions[i + 1] + n[i + 2] * sphere.positions[i + 2]) / 2;
      expect(dot).toBeGreaterThan(0.995);
    }
    for (const flat of [makeGrid([1, 1], [3, 3]), makeDisc(1, 3, 9)]) {
      const up = pointNormals(flat);
      for (let i = 1; i < up.length; i += 3) expect(up[i]).toBeCloseTo(1, 6);
    }
  });

  test('edges are those brute force finds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.uniqueArray(fc.integer({ min: 0, max: 9 }), { minLength: 3, maxLength: 5 }), {
          maxLength: 12,
        }),
        (faces) => {
          const mesh = meshOf(new Float32Array(30), faces);
          const expected: string[] = [];
          for (const f of faces) {
            f.forEach((p, i) => {
              const q = f[(i + 1) % f.length];
              const key = `${Math.min(p, q)}-${Math.max(p, q)}`;
              if (!expected.includes(key)) expected.push(key);
            });
          }
          const { points, count } = edgesOf(mesh.topology);
          expect(Array.from({ length: count }, (_, e) => `${points[e * 2]}-${points[e * 2 + 1]}`)).toEqual(expected);
        },
      ),
    );
  });

  test('polygons are cut into triangles that cover them, concave ones too', () => {
    // A star and an arrow head, both concave, turned out of the axis planes.
    const star = Array.from({ length: 10 }, (_, i) => {
      const r = i % 2 ? 0.4 : 1;
      const a = (i / 10) * 2 * Math.PI;
      return [Math.cos(a) * r, Math.sin(a) * r, 0];
    });
    const turn = compose([1, 2, 3], [0.7, 0.4, 0.2], 'xyz', [1, 1, 1]);
    const flat = meshOf(Float32Array.from(star.flat()), [star.map((_, i) => i)]);
    const mesh = transformMesh(flat, turn, (n) => new Float32Array(n));
    const made = makeMesh(
      Float32Array.from(mesh.positions),
      Int32Array.from(mesh.topology.faceStarts),
      Int32Array.from(mesh.topology.cornerPoints),
    );
    expect(trianglesOf(made.topology).count).toBe(8);
    expect(area(made)).toBeCloseTo(10 * 0.5 * 0.4 * Math.sin(Math.PI / 5), 5);
    const dart = meshOf(Float32Array.from([0, 0, 0, 1, 2, 0, 0, 0.5, 0, -1, 2, 0]), [[0, 1, 2, 3]]);
    expect(area(dart)).toBeCloseTo(0.5, 6);
  });

  test('angle-weighted normals do not depend on how faces are cut, area-weighted ones do', () => {
    const cut = meshOf(
      CUBE_POINTS,
      CUBE_QUADS.flatMap(([a, b, c, d]) => [
        [a, b, c],
        [a, c, d],
      ]),
    );
    for (const mesh of [cube(), cut]) {
      const n = pointNormals(mesh, 'angle');
      for (let i = 0; i < 8; i++)
        for (let axis = 0; axis < 3; axis++)
          expect(n[i * 3 + axis]).toBeCloseTo((CUBE_POINTS[i * 3 + axis] * 2 - 1) / Math.sqrt(3), 6);
    }
    // Some corner of the cut cube sees one side twice: by area its normal leans that way.
    const byArea = pointNormals(cut, 'area');
    expect(byArea.some((v) => Math.abs(Math.abs(v) - 1 / Math.sqrt(3)) > 0.05)).toBe(true);
  });

  test('degenerate and lonely points get a normal of 0, never NaN', () => {
    const mesh = meshOf(Float32Array.from([0, 0, 0, 1, 0, 0, 2, 0, 0, 5, 5, 5, NaN, 0, 0]), [
      [0, 1, 2],
      [0, 0, 1],
    ]);
    for (const weighting of ['angle', 'area'] as const)
      expect(Array.from(pointNormals(mesh, weighting))).toEqual(new Array(15).fill(0));
  });

  test('long kernels can be stopped', () => {
    const grid = makeGrid([1, 1], [100, 100]);
    const stop = () => {
      throw new Error('stop');
    };
    expect(() =>
      computeNormals(
        new Float32Array(grid.positions.length),
        grid.positions,
        grid.topology,
        grid.topology.cornerPoints,
        'area',
        stop,
      ),
    ).toThrow('stop');
  });

  test('hard edges split points for shading; the first vertex of a point keeps its index', () => {
    const hard = (edges: number[]) => {
      const data = new Int32Array(edgesOf(cube().topology).count);
      for (const e of edges) data[e] = 1;
      return withAttribute(cube(), { name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data });
    };
    expect(shadingVertices(cube()).count).toBe(8);
    const all = shadingVertices(hard(Array.from({ length: 12 }, (_, i) => i)));
    expect(all.count).toBe(24);
    expect(Array.from(all.vertexPoints.slice(0, 8))).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    all.cornerVertices.forEach((v, c) => expect(all.vertexPoints[v]).toBe(cube().topology.cornerPoints[c]));
    // One hard edge among soft ones splits nothing: the faces are still joined round the other way.
    expect(shadingVertices(hard([0])).count).toBe(8);
  });

  test('bounds leave out places that are not finite, and an empty mesh has size 0', () => {
    const b = boundsOf(Float32Array.of(1, 2, 3, NaN, Infinity, -1, -1, 0, 5));
    expect(b).toEqual({ low: [-1, 0, 3], high: [1, 2, 5] });
    expect(boundsCentre(b)).toEqual([0, 1, 4]);
    expect(averageOf(Float32Array.of(1, 2, 3, NaN, Infinity, -1, -1, 0, 5))).toEqual([0, 1, 4]);
    expect(boundsSize(boundsOf(new Float32Array(0)))).toEqual([0, 0, 0]);
  });

  test('a change of space takes attributes along by their role and shares the rest', () => {
    const base = cube();
    const vector = (name: string, role: 'plain' | 'position' | 'direction') => ({
      name,
      on: 'point' as const,
      type: 'vector' as const,
      role,
      data: Float32Array.from({ length: 24 }, () => 1),
    });
    let mesh = base;
    for (const role of ['plain', 'position', 'direction'] as const) mesh = withAttribute(mesh, vector(role, role));
    const moved = transformMesh(mesh, compose([10, 0, 0], [0, 0, 0], 'xyz', [2, 2, 2]), (n) => new Float32Array(n));
    const first = (name: string) => moved.attributes.find((a) => a.name === name)?.data[0];
    expect([first('plain'), first('position'), first('direction')]).toEqual([1, 12, 2]);
    expect(moved.topology).toBe(base.topology);
  });
});
