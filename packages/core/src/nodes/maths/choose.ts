import type { NodeDefinition } from '../../graph/node/definition.ts';
import { eachAxis } from '../../expression/index.ts';
import { widest } from './lanes.ts';

export const choose: NodeDefinition = {
  id: 'choose',
  version: 1,
  title: 'Choose',
  group: 'Maths',
  summary: 'Takes b where the condition is yes (above one half), else a; element by element.',
  keywords: ['switch', 'if', 'select', 'either', 'condition'],
  inputs: () => [
    {
      id: 'condition',
      label: 'condition',
      kind: 'number',
      default: 0,
      range: { min: 0, max: 1 },
      help: 'Yes is 1, no is 0; anything above one half counts as yes.',
    },
    { id: 'a', label: 'a', kind: 'value', default: 0, range: { min: -10, max: 10 }, help: 'What no gives.' },
    { id: 'b', label: 'b', kind: 'value', default: 1, range: { min: -10, max: 10 }, help: 'What yes gives.' },
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'value', help: 'a or b.' }],
  settings: [],
  sentence: () => 'b where yes, else a',
  passes: { result: 'a' },
  elements: {
    plan: (_, kinds) => {
      const lane = widest(kinds, ['a', 'b']);
      return {
        inputs: [
          { port: 'condition', lane: 'number' },
          { port: 'a', lane },
          { port: 'b', lane },
        ],
        outputs: [{ port: 'result', lane }],
      };
    },
    program(build, [[condition], a, b]) {
      const isYes = build.operate('less', [build.constant(0.5), condition]);
      return [eachAxis([a, b], (x, y) => build.operate('choose', [isYes, y, x]))];
    },
  },
};
