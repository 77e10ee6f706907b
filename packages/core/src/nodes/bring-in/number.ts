import type { NodeDefinition } from '../../graph/node/definition.ts';
import { numberValue } from '../../graph/node/values.ts';

export const number: NodeDefinition = {
  id: 'number',
  version: 1,
  title: 'Number',
  group: 'Bring in',
  summary: 'One number, typed or by an expression such as 0.8 + 0.4 * sin(seconds / 3).',
  keywords: ['value', 'constant', 'expression', 'float'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'number',
      default: 1,
      range: { min: -10, max: 10 },
      uniform: true,
      help: 'The number, or an expression in seconds, frame and fraction.',
    },
  ],
  outputs: () => [{ id: 'number', label: 'number', kind: 'number', help: 'The number.' }],
  settings: [],
  sentence: (_, c) => {
    const v = c.typed('value');
    if (c.connected('value')) return 'from the wire';
    return typeof v === 'object' && 'expression' in v ? String(v.expression) : String(v ?? 1);
  },
  light: true,
  evaluate: (context) => ({ number: numberValue(context.number('value')) }),
};
