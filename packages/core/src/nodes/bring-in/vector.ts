import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { vectorValue } from '../../graph/node/values.ts';

export const vector: NodeDefinition = {
  id: 'vector',
  version: 1,
  title: 'Vector',
  group: 'Bring in',
  summary: 'Three numbers x, y, z, each typed or by an expression.',
  keywords: ['xyz', 'point', 'direction', 'constant'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'vector',
      default: [0, 0, 0],
      range: { min: -10, max: 10 },
      uniform: true,
      help: 'The three numbers, or an expression for each.',
    },
  ],
  outputs: () => [{ id: 'vector', label: 'vector', kind: 'vector', help: 'The three numbers as one vector.' }],
  settings: [],
  sentence: (_, c) => {
    const v = c.typed('value');
    if (!Array.isArray(v)) return 'x, y, z';
    return v.map((n) => (typeof n === 'number' ? String(n) : n.expression)).join(', ');
  },
  light: true,
  evaluate(context) {
    const v = context.input('value');
    if (!v || v.form !== 'single')
      throw new NodeError({ code: 'needs-single', port: 'value', count: v && 'count' in v ? v.count : 0 });
    const d = v.data;
    return { vector: vectorValue(d.length === 3 ? [d[0], d[1], d[2]] : [d[0], d[0], d[0]]) };
  },
};
