import { expect, test } from 'vitest';
import { CATALOGUE, Evaluator, indexOf, pointsOf, SHOWN_PORT, shownResults, type Mesh, type Value } from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

const demo = makeLanternQuay();
const evaluator = new Evaluator(CATALOGUE, { cacheInBytes: 2e8 });
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
  const at = (frame: number) => numbersOf(evaluator.evaluate({ project: demo.project, frame, wanted: [ref] }).value(ref));
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

/** Graphs whose results keep their points; the foam's skin makes new ones as it flows, and has a test of its own. */
const LIVE = ['swim', 'profile', 'kelp', 'loosen', 'net', 'carried'];
const STILL = ['mooring', 'one-falloff'];

for (const r of shownResults(CATALOGUE, demo.project).filter((s) => LIVE.includes(s.graph))) {
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
  for (const r of shownResults(CATALOGUE, demo.project).filter((s) => STILL.includes(s.graph)))
    expect(largestSteps(r.node, [1, 60]).whole).toBe(0);
});

/** The farthest that any point of one mesh is from the faces of another, both ways. */
function apart(a: Mesh, b: Mesh): number {
  const oneWay = (from: Mesh, to: Mesh) => {
    const index = indexOf(to, 'faces');
    let most = 0;
    for (let i = 0; i < from.positions.length; i += 3) {
      index.nearest(from.positions[i], from.positions[i + 1], from.positions[i + 2]);
      most = Math.max(most, index.distanceSquared);
    }
    return Math.sqrt(most);
  };
  return Math.max(oneWay(a, b), oneWay(b, a));
}

test('the skin of the foam flows: only where drops meet does it open, as the root of time', () => {
  const foam = shownResults(CATALOGUE, demo.project).find((s) => s.graph === 'clump');
  const ref = { node: foam?.node ?? '', port: SHOWN_PORT };
  const at = (frame: number): Mesh => {
    const value = evaluator.evaluate({ project: demo.project, frame, wanted: [ref] }).value(ref);
    if (value?.form !== 'geometry') throw new Error('The foam shows no mesh.');
    return value.mesh;
  };
  const whole: number[] = [];
  const eighths: number[] = [];
  for (let frame = 1; frame < 120; frame += 10) {
    const first = at(frame);
    let before = first;
    for (let k = 1; k <= 8; k++) {
      const now = at(frame + k / 8);
      eighths.push(apart(before, now));
      before = now;
    }
    whole.push(apart(first, before));
  }
  const largest = Math.max(...whole);
  expect(eighths.filter((e) => e * 4 > largest).length).toBeLessThanOrEqual(eighths.length * 0.05);
  // Two sheets that meet open a neck of √t: an eighth of the time is at best a root of eight of the way, 2.8.
  expect(Math.max(...eighths) * 2).toBeLessThanOrEqual(largest);
});
