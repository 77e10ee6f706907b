import { expect, test } from 'vitest';
import { copied, copyStride, isDrawnBySoftware, thinnedWords } from './draw-budget.ts';
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
