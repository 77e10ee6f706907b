import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { makeLanternQuay } from './project.ts';
import { CATALOGUE, Evaluator, type Project } from '@umberfish/core';
import { hashesOf, outputsOf, recordResults, type Recording } from './recording.ts';

test('every result of the demo is, to the bit, the one that was recorded', () => {
  const kept = JSON.parse(readFileSync(new URL('../recorded.json', import.meta.url), 'utf8')) as Recording;
  const { project, assets } = makeLanternQuay();
  const now = recordResults(project, assets);
  expect(Object.keys(now)).toEqual(Object.keys(kept));
  expect(Object.keys(now).filter((name) => now[name] !== kept[name])).toEqual([]);
});

/** Every number that is typed into a node, a little off. */
const withDialsAt = (project: Project, k: number): Project => ({
  ...project,
  graphs: project.graphs.map((g) => ({
    ...g,
    nodes: g.nodes.map((n) => ({
      ...n,
      inputs: Object.fromEntries(
        Object.entries(n.inputs).map(([port, v]) => [
          port,
          typeof v === 'number' && !Number.isInteger(v) ? v * (1 + k / 200) : v,
        ]),
      ),
    })),
  })),
});

test('dials dragged all over the demo, in memory that is used again and spoilt before: to the bit what a fresh evaluation gives', () => {
  const { project, assets } = makeLanternQuay();
  const wanted = outputsOf(project);
  const evaluatorWith = (spoils: boolean) => {
    const evaluator = new Evaluator(CATALOGUE, { arrays: { spoils } });
    for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
    return evaluator;
  };
  const dragged = evaluatorWith(true);
  const taken: number[] = [];
  for (let k = 0; k < 7; k++) {
    const document = withDialsAt(project, k);
    const evaluation = dragged.evaluate({ project: document, frame: 37, wanted, gesture: 'drag' });
    const hashes = hashesOf(evaluation, wanted);
    dragged.settle();
    taken.push(dragged.arrays.takenBytes);
    if (k < 4) continue;
    const fresh = hashesOf(evaluatorWith(false).evaluate({ project: document, frame: 37, wanted }), wanted);
    expect([...hashes.keys()].filter((name) => hashes.get(name) !== fresh.get(name))).toEqual([]);
  }
  // What the first three steps took is enough for those after them, but where a mesh gets another number of points.
  expect(taken[2]).toBeGreaterThan(1e6);
  expect(taken[6]).toBeLessThan(taken[2] * 1.05);
});
