import { expect, test } from 'vitest';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { withPositions, type Mesh } from '../geometry/mesh.ts';
import { areaOf, farthest, stretchOf, volumeOf } from './measures.ts';

const scaled = (mesh: Mesh, by: readonly number[]): Mesh =>
  withPositions(
    mesh,
    mesh.positions.map((v, i) => v * by[i % 3]),
  );

test('areas and volumes have the closed forms of boxes, sheets and balls', () => {
  const box = makeBox([1, 2, 3], [2, 3, 4]);
  expect(areaOf(box)).toBeCloseTo(2 * (2 + 3 + 6), 5);
  expect(volumeOf(box)).toBeCloseTo(6, 5);
  const [x, y, z] = [2, 0.5, 3];
  expect(areaOf(scaled(box, [x, y, z]))).toBeCloseTo(2 * (2 * x * y + 3 * x * z + 6 * y * z), 4);
  expect(areaOf(makeGrid([4, 3], [7, 5]))).toBeCloseTo(12, 5);
  const ball = makeSphere(2, 200, 300);
  expect(areaOf(ball) / (16 * Math.PI)).toBeCloseTo(1, 3);
  expect(volumeOf(ball) / ((32 / 3) * Math.PI)).toBeCloseTo(1, 3);
  // Turned inside out, it holds less than nothing, and is as large.
  expect(volumeOf(scaled(box, [-1, 1, 1]))).toBeCloseTo(-6, 5);
  expect(areaOf(scaled(box, [-1, 1, 1]))).toBeCloseTo(22, 5);
  // A volume does not depend on where it is.
  const moved = withPositions(
    box,
    box.positions.map((v) => v + 10),
  );
  expect(volumeOf(moved)).toBeCloseTo(6, 3);
});

test('what is not a number is farther than anything, and another number of points is no move', () => {
  expect(farthest(Float32Array.of(0, 0, 0, 1, 1, 1), Float32Array.of(0, 0, 0, 1, 4, 5))).toEqual({ most: 5, at: 1 });
  expect(farthest(Float32Array.of(0, 0, 0, NaN, 1, 1), Float32Array.of(9, 0, 0, 1, 4, 5))).toEqual({ most: NaN, at: 1 });
  expect(() => farthest(new Float32Array(3), new Float32Array(6))).toThrow('another');
  const box = makeBox([1, 1, 1], [2, 2, 2]);
  const { least, most } = stretchOf(box, scaled(box, [3, 1, 0.5]).positions);
  expect([least, most]).toEqual([0.5, 3]);
});
