import type { NodeDefinition } from '../../graph/node/definition.ts';
import { randomAt } from '../../maths/random.ts';
import { GIVES, typedWords } from '../ports.ts';

export const random: NodeDefinition = {
  id: 'random',
  version: 1,
  title: 'Random',
  group: 'Maths',
  summary: 'An unrelated number for each index, between two ends; the same index and seed always give the same.',
  keywords: ['jitter', 'variation', 'seed', 'chance'],
  inputs: () => [
    {
      id: 'index',
      label: 'index',
      kind: 'number',
      default: 0,
      range: { min: 0, max: 100 },
      help: 'What to draw for, usually the indices of Point Values; rounded.',
    },
    {
      id: 'low',
      label: 'low',
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'The least it can be.',
    },
    {
      id: 'high',
      label: 'high',
      kind: 'number',
      default: 1,
      range: { min: -10, max: 10 },
      help: 'What it stays below.',
    },
    {
      id: 'seed',
      label: 'seed',
      kind: 'integer',
      default: 0,
      range: { min: 0, max: 100 },
      uniform: true,
      help: 'Another seed, other numbers.',
    },
  ],
  outputs: (s) => [
    {
      id: 'result',
      label: 'random',
      kind: s.gives === 'vector' ? 'vector' : 'number',
      help: 'The number drawn; as a vector, three unrelated ones.',
    },
  ],
  settings: [GIVES],
  sentence: (s, c) => `${String(s.gives)}, seed ${typedWords(c, 'seed')}`,
  elements: {
    plan: (s) => ({
      inputs: ['index', 'low', 'high'].map((port) => ({ port, lane: 'number' as const })),
      outputs: [{ port: 'result', lane: s.gives === 'vector' ? 'vector' : 'number' }],
    }),
    compile: (s, _plan, uniforms) => {
      const width = s.gives === 'vector' ? 3 : 1;
      const { seed } = uniforms;
      return (inputs, inputAt, outputs, outputAt, count) => {
        const index = inputs[0],
          low = inputs[1],
          high = inputs[2],
          out = outputs[0];
        for (let k = 0, o = outputAt[0]; k < count; k++) {
          const from = low[inputAt[1] + k];
          const span = high[inputAt[2] + k] - from;
          for (let axis = 0; axis < width; axis++, o++)
            out[o] = from + span * randomAt(index[inputAt[0] + k], seed + axis * 7919);
        }
      };
    },
  },
};
