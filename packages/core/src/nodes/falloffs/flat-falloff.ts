import type { NodeDefinition } from '../../graph/node/definition.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { FALLOFF_OUT, numberPort, typedWords } from '../ports.ts';

export const flatFalloff: NodeDefinition = {
  id: 'flat-falloff',
  version: 1,
  title: 'Flat Falloff',
  group: 'Falloffs',
  summary: 'The same weight everywhere, as a base to mix others into.',
  keywords: ['constant', 'everywhere', 'base'],
  inputs: () => [numberPort('weight', 'weight', undefined, 1, [0, 1], 'The weight.')],
  outputs: () => [FALLOFF_OUT],
  settings: [],
  sentence: (_, c) => (c.connected('weight') ? 'the weight on the wire' : `${typedWords(c, 'weight')} everywhere`),
  evaluate: (context) => ({ falloff: falloffValue({ type: 'flat', weight: context.number('weight') }) }),
};
