import { expect, test } from 'vitest';
import {
  CATALOGUE,
  Evaluator,
  makeGrid,
  makeProject,
  pointColumn,
  type Evaluation,
  type Project,
  type Value,
} from '@umberfish/core';
import { addToHistory, historyToCsv, overRange, type History } from './range.ts';

const project: Project = {
  ...makeProject('p', 'P'),
  graphs: [
    {
      ...{ id: 'g', name: 'g', wires: [], sections: [], preview: null },
      nodes: [
        {
          ...{ id: 'n', type: 'number', version: 1, title: '', position: [0, 0] as const, settings: {}, skip: false, probes: [] },
          inputs: { value: { expression: 'frame * 2' } },
        },
      ],
    },
  ],
};
const ref = { node: 'n', port: 'number' };
const empty = (): History => ({ frames: [], minimum: [], mean: [], maximum: [] });
const over = (frames: { first: number; last: number; step: number }, goesOn: () => boolean, history: History) =>
  overRange({ evaluator: new Evaluator(CATALOGUE), project, wanted: [ref], ...frames, goesOn }, (frame, e) =>
    addToHistory(history, frame, e, ref),
  );

test('a history has every frame of its range, or every so many, and goes into a file', async () => {
  const history = empty();
  expect(await over({ first: 3, last: 7, step: 2 }, () => true, history)).toBe(true);
  expect(history).toEqual({ frames: [3, 5, 7], minimum: [6, 10, 14], mean: [6, 10, 14], maximum: [6, 10, 14] });
  expect((await historyToCsv(history)).trim().split(/\r?\n/)).toEqual([
    'frame,minimum,mean,maximum',
    '3,6,6,6',
    '5,10,10,10',
    '7,14,14,14',
  ]);
});

test('it stops between two frames when something else comes first, and other work gets its turn', async () => {
  const history = empty();
  let others = 0;
  const timer = setInterval(() => others++, 0);
  expect(await over({ first: 1, last: 100, step: 1 }, () => history.frames.length < 4, history)).toBe(false);
  clearInterval(timer);
  expect(history.frames).toEqual([1, 2, 3, 4]);
  expect(others).toBeGreaterThan(0);
});

test('of columns it tells the least, the mean and the most; vectors by their length, a matrix not at all', () => {
  const grid = makeGrid([1, 1], [1, 1]);
  const history = empty();
  const add = (value: Value | undefined) => addToHistory(history, 1, { value: () => value } as unknown as Evaluation, ref);
  add(pointColumn(grid, 'number', Float32Array.of(1, 2, 3, 6)));
  add(pointColumn(grid, 'vector', Float32Array.of(3, 4, 0, 0, 0, 0, 0, 6, 8, 0, 0, 0)));
  add({ form: 'single', kind: 'matrix', data: new Float64Array(16) });
  add(undefined);
  expect(history.frames).toEqual([1, 1]);
  expect([history.minimum[0], history.mean[0], history.maximum[0]]).toEqual([1, 3, 6]);
  expect(history.maximum[1]).toBeGreaterThanOrEqual(10);
});
