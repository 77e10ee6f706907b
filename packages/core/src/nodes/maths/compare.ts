import type { NodeDefinition } from '../../graph/definition.ts';
import { text } from '../ports.ts';

const TESTS: Record<string, { label: string; run: (a: number, b: number, tolerance: number) => boolean }> = {
  less: { label: 'a is less than b', run: (a, b) => a < b },
  greater: { label: 'a is greater than b', run: (a, b) => a > b },
  equal: { label: 'a equals b', run: (a, b, t) => Math.abs(a - b) <= t },
  different: { label: 'a differs from b', run: (a, b, t) => Math.abs(a - b) > t },
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
      options: Object.entries(TESTS).map(([value, t]) => ({ value, label: t.label })),
      default: 'less',
      help: 'What is asked of a and b.',
    },
  ],
  sentence: (s) => TESTS[text(s, 'test')]?.label ?? '',
  elements: {
    plan: (s) => ({
      inputs: (s.test === 'equal' || s.test === 'different' ? ['a', 'b', 'tolerance'] : ['a', 'b']).map(
        (port) => ({ port, lane: 'number' as const }),
      ),
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    compile: (s) => {
      const { run } = TESTS[text(s, 'test')] ?? TESTS.less;
      return (inputs, inputAt, outputs, outputAt, count) => {
        const [a, b, tolerance] = inputs;
        for (let k = 0; k < count; k++) {
          outputs[0][outputAt[0] + k] = run(
            a[inputAt[0] + k],
            b[inputAt[1] + k],
            tolerance ? tolerance[inputAt[2] + k] : 0,
          )
            ? 1
            : 0;
        }
      };
    },
  },
};
