import type { NodeDefinition } from '../../graph/node/definition.ts';
import { toggleValue } from '../../graph/node/values.ts';

export const toggle: NodeDefinition = {
  id: 'toggle',
  version: 1,
  title: 'Toggle',
  group: 'Bring in',
  summary: 'A yes or no; where a number is wanted, yes is 1 and no is 0.',
  keywords: ['switch', 'boolean', 'on', 'off'],
  inputs: () => [{ id: 'value', label: 'value', kind: 'toggle', default: true, uniform: true, help: 'Yes or no.' }],
  outputs: () => [{ id: 'toggle', label: 'toggle', kind: 'toggle', help: 'Yes (1) or no (0).' }],
  settings: [],
  sentence: (_, c) => (c.connected('value') ? 'from the wire' : c.typed('value') === false ? 'no' : 'yes'),
  light: true,
  evaluate: (context) => ({ toggle: toggleValue(context.toggle('value')) }),
};
