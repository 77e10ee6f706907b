import { expect, test } from 'vitest';
import { Evaluator, pointsOf, SHOWN_PORT, shownResults, type Value } from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

const demo = makeLanternQuay();
const evaluator = new Evaluator({ cacheInBytes: 2e8 });
for (const [id, mesh] of demo.assets) evaluator.setAsset(id, mesh);

/** Every number that places a result: points, or matrices of copies. */
function numbersOf(value: Value | undefined): ArrayLike<number> {
  if (value?.form === 'copies') return value.copies.matrices;
  return (value && pointsOf(value)) ?? [];
}

/**
 * DECISIONS 27: steps eight times as short are at least four times as small, over the whole range. The largest step of
 * any number is taken, frame by frame and eighth by eighth.
 */
function largestSteps(node: string, frames: readonly number[]): { whole: number; eighth: number } {
  const ref = { node, port: SHOWN_PORT };
  const at = (frame: number) => numbersOf(evaluator.evaluate({ project: demo.project, frame, wanted: [ref] }).value(ref)); // prettier-ignore
  const most = (a: ArrayLike<number>, b: ArrayLike<number>) => {
    expect(a.length, node).toBe(b.length);
    let m = 0;
    for (let i = 0; i < a.length; i++) m = Math.max(m, Math.abs(a[i] - b[i]));
    return m;
  };
  let whole = 0;
  let eighth = 0;
  for (const frame of frames) {
    const first = at(frame);
    let before = first;
    for (let k = 1; k <= 8; k++) {
      const now = at(frame + k / 8);
      eighth = Math.max(eighth, most(before, now));
      before = now;
    }
    whole = Math.max(whole, most(first, before));
  }
  return { whole, eighth };
}

/** Graphs whose results keep their points; the foam's skin makes new ones as it flows. */
const LIVE = ['swim', 'profile', 'kelp', 'loosen', 'net', 'carried'];
const STILL = ['mooring', 'one-falloff'];

for (const r of shownResults(demo.project).filter((s) => LIVE.includes(s.graph))) {
  test(`${r.name} plays at every frame without a pop`, () => {
    // The fish that comes apart has fifty thousand points: every fifth frame of it.
    const every = r.graph === 'loosen' ? 5 : 1;
    const frames = Array.from({ length: Math.floor(119 / every) }, (_, i) => 1 + i * every);
    const { whole, eighth } = largestSteps(r.node, frames);
    expect(whole).toBeGreaterThan(1e-4);
    expect(eighth * 4).toBeLessThanOrEqual(whole);
  });
}

test('what nothing moves stays still', () => {
  for (const r of shownResults(demo.project).filter((s) => STILL.includes(s.graph)))
    expect(largestSteps(r.node, [1, 60]).whole).toBe(0);
});
