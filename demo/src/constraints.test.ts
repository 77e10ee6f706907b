import { expect, test } from 'vitest';
import {
  CATALOGUE,
  driversOf,
  Evaluator,
  inverseOf,
  localMatrix,
  multiply,
  objectsAt,
  switchWithoutPop,
  forAnimation,
  refusedChange,
  takeKeys,
  worldsAt,
  type Matrix,
  type Project,
} from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

/** Constraints of the demo at every frame: offsets that stay, and nothing that pops. */

const demo = makeLanternQuay();
const evaluator = new Evaluator(CATALOGUE, { cacheInBytes: 2e8 });
for (const [id, mesh] of demo.assets) evaluator.setAsset(id, mesh);
/** Graphs about things that stand somewhere else are left out, so that each frame is quick. */
const NEEDED = [
  'crane-aims',
  'handed-over',
  'fender-between',
  'winch',
  'by-hand',
  'mirrored',
  'lagging',
  'gull-flies',
  'riding',
  'barnacles',
];
const project: Project = {
  ...demo.project,
  graphs: demo.project.graphs.filter((g) => NEEDED.includes(g.id)),
};
const driven = project.objects
  .filter(
    (o) =>
      driversOf(CATALOGUE, project, { object: o.id }).length +
        driversOf(CATALOGUE, project, { object: o.id, channel: 'translate.x' }).length >
      0,
  )
  .map((o) => o.id);
const SCENE = 20;

const away = (a: Readonly<Matrix>, b: Readonly<Matrix>) => Math.max(...Array.from(a, (v, i) => Math.abs(v - b[i])));

test('nine objects of the demo are driven', () => {
  expect(driven.sort()).toEqual([
    'cask',
    'crane-arm',
    'crate-mirrored',
    'duckling',
    'fender',
    'fender-rope',
    'gull',
    'hand-lantern',
    'lone-barnacle',
  ]);
});

test('the lantern keeps its offset to the hook while the dial is 0, and to the mast while it is 1, at every frame', () => {
  /** The lantern's space (its world without its own channels) as seen from a driver. */
  const seen = (frame: number, driver: string) => {
    const [lantern, from] = worldsAt(evaluator, project, ['hand-lantern', driver], frame);
    const object = objectsAt(project, frame).get('hand-lantern');
    const space = multiply(new Float64Array(16), lantern, inverseOf(localMatrix(object!)) as Matrix);
    return multiply(space, inverseOf(from) as Matrix, space);
  };
  for (const [first, last, driver] of [
    [1, 54, 'crane-hook'],
    [74, 120, 'mast-top'],
  ] as const) {
    const kept = seen(first, driver);
    for (let frame = first; frame <= last; frame++) expect(away(seen(frame, driver), kept)).toBeLessThan(SCENE * 1e-9);
  }
});

/** Steps of objects over frames, and over eighths of them: the largest of each. */
function steps(p: Project, ids: readonly string[], frames: readonly number[]) {
  const whole = ids.map(() => 0);
  const eighth = ids.map(() => 0);
  for (const frame of frames) {
    const first = worldsAt(evaluator, p, ids, frame);
    let before = first;
    for (let k = 1; k <= 8; k++) {
      const now = worldsAt(evaluator, p, ids, frame + k / 8);
      now.forEach((m, i) => (eighth[i] = Math.max(eighth[i], away(m, before[i]))));
      before = now;
    }
    before.forEach((m, i) => (whole[i] = Math.max(whole[i], away(m, first[i]))));
  }
  return { whole, eighth };
}

test('no driven object pops at any frame (steps eight times as short are at least four times as small)', () => {
  // The hull that the barnacle rides takes its time: every eighth frame of it.
  const quick = {
    ...project,
    graphs: project.graphs.filter((g) => g.id !== 'riding' && g.id !== 'barnacles'),
  };
  const others = driven.filter((id) => id !== 'lone-barnacle');
  const frames = Array.from({ length: 119 }, (_, i) => i + 1);
  const all = steps(quick, others, frames);
  const rider = steps(
    project,
    ['lone-barnacle'],
    frames.filter((f) => f % 8 === 0),
  );
  [...others, 'lone-barnacle'].forEach((id, i) => {
    const [whole, eighth] = [[...all.whole, ...rider.whole][i], [...all.eighth, ...rider.eighth][i]];
    expect(whole, id).toBeGreaterThan(1e-4);
    expect(eighth * 4, id).toBeLessThanOrEqual(whole);
  });
});

test('a keyed switch does not move the lantern: the jump is under 1e-5 of the scene at any frame', async () => {
  for (const frame of [20, 64, 100]) {
    const to = frame < 64 ? 1 : 0;
    const worlds = (p: Project, frames: readonly number[]) =>
      Promise.resolve(Float64Array.from(frames.flatMap((f) => [...worldsAt(evaluator, p, ['hand-lantern'], f)[0]])));
    const made = await switchWithoutPop(CATALOGUE, project, 'hand-lantern', 'hand-over', to, frame, worlds);
    expect(made?.residual).toBeLessThan(1e-6);
    for (const f of [frame - 1, frame]) {
      const [before] = worldsAt(evaluator, project, ['hand-lantern'], f);
      const [after] = worldsAt(evaluator, made!.project, ['hand-lantern'], f);
      expect(away(before, after)).toBeLessThan(SCENE * 1e-5);
    }
  }
});

test('a lantern handed over in a file for animation is where it was there, once its keys are taken back into the rig', async () => {
  const worlds = (p: Project, frames: readonly number[]) =>
    Promise.resolve(Float64Array.from(frames.flatMap((f) => [...worldsAt(evaluator, p, ['hand-lantern'], f)[0]])));
  const copy = forAnimation(project);
  const made = await switchWithoutPop(CATALOGUE, copy, 'hand-lantern', 'hand-over', 1, 30, worlds);
  expect(refusedChange(CATALOGUE, copy, made!.project, 'hand-lantern')).toBeUndefined();
  expect(refusedChange(CATALOGUE, copy, made!.project)).toMatch(/"Hand lantern".*is not handed out/);
  const { project: joined, left } = takeKeys(CATALOGUE, project, made!.project);
  expect(left).toEqual([]);
  for (const f of [1, 29, 30, 40, 54, 64, 74, 100]) {
    const [there] = worldsAt(evaluator, made!.project, ['hand-lantern'], f);
    const [here] = worldsAt(evaluator, joined, ['hand-lantern'], f);
    expect(away(there, here), `frame ${f}`).toBeLessThan(SCENE * 1e-9);
  }
});
