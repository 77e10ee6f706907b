import { expect, test } from 'vitest';
import { CONTROL_SHAPES, identity, makeObject, NEW_CONTROL, type Control, type ObjectRecord } from '@umberfish/core';
import { PerspectiveCamera } from 'three';
import { shapeOf } from './control-shapes.ts';
import { awayFromLines, onCanvas } from './curve-points.ts';

const point = (x: number, z: number) => ({
  at: [x, 0, z] as const,
  in: [0, 0, 0] as const,
  out: [0, 0, 0] as const,
  roll: 0,
  width: 1,
});
const curve = makeObject('drawing', 'Drawing', 'curve', {
  curve: { splines: [{ type: 'poly', closed: false, points: [point(0, 0), point(2, 0), point(2, 1)] }] },
});
const locator = (control: Partial<Control> | null): ObjectRecord =>
  makeObject('here', 'Here', 'locator', { control: control && { ...NEW_CONTROL, ...control } });
const lines = (control: Partial<Control> | null) => shapeOf(locator(control), (id) => (id === 'drawing' ? curve : undefined));
/** Least and most along each axis. */
const extent = (all: readonly number[]) =>
  [0, 1, 2].map((axis) => {
    const own = all.filter((_, i) => i % 3 === axis);
    return [Math.min(...own), Math.max(...own)].map((v) => Number(v.toFixed(6)) + 0);
  });

test('every shape is lines, as wide as it says, about its offset', () => {
  for (const shape of CONTROL_SHAPES.filter((s) => s !== 'curve')) {
    const all = lines({ shape, size: 2, offset: [10, 20, 30] });
    expect(all.length % 6, shape).toBe(0);
    const [x, y, z] = extent(all);
    expect(Math.max(x[1] - x[0], z[1] - z[0]), shape).toBeCloseTo(2, 6);
    for (const [[least, most], middle] of [
      [x, 10],
      [y, 20],
      [z, 30],
    ] as const)
      expect((least + most) / 2, shape).toBeCloseTo(middle, 6);
    expect(all.every(Number.isFinite)).toBe(true);
  }
  // Round is round; level is level.
  const ring = lines({ shape: 'ring', size: 3 });
  for (let i = 0; i < ring.length; i += 3) expect(Math.hypot(ring[i], ring[i + 2])).toBeCloseTo(1.5, 6);
  expect(extent(lines({ shape: 'arrow', size: 1 }))[1]).toEqual([0, 0]);
});

test('a drawn curve is taken as it is drawn; one that is gone leaves a ring; without a control there is the cross', () => {
  expect(extent(lines({ shape: 'curve', curve: 'drawing', size: 0.5, offset: [0, 1, 0] }))).toEqual([
    [0, 1],
    [1, 1],
    [0, 0.5],
  ]);
  expect(lines({ shape: 'curve', curve: 'gone', size: 1 })).toEqual(lines({ shape: 'ring', size: 1 }));
  expect(lines({ shape: 'curve', curve: null, size: 1 })).toEqual(lines({ shape: 'ring', size: 1 }));
  expect(extent(lines(null))).toEqual([
    [-0.16, 0.16],
    [-0.16, 0.16],
    [-0.16, 0.16],
  ]);
});

test('a line is picked where it is seen, and not by what of it is behind the eye', () => {
  const camera = new PerspectiveCamera(50, 1, 0.1, 100);
  camera.position.set(0, 0, 5);
  camera.updateMatrixWorld();
  const box = { width: 200, height: 200 } as DOMRect;
  const away = (line: readonly number[], x: number, y: number) => awayFromLines(line, identity(), { camera }, box, x, y, 0);
  const level = [-1, 0, 0, 1, 0, 0];
  expect(away(level, 100, 100)).toBeCloseTo(0, 6);
  expect(away(level, 100, 130)).toBeCloseTo(30, 6);
  expect(
    away(
      level.map((v, i) => (i % 3 === 2 ? 10 : v)),
      100,
      100,
    ),
  ).toBe(Infinity);
  // Beyond its end, to the end.
  const [end] = onCanvas({ camera }, box, [1, 0, 0])!;
  expect(away(level, end + 20, 100)).toBeCloseTo(20, 6);
  // One of no length is a point.
  expect(away([0, 0, 0, 0, 0, 0], 103, 104)).toBeCloseTo(5, 6);
});
