import type { NodeDefinition } from '../../graph/node/definition.ts';

export const splitVector: NodeDefinition = {
  id: 'split-vector',
  version: 1,
  title: 'Split Vector',
  group: 'Maths',
  summary: 'Takes a vector apart into its x, y and z.',
  keywords: ['components', 'take apart', 'axis'],
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
  outputs: () => ['x', 'y', 'z'].map((id) => ({ id, label: id, kind: 'number' as const, help: `Its ${id}.` })),
  settings: [],
  sentence: () => 'x, y and z apart',
  elements: {
    plan: () => ({
      inputs: [{ port: 'vector', lane: 'vector' }],
      outputs: ['x', 'y', 'z'].map((port) => ({ port, lane: 'number' as const })),
    }),
    program: (_, [vector]) => vector.map((v) => [v]),
  },
};
