import { expect, test } from 'vitest';
import { makeSphere } from '@umberfish/core';
import { objExtent, plausibleUnit, writeObj } from './index.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const UNITS = [
  { name: 'm', metres: 1 },
  { name: 'cm', metres: 0.01 },
  { name: 'mm', metres: 0.001 },
];

test('the size of what a file holds, in its units, whatever else stands in it', () => {
  const [x, y, z] = objExtent(bytes('v 1 2 3\n# v 100 0 0\nvn 9 9 9\n  v -1 4 3.5 1.0\nv nan 0 0\nvt 50 50\r\nv 0 2 3\r\n'))!;
  expect([x, y, z]).toEqual([2, 4, 3.5]);
  expect(objExtent(bytes('f 1 2 3'))).toBeUndefined();
  expect(objExtent(bytes(''))).toBeUndefined();
  const text = writeObj([{ name: 'ball', mesh: makeSphere(2, 8, 16) }] as never);
  expect(typeof text === 'string' ? objExtent(bytes(text))!.map((v) => Math.round(v * 1e4) / 1e4) : [4, 4, 4]).toEqual([4, 4, 4]);
});

test('the unit that gives a size which things have; the likeliest where none does', () => {
  const unit = (longest: number) => plausibleUnit(longest, UNITS)?.name;
  expect(unit(1.8)).toBe('m');
  expect(unit(180)).toBe('cm');
  expect(unit(8000)).toBe('mm');
  expect(unit(0.001)).toBe('m');
  expect(unit(0)).toBe('m');
  expect(unit(1e9)).toBe('m');
  expect(unit(NaN)).toBe('m');
});
