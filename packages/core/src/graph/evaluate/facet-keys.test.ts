import fc from 'fast-check';
import { expect, test } from 'vitest';
import { settingsText } from './facet-keys.ts';

const settings = fc.dictionary(fc.string({ maxLength: 3 }), fc.jsonValue({ maxDepth: 3 })) as fc.Arbitrary<
  Record<string, unknown>
>;

test('settings have the same text where they are the same, whatever objects they consist of, and another where they are not', () => {
  fc.assert(
    fc.property(settings, settings, (a, b) => {
      expect(settingsText(structuredClone(a))).toBe(settingsText(a));
      expect(settingsText(a) === settingsText(b)).toBe(JSON.stringify(a) === JSON.stringify(b));
    }),
    { numRuns: 500 },
  );
});

test('one number of a hundred thousand is told; an order, a key and a depth too', () => {
  const blocks = (changed: number) => ({
    painted: {
      blocks: Array.from({ length: 400 }, (_, b) => Array.from({ length: 256 }, (__, i) => (b * 256 + i === changed ? 1 : 0))),
    },
  });
  const all = [
    blocks(0),
    blocks(70_000),
    blocks(102_399),
    { a: [1, [2, 3]] },
    { a: [[1, 2], 3] },
    { a: [1, 2, 3] },
    { a: { b: [1, 2, 3] } },
    { a: { b: [3, 2, 1] } },
    { b: { a: [1, 2, 3] } },
    { a: '[1,2,3]' },
    { a: null },
    {},
  ];
  expect(new Set(all.map((s) => settingsText(s))).size).toBe(all.length);
  expect(settingsText(blocks(70_000))).toBe(settingsText(all[1]));
});
