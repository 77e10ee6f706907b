import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { counted } from '../../words.ts';
import { outputOf, portWays, WAYS } from './ways.ts';

export const wayIn: NodeDefinition = {
  id: 'way-in',
  version: 1,
  title: 'Way In',
  group: 'Modules',
  summary: 'What comes into the module from outside: dials, meshes, places.',
  keywords: ['input', 'argument', 'parameter', 'dial', 'expose'],
  way: 'in',
  inputs: () => [],
  outputs: (s) => portWays(s).map(outputOf),
  settings: [WAYS],
  sentence: (s) => `${counted(portWays(s).length, 'way')} in`,
  // Inside of a module it is gone through before anything is evaluated.
  evaluate() {
    throw new NodeError({ code: 'wall-outside' });
  },
};
