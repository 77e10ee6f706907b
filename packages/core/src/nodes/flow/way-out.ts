import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { counted } from '../../words.ts';
import { inputOf, portWays, WAYS } from './ways.ts';

export const wayOut: NodeDefinition = {
  id: 'way-out',
  version: 1,
  title: 'Way Out',
  group: 'Modules',
  summary: 'What the module gives to the outside.',
  keywords: ['output', 'result', 'return'],
  way: 'out',
  inputs: (s) => portWays(s).map((way) => ({ ...inputOf(way), optional: true })),
  outputs: () => [],
  settings: [WAYS],
  sentence: (s) => `${counted(portWays(s).length, 'way')} out`,
  // Inside of a module it is gone through before anything is evaluated.
  evaluate() {
    throw new NodeError({ code: 'wall-outside' });
  },
};
