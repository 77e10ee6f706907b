import { expect, test } from 'vitest';
import { boxedWords, copied, copyStride, isDrawnBySoftware, splitByBudget, thinnedWords } from './draw-budget.ts';
import { PREVIEW_KEY } from '../../engine/request.ts';
import type { DrawnItem } from './drawn-items.ts';

const copies = (count: number, triangles: number) =>
  ({
    mesh: { instances: { matrices: { length: 16 * count } }, topology: { triangles: { length: 3 * triangles } } },
  }) as unknown as DrawnItem;
const plain = { mesh: { topology: { triangles: { length: 3_000_000 } } } } as unknown as DrawnItem;

test('copies are thinned until what is left can be drawn, and that is said; meshes by themselves never are', () => {
  const crowd = copied([copies(1_000_000, 12), copies(2_000_000, 12), plain]);
  expect(crowd).toEqual({ copies: 3_000_000, triangles: 36_000_000 });
  expect(copied([plain])).toEqual({ copies: 0, triangles: 0 });
  for (const isSoftware of [false, true])
    for (let count = 1; count < 1e8; count *= 3.7)
      for (const each of [1, 12, 5000]) {
        const stride = copyStride({ copies: count, triangles: count * each }, isSoftware);
        const most = isSoftware ? [4000, 400_000] : [1_000_000, 10_000_000];
        const isDrawn = (by: number) => count / by <= most[0] && (count * each) / by <= most[1];
        expect(isDrawn(stride)).toBe(true);
        // No more is left out than has to be.
        if (stride > 1) expect(isDrawn(stride - 1)).toBe(false);
      }
  expect(thinnedWords(crowd, 1)).toBeUndefined();
  expect(thinnedWords(crowd, 4)).toMatch(/^1 of 4 copies is drawn.*36.000.000 triangles/);
});

test('what draws by the processor is told from a graphics card by its name', () => {
  const named = (name: string) => ({
    getContext: () =>
      ({
        getExtension: () => ({ UNMASKED_RENDERER_WEBGL: 1 }),
        getParameter: () => name,
      }) as never,
  });
  expect(isDrawnBySoftware(named('ANGLE (Google, Vulkan 1.3 (SwiftShader Device), SwiftShader driver)'))).toBe(true);
  expect(isDrawnBySoftware(named('llvmpipe (LLVM 15.0.6, 256 bits)'))).toBe(true);
  expect(isDrawnBySoftware(named('ANGLE (Fine Graphics 4000, OpenGL 4.6)'))).toBe(false);
  expect(isDrawnBySoftware({ getContext: () => ({ getExtension: () => null }) as never })).toBe(false);
});

const meshes = (count: number, triangles: number) =>
  Array.from({ length: count }, (_, i) => ({
    object: `o${i}`,
    mesh: { topology: { triangles: { length: 3 * triangles } } },
  })) as unknown as DrawnItem[];

test('of more meshes than can be turned, what is picked is drawn whole first, and the others as boxes, each of them once', () => {
  const many = meshes(20_000, 12);
  const picked = new Set(['o19999', 'o7']);
  const split = splitByBudget(many, picked, true);
  expect(split.whole).toHaveLength(1000);
  expect(split.whole.map((i) => i.object)).toEqual(expect.arrayContaining(['o7', 'o19999']));
  expect(new Set([...split.whole, ...split.boxed]).size).toBe(20_000);
  expect(boxedWords(split)).toMatch(/^1.000 of 20.000 meshes are drawn whole/);
  // What is previewed is what one asked to see.
  const preview = { ...many[0], id: PREVIEW_KEY, object: null };
  expect(splitByBudget([...many, preview], new Set(), true).whole).toContain(preview);
  // All of them picked, as after an import: no more for that.
  expect(splitByBudget(many, new Set(many.map((i) => i.object!)), true).whole).toHaveLength(1000);
  const few = meshes(1000, 12);
  expect(splitByBudget(few, picked, true)).toEqual({ whole: few, boxed: [] });
  expect(boxedWords(splitByBudget(few, picked, true))).toBeUndefined();
});

test('one mesh is drawn whole however large; of several, as many as their triangles allow', () => {
  const [one] = meshes(1, 1e9);
  expect(splitByBudget([one], new Set(), true).whole).toEqual([one]);
  const heavy = meshes(5, 1_500_000);
  expect(splitByBudget(heavy, new Set(['o4']), true).whole.map((i) => i.object)).toEqual(['o0', 'o4']);
});
