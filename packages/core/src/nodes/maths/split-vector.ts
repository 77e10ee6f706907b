import type { NodeDefinition } from '../../graph/definition.ts';

export const splitVector: NodeDefinition = {
  id: 'split-vector',
  version: 1,
  title: 'Split Vector',
  group: 'Maths',
  summary: 'Takes a vector apart into its x, y and z.',
  keywords: ['components', 'separate', 'axis'],
  inputs: () => [
    {
      id: 'vector',
      label: 'vector',
      kind: 'vector',
      default: [0, 0, 0],
      range: { min: -10, max: 10 },
      help: 'The vector to take apart.',
    },
  ],
  outputs: () =>
    ['x', 'y', 'z'].map((id) => ({ id, label: id, kind: 'number' as const, help: `Its ${id}.` })),
  settings: [],
  sentence: () => 'x, y and z apart',
  elements: {
    plan: () => ({
      inputs: [{ port: 'vector', lane: 'vector' }],
      outputs: ['x', 'y', 'z'].map((port) => ({ port, lane: 'number' as const })),
    }),
    compile: () => (inputs, inputAt, outputs, outputAt, count) => {
      const v = inputs[0];
      for (let axis = 0; axis < 3; axis++) {
        const out = outputs[axis], o = outputAt[axis]; // prettier-ignore
        for (let k = 0, i = inputAt[0] + axis; k < count; k++, i += 3) out[o + k] = v[i];
      }
    },
  },
};
