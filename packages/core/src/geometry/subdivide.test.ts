import { describe, expect, test } from 'vitest';
import { randomFrom } from '../maths/random.ts';
import { boundsOf } from './bounds.ts';
import { edgesOf } from './edges.ts';
import { findAttribute, makeMesh, withAttribute, withPositions } from './mesh.ts';
import { makeGrid, makeSphere } from './primitives.ts';
import { makeBox } from './solids.ts';
import { subdivide } from './subdivide.ts';

const cube = makeBox([2, 2, 2], [1, 1, 1]);
const at = (p: ArrayLike<number>, i: number) => [p[i * 3], p[i * 3 + 1], p[i * 3 + 2]];

describe('Catmull–Clark', () => {
  test('a cube after one level: corners at 5/9, edges at 3/4, faces at their middle', () => {
    const once = subdivide(cube, 1);
    expect([once.topology.pointCount, once.topology.faceCount]).toEqual([26, 24]);
    for (let i = 0; i < 8; i++) at(once.positions, i).forEach((v) => expect(Math.abs(v)).toBeCloseTo(5 / 9, 6));
    for (let i = 8; i < 14; i++) expect(at(once.positions, i).map(Math.abs).sort()).toEqual([0, 0, 1]);
    for (let i = 14; i < 26; i++) {
      const [a, b, c] = at(once.positions, i).map(Math.abs).sort();
      expect([a, b, c]).toEqual([0, 0.75, 0.75]);
    }
  });

  test('turns with what it is given: any affine change before is the same after', () => {
    const mesh = makeSphere(1, 6, 9);
    const skew = (p: ArrayLike<number>) =>
      Float32Array.from({ length: p.length }, (_, i) => {
        const [x, y, z] = at(p, Math.floor(i / 3));
        return [2 * x - y + 3, 0.5 * y + z, z - x][i % 3];
      });
    const before = subdivide(withPositions(mesh, skew(mesh.positions)), 2).positions;
    const after = skew(subdivide(mesh, 2).positions);
    before.forEach((v, i) => expect(v).toBeCloseTo(after[i], 4));
  });

  test('fully creased, a cube stays a cube; half way it lies between', () => {
    const all = (w: number) => new Float32Array(edgesOf(cube.topology).count).fill(w);
    const sharp = subdivide(cube, 3, all(1));
    for (let i = 0; i < sharp.topology.pointCount; i++)
      expect(Math.max(...at(sharp.positions, i).map(Math.abs))).toBeCloseTo(1, 6);
    const [soft, half] = [subdivide(cube, 1), subdivide(cube, 1, all(0.5))];
    expect(half.positions[0]).toBeCloseTo((soft.positions[0] + cube.positions[0]) / 2, 6);
  });

  test('whatever an edge meets, a crease of almost nothing is almost the smooth rule', () => {
    // A grid that is no plane, with borders, and inner points of which any number of edges are sharp.
    const grid = makeGrid([4, 4], [4, 4]);
    const bent = withPositions(
      grid,
      grid.positions.map((v, i) => v + 0.4 * Math.sin(i * 1.7)),
    );
    const { count } = edgesOf(grid.topology);
    const random = randomFrom(6);
    for (let round = 0; round < 60; round++) {
      const creases = Float32Array.from({ length: count }, () => [0, 0, 0.3, 1][Math.floor(random() * 4)]);
      const edge = Math.floor(random() * count);
      for (const from of [0, 0.3, creases[(edge + 5) % count], 1 - 1e-4]) {
        const [a, b] = [from, from + 1e-4].map((s) => {
          const mine = creases.slice();
          mine[edge] = s;
          return subdivide(bent, 2, mine).positions;
        });
        expect(Math.max(...a.map((v, i) => Math.abs(v - b[i])))).toBeLessThan(2e-4);
      }
    }
    // All a little sharp: almost smooth.
    const [none, little] = [subdivide(bent, 3).positions, subdivide(bent, 3, new Float32Array(count).fill(1e-4)).positions];
    expect(Math.max(...none.map((v, i) => Math.abs(v - little[i])))).toBeLessThan(3e-4);
  });

  test('points on one sharp line follow it by 6 : 1 : 1, at its ends they are smooth, where three meet they stay', () => {
    const grid = makeGrid([4, 4], [4, 4]);
    const mesh = withPositions(
      grid,
      grid.positions.map((v, i) => v + 0.3 * Math.sin(i * 2.3)),
    );
    const { points, count } = edgesOf(grid.topology);
    const edge = (a: number, b: number) =>
      Array.from({ length: count }, (_, e) => e).find((e) => points[e * 2] === a && points[e * 2 + 1] === b) as number;
    const sharp = (s: number, ...pairs: [number, number][]) => {
      const creases = new Float32Array(count);
      for (const [a, b] of pairs) creases[edge(a, b)] = s;
      return subdivide(mesh, 1, creases).positions;
    };
    const p = mesh.positions;
    const smooth = subdivide(mesh, 1).positions;
    const line: [number, number][] = [
      [6, 7],
      [7, 8],
      [8, 13],
    ];
    for (const s of [0.25, 1]) {
      const lined = sharp(s, ...line);
      at(lined, 7).forEach((v, k) =>
        expect(v).toBeCloseTo(((6 * p[21 + k] + p[18 + k] + p[24 + k]) / 8) * s + smooth[21 + k] * (1 - s), 5),
      );
      for (const end of [6, 13]) at(lined, end).forEach((v, k) => expect(v).toBeCloseTo(smooth[end * 3 + k], 5));
      const star = sharp(s, ...line, [7, 12]);
      at(star, 7).forEach((v, k) => expect(v).toBeCloseTo(p[21 + k] * s + smooth[21 + k] * (1 - s), 5));
    }
  });

  test('the rim of an open mesh becomes the same curve as without its inside; flat stays flat', () => {
    const grid = makeGrid([4, 4], [4, 4]);
    const twice = subdivide(grid, 2);
    const { low, high } = boundsOf(twice.positions);
    expect([low[1], high[1]]).toEqual([0, 0]);
    expect(high[0]).toBeCloseTo(2, 6);
    expect(twice.topology.faceCount).toBe(16 * 16);
  });

  test('an edge of three faces stays sharp', () => {
    const fan = makeMesh(
      Float32Array.of(0, 0, 0, 0, 2, 0, 1, 0, 0, 1, 2, 0, -1, 0, 0, -1, 2, 0, 0, 0, 1, 0, 2, 1),
      Int32Array.of(0, 4, 8, 12),
      Int32Array.of(0, 1, 3, 2, 0, 1, 5, 4, 0, 1, 7, 6),
    );
    const once = subdivide(fan, 1);
    expect(at(once.positions, 8 + 3)).toEqual([0, 1, 0]);
    expect(once.positions.every(Number.isFinite)).toBe(true);
  });

  test('attributes go along: uv by corners, whole numbers by faces, creases by both halves of an edge', () => {
    const count = edgesOf(cube.topology).count;
    const crease = {
      name: 'crease',
      on: 'edge',
      type: 'number',
      role: 'plain',
      data: new Float32Array(count).fill(0.7),
    } as const;
    const uv = {
      name: 'uv',
      on: 'corner',
      type: 'pair',
      role: 'plain',
      data: Float32Array.from({ length: 48 }, (_, i) => [0, 0, 1, 0, 1, 1, 0, 1][i % 8]),
    } as const;
    const group = { name: 'group', on: 'face', type: 'integer', role: 'plain', data: Int32Array.of(0, 1, 2, 3, 4, 5) } as const;
    const once = subdivide([crease, uv, group].reduce(withAttribute, cube), 1);
    const creases = findAttribute(once, 'crease', 'edge')!.data;
    expect(Array.from(creases).filter((v) => v > 0)).toHaveLength(24);
    expect(Array.from(findAttribute(once, 'uv', 'corner')!.data.slice(0, 8))).toEqual([0, 0, 0.5, 0, 0.5, 0.5, 0, 0.5]);
    expect(Array.from(findAttribute(once, 'group', 'face')!.data.slice(0, 5))).toEqual([0, 0, 0, 0, 1]);
  });

  test('the topology is made once, whatever becomes of the points', () => {
    const moved = withPositions(
      cube,
      cube.positions.map((v) => v * 2),
    );
    expect(subdivide(moved, 2).topology).toBe(subdivide(cube, 2).topology);
  });
});
