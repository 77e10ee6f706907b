import type { NodeDefinition } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';

const TESTS: Readonly<Record<string, string>> = {
  less: 'a is less than b',
  greater: 'a is greater than b',
  equal: 'a equals b',
  different: 'a differs from b',
};

export const compare: NodeDefinition = {
  id: 'compare',
  version: 1,
  title: 'Compare',
  group: 'Maths',
  summary: 'Tells for each element whether a comparison holds: 1 where it does, 0 where not.',
  keywords: ['less', 'greater', 'equal', 'threshold', 'mask', 'if'],
  inputs: (s) => [
    {
      id: 'a',
      label: 'a',
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'The first number.',
    },
    {
      id: 'b',
      label: 'b',
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'The second number.',
    },
    ...(s.test === 'equal' || s.test === 'different'
      ? [
          {
            id: 'tolerance',
            label: 'tolerance',
            kind: 'number' as const,
            default: 1e-5,
            range: { min: 0, max: 0.1 },
            help: 'How far apart two numbers may be and still count as equal.',
          },
        ]
      : []),
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'number', help: '1 where it holds, else 0.' }],
  settings: [
    {
      id: 'test',
      label: 'Test',
      type: 'choice',
      options: Object.entries(TESTS).map(([value, label]) => ({ value, label })),
      default: 'less',
      help: 'What is asked of a and b.',
    },
  ],
  sentence: (s) => TESTS[text(s, 'test')] ?? '',
  elements: {
    plan: (s) => ({
      inputs: (s.test === 'equal' || s.test === 'different' ? ['a', 'b', 'tolerance'] : ['a', 'b']).map((port) => ({
        port,
        lane: 'number' as const,
      })),
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    program(build, [[a], [b], tolerance], s) {
      const test = text(s, 'test');
      if (test === 'less') return [[build.operate('less', [a, b])]];
      if (test === 'greater') return [[build.operate('less', [b, a])]];
      const apart = build.operate('abs', [build.operate('subtract', [a, b])]);
      const within = build.operate('lessEqual', [apart, tolerance[0]]);
      return [[test === 'equal' ? within : build.operate('less', [tolerance[0], apart])]];
    },
  },
};
