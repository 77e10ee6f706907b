import { describe, expect, test } from 'vitest';
import { SHOWN_PORT, type NodeDefinition } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { problemWords } from '../graph/node/problems.ts';
import type { SettingValue } from '../project/fields.ts';
import { node } from '../testing/build.ts';
import { evaluatorAround, projectAround, sourcesFor, usualSources, variants, type Source } from '../testing/sources.ts';
import { NODES } from './index.ts';

/** Evaluates a node with what is connected to it, and gives the sentences on its card. */
function sentences(type: NodeDefinition, settings: Record<string, SettingValue>, wired: ReadonlyMap<string, Source>): string[] {
  const p = projectAround(type, settings, wired);
  const outputs = type.outputs(settingsOf(type, node('it', type.id, { settings }))).map((o) => o.id);
  const drives = type.drives || type.shows ? [SHOWN_PORT] : [];
  const wanted = [...outputs, ...drives].map((port) => ({ node: 'it', port }));
  const evaluation = evaluatorAround().evaluate({ project: p, frame: 3, wanted });
  const problems = evaluation.reports.get('it')?.problems ?? [];
  for (const problem of problems) if (problem.code === 'threw') throw new Error(problem.message);
  return problems.map(problemWords);
}

/** What every sentence keeps to. */
function expectSentence(words: string): void {
  expect(words).toMatch(/^["A-Z0-9].*[.]$/su);
  expect(words).not.toMatch(/undefined|\[object|copys|vertexs|matrixs| 1 [a-z]+s\b(?<! has| this| is)|0 to −?-1/);
}

describe('nodes that get what nobody would give them', () => {
  for (const type of NODES)
    test(`${type.title} says what is wrong, and never a message of the language's own`, () => {
      const said = new Set<string>();
      for (const settings of variants(type)) {
        const ports = type.inputs(settingsOf(type, node('it', type.id, { settings })));
        const usual = usualSources(type, settings);
        const tries: (readonly [string, ReadonlyMap<string, Source>])[] = [
          ['as usual', usual],
          ['nothing connected', new Map()],
        ];
        for (const p of ports)
          for (const [name, s] of sourcesFor(p.kind)) tries.push([`${p.id} ${name}`, new Map([...usual, [p.id, s]])]);
        for (const [name, wired] of tries) {
          let words: string[];
          try {
            words = sentences(type, settings, wired);
          } catch (error) {
            throw new Error(`${type.id} ${JSON.stringify(settings)}, ${name}: ${(error as Error).message}`, { cause: error });
          }
          expect(new Set(words).size, `${type.id} ${JSON.stringify(settings)}, ${name}: said twice`).toBe(words.length);
          words.forEach((w) => said.add(w));
        }
      }
      for (const words of said) expectSentence(words);
    });
});
