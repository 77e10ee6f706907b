import { expect, test } from 'vitest';
import type { Evaluation, Evaluator } from '../graph/evaluate/evaluator.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { problemWords } from '../graph/node/problems.ts';
import type { Value } from '../graph/node/values.ts';
import type { SettingValue } from '../project/fields.ts';
import type { Project } from '../project/schema.ts';
import { node } from '../testing/build.ts';
import { evaluatorAround, projectAround, sourcesFor, usualSources, variants, type Source } from '../testing/sources.ts';
import { NODES } from './index.ts';

/** Numbers of a value, bit by bit, with all else that makes it what it is. */
function told(value: Value | undefined): unknown {
  return JSON.stringify(value, (key, v: unknown) => {
    if (ArrayBuffer.isView(v)) {
      const bytes = new Uint8Array(v.buffer, v.byteOffset, v.byteLength);
      return `${v.constructor.name} ${Buffer.from(bytes).toString('base64')}`;
    }
    if (v instanceof Map) return [...v];
    return key === 'index' && typeof v === 'object' ? undefined : v;
  });
}

const saying = (evaluation: Evaluation) => (evaluation.reports.get('it')?.problems ?? []).map(problemWords).sort();

/** What a node gives for some outputs, and what its card says. */
function asked(evaluator: Evaluator, project: Project, ports: readonly string[]) {
  const wanted = ports.map((port) => ({ node: 'it', port }));
  const evaluation = evaluator.evaluate({ project, frame: 3, wanted });
  return { values: wanted.map((w) => told(evaluation.value(w))), says: saying(evaluation) };
}

/** Every subset of a list that is not empty; of long lists the single ones, pairs, and all. */
function subsets<T>(of: readonly T[]): T[][] {
  if (of.length <= 4) return Array.from({ length: 2 ** of.length - 1 }, (_, i) => of.filter((_, bit) => ((i + 1) >> bit) & 1));
  const pairs = of.flatMap((a, i) => of.slice(i + 1).map((b) => [a, b]));
  return [...of.map((o) => [o]), ...pairs, [...of]];
}

/** What is asked one after the other: of few outputs every set after every other, else each set twice. */
function* orders(sets: readonly string[][], all: boolean): Generator<readonly number[]> {
  const forth = sets.map((_, i) => i);
  if (!all) yield [...forth, ...[...forth].reverse()];
  else for (const first of forth) yield forth.flatMap((next) => (next === first ? [first] : [next, first]));
}

function expectSameInAnyOrder(
  type: NodeDefinition,
  settings: Record<string, SettingValue>,
  wired: ReadonlyMap<string, Source>,
  all: boolean,
) {
  const project = projectAround(type, settings, wired);
  const ports = type.outputs(settingsOf(type, node('it', type.id, { settings }))).map((o) => o.id);
  if (ports.length < 2) return;
  const sets = subsets(ports);
  const fresh = sets.map((set) => asked(evaluatorAround(), project, set));
  for (const order of orders(sets, all)) {
    const evaluator = evaluatorAround();
    order.forEach((at, i) => {
      const name = `${type.id} ${JSON.stringify(settings)}: ${sets[at].join()} after ${sets[order[i - 1]]?.join()}`;
      expect(asked(evaluator, project, sets[at]), name).toEqual(fresh[at]);
    });
  }
}

// What it guards against: a result that lacks an output, or has it halfway, because it was not asked for at the time.
for (const type of NODES.filter((t) => t.outputs(settingsOf(t, node('it', t.id))).length > 1))
  test(`${type.title} gives for each output the same, whatever was asked for before`, () => {
    const [usually, ...others] = variants(type);
    const usual = usualSources(type, usually);
    expectSameInAnyOrder(type, usually, usual, true);
    for (const settings of others) expectSameInAnyOrder(type, settings, usualSources(type, settings), false);
    const ports = type.inputs(settingsOf(type, node('it', type.id, { settings: usually })));
    for (const p of ports.filter((q) => q.default === undefined))
      for (const [, s] of sourcesFor(p.kind)) expectSameInAnyOrder(type, usually, new Map([...usual, [p.id, s]]), false);
  });
