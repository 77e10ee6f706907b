import type { NodeDefinition } from '../../graph/node/definition.ts';
import { integerValue } from '../../graph/node/values.ts';

export const integer: NodeDefinition = {
  id: 'integer',
  version: 1,
  title: 'Integer',
  group: 'Bring in',
  summary: 'One whole number; anything else is rounded to the nearest.',
  keywords: ['count', 'whole', 'int'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'integer',
      default: 1,
      range: { min: 0, max: 100 },
      uniform: true,
      help: 'The whole number, or an expression that is rounded.',
    },
  ],
  outputs: () => [{ id: 'integer', label: 'integer', kind: 'integer', help: 'The whole number.' }],
  settings: [],
  sentence: (_, c) => {
    const v = c.typed('value');
    return typeof v === 'object' && 'expression' in v ? `round(${v.expression})` : String(v ?? 1);
  },
  light: true,
  evaluate: (context) => ({ integer: integerValue(context.integer('value')) }),
};
