import type { NodeDefinition } from '../../graph/node/definition.ts';
import { eachAxis } from '../../expression/index.ts';
import { widest } from './lanes.ts';

export const blend: NodeDefinition = {
  id: 'blend',
  version: 1,
  title: 'Blend',
  group: 'Maths',
  summary: 'Goes from a to b by an amount: 0 is a, 1 is b; beyond that it goes on straight.',
  keywords: ['mix', 'lerp', 'interpolate', 'fade'],
  inputs: () => [
    {
      id: 'a',
      label: 'a',
      kind: 'value',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'What amount 0 gives.',
    },
    {
      id: 'b',
      label: 'b',
      kind: 'value',
      default: 1,
      range: { min: -10, max: 10 },
      help: 'What amount 1 gives.',
    },
    {
      id: 'amount',
      label: 'amount',
      kind: 'number',
      default: 0.5,
      range: { min: 0, max: 1 },
      help: 'How far from a to b: one for all, or one per element.',
    },
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'value', help: 'The blended values.' }],
  settings: [],
  sentence: (_, c) =>
    `a to b${typeof c.typed('amount') === 'number' && !c.connected('amount') ? ` by ${String(c.typed('amount'))}` : ''}`,
  passes: { result: 'a' },
  elements: {
    plan: (_, kinds) => {
      const lane = widest(kinds, ['a', 'b']);
      return {
        inputs: [
          { port: 'a', lane },
          { port: 'b', lane },
          { port: 'amount', lane: 'number' },
        ],
        outputs: [{ port: 'result', lane }],
      };
    },
    program: (build, [a, b, amount]) => [
      eachAxis([a, b, amount], (x, y, t) =>
        build.operate('add', [x, build.operate('multiply', [build.operate('subtract', [y, x]), t])]),
      ),
    ],
  },
};
