import { expect, test } from 'vitest';
import { fieldNumber, formatNumber, plainNumber } from './format.ts';

test('a number in a field keeps three digits that matter, however small, and reads back as what it says', () => {
  const cases: [number, string][] = [
    [0, '0'],
    [-0, '0'],
    [0.0004, '0.0004'],
    [-0.0004, '-0.0004'],
    [0.00012345, '0.000123'],
    [0.05, '0.05'],
    [0.0999999, '0.1'],
    [1.23456, '1.235'],
    [1200, '1200'],
    [3e-7, '3e-7'],
    [1e-12, '0'],
    [1e21, '1e+21'],
  ];
  for (const [v, text] of cases) expect(fieldNumber(v)).toBe(text);
  for (let v = 1e-8; v < 1e6; v *= 1.37) {
    expect(Math.abs(Number(fieldNumber(v)) - v)).toBeLessThanOrEqual(Math.max(0.005 * v, v < 0.1 ? 0 : 0.0005));
    expect(Math.abs(Number(plainNumber(v)) - v)).toBeLessThanOrEqual(Math.max(5e-6 * v, v < 0.1 ? 0 : 5e-7));
  }
});

test('a number for reading has three digits that matter at least', () => {
  const cases: [number, string][] = [
    [0.0004, '0.0004'],
    [-0.00423, '−0.00423'],
    [0.05, '0.050'],
    [2, '2.000'],
    [12345.678, '12345.7'],
    [2.5e-7, '2.50e−7'],
  ];
  for (const [v, text] of cases) expect(formatNumber(v)).toBe(text);
  for (let v = 1e-8; v < 1e9; v *= 1.37)
    for (const digits of [1, 2, 3])
      expect(Math.abs(Number(formatNumber(v, digits).replaceAll('−', '-')) - v)).toBeLessThanOrEqual(
        Math.max(0.0051 * v, v < 0.1 ? 0 : 0.51 * 10 ** -digits),
      );
});
