import { describe, expect, test } from 'vitest';
import { multiply, product, transformPoint, translation } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { type Channels } from '../project/fields.ts';
import { makeObject } from '../project/kinds/index.ts';
import { channelsMatrix, parentSpace, worldMatrix } from './world.ts';
import { objectsById } from './objects.ts';

const channels = (
  translate: [number, number, number],
  rotate: [number, number, number] = [0, 0, 0],
  size: [number, number, number] = [1, 1, 1],
): Channels => ({ translate, rotate, order: 'zxy', scale: size });
const rad = (d: number) => (d * Math.PI) / 180;

describe('world matrices', () => {
  test('channels turn and size about the pivot', () => {
    const m = channelsMatrix(channels([1, 0, 0], [0, 0, 90], [2, 2, 2]), [0, 1, 0]);
    const pivot = transformPoint(m, [0, 1, 0]);
    [1, 1, 0].forEach((v, i) => expect(pivot[i]).toBeCloseTo(v, 12));
    const other = transformPoint(m, [1, 1, 0]);
    [1, 3, 0].forEach((v, i) => expect(other[i]).toBeCloseTo(v, 12));
  });

  test('world = P × C × L, down the parents', () => {
    const carrier = compose([0, 0, 3], [0, rad(30), 0], 'xyz', [1, 1, 1]);
    const objects = objectsById([
      makeObject('a', 'A', 'group', { channels: channels([1, 2, 3], [10, 20, 30]) }),
      makeObject('b', 'B', 'mesh', {
        parent: 'a',
        channels: channels([4, 5, 6], [0, 45, 0], [1, 2, 3]),
        carrier: Array.from(carrier),
        pivot: [0.5, 0, 0],
      }),
    ]);
    const a = compose([1, 2, 3], [rad(10), rad(20), rad(30)], 'zxy', [1, 1, 1]);
    const l = product(translation([4.5, 5, 6]), compose([0, 0, 0], [0, rad(45), 0], 'zxy', [1, 2, 3]), translation([-0.5, 0, 0]));
    const expected = product(a, carrier, l);
    worldMatrix(objects, 'b').forEach((v, i) => expect(v).toBeCloseTo(expected[i], 10));
    parentSpace(objects, objects.get('b')!).forEach((v, i) =>
      expect(v).toBeCloseTo(multiply(new Float64Array(16), a, carrier)[i], 10),
    );
  });

  test('rest stays where it was remembered; parents in a circle or missing end in the world', () => {
    const objects = objectsById([
      makeObject('a', 'A', 'group', {
        parent: 'b',
        channels: channels([1, 0, 0]),
        rest: channels([0, 0, 0]),
      }),
      makeObject('b', 'B', 'group', {
        parent: 'a',
        channels: channels([0, 1, 0]),
        rest: channels([0, 0, 0]),
      }),
      makeObject('c', 'C', 'group', { parent: 'gone', channels: channels([0, 0, 1]) }),
    ]);
    expect(Array.from(worldMatrix(objects, 'a').slice(12, 15))).toEqual([1, 1, 0]);
    expect(Array.from(worldMatrix(objects, 'a', 'rest').slice(12, 15))).toEqual([0, 0, 0]);
    expect(Array.from(worldMatrix(objects, 'c').slice(12, 15))).toEqual([0, 0, 1]);
  });
});
