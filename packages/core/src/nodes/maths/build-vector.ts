import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';

const AXES = ['x', 'y', 'z'];

export const buildVector: NodeDefinition = {
  id: 'build-vector',
  version: 1,
  title: 'Build Vector',
  group: 'Maths',
  summary: 'Makes a vector out of an x, a y and a z.',
  keywords: ['put together', 'components', 'xyz'],
  inputs: () =>
    AXES.map((id): InputPort => ({
      id,
      label: id,
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      help: `The ${id} of the vector.`,
    })),
  outputs: () => [{ id: 'vector', label: 'vector', kind: 'vector', help: 'The three numbers as one vector.' }],
  settings: [],
  sentence: () => 'x, y and z together',
  elements: {
    plan: () => ({
      inputs: AXES.map((port) => ({ port, lane: 'number' as const })),
      outputs: [{ port: 'vector', lane: 'vector' }],
    }),
    program: (_, parts) => [parts.map(([v]) => v)],
  },
};
