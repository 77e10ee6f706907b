import type { NodeDefinition } from '../../graph/node/definition.ts';
import { typedWords } from '../ports.ts';
import { NodeError } from '../../graph/node/problems.ts';
import type { Column, Single, Value } from '../../graph/node/values.ts';

export const pick: NodeDefinition = {
  id: 'pick',
  version: 1,
  title: 'Pick',
  group: 'Read and write',
  summary: 'Takes the value at an index out of a column, or a value for each of a column of indices.',
  keywords: ['index', 'element', 'sample', 'lookup'],
  inputs: () => [
    { id: 'values', label: 'values', kind: 'value', help: 'The column to take from.' },
    {
      id: 'index',
      label: 'index',
      kind: 'integer',
      default: 0,
      range: { min: 0, max: 100 },
      help: 'Which to take, from 0; rounded.',
    },
  ],
  outputs: () => [{ id: 'value', label: 'value', kind: 'value', help: 'The value there.' }],
  settings: [
    {
      id: 'outside',
      label: 'Outside',
      type: 'choice',
      options: [
        { value: 'clamp', label: 'Clamp to the ends' },
        { value: 'wrap', label: 'Wrap round' },
        { value: 'error', label: 'Is an error' },
      ],
      default: 'clamp',
      help: 'What an index below 0 or past the end means.',
    },
  ],
  sentence: (s, c) => `${c.connected('index') ? 'by index' : `index ${typedWords(c, 'index')}`}, ${String(s.outside)}`,
  evaluate(context) {
    const values = context.input('values') as Column | Single;
    if (values.form === 'single') return { value: values };
    const index = context.input('index') as Column | Single;
    const width = values.kind === 'vector' ? 3 : 1;
    const place = (raw: number): number => {
      const i = Math.round(raw);
      const { count } = values;
      if (i >= 0 && i < count) return i;
      if (context.settings.outside === 'error' || count === 0) throw new NodeError({ code: 'index-range', index: i, count });
      return context.settings.outside === 'wrap' ? ((i % count) + count) % count : i < 0 ? 0 : count - 1;
    };
    if (index.form === 'single') {
      const at = place(index.data[0]) * width;
      const value: Value = {
        form: 'single',
        kind: values.kind,
        data: Float64Array.from(values.data.slice(at, at + width)),
      };
      return { value };
    }
    const data = values.data instanceof Int32Array ? context.integers(index.count) : context.floats(index.count * width);
    for (let k = 0; k < index.count; k++) {
      const at = place(index.data[k]) * width;
      for (let axis = 0; axis < width; axis++) data[k * width + axis] = values.data[at + axis];
    }
    return { value: { ...index, kind: values.kind, role: values.role, data } };
  },
};
