import type { NodeDefinition } from '../../graph/definition.ts';
import { LANE_WIDTH, widest } from './lanes.ts';

export const choose: NodeDefinition = {
  id: 'choose',
  version: 1,
  title: 'Choose',
  group: 'Maths',
  summary: 'Takes b where the condition is yes (above one half), else a; element by element.',
  keywords: ['switch', 'if', 'select', 'either', 'condition'],
  inputs: () => [
    {
      id: 'condition',
      label: 'condition',
      kind: 'number',
      default: 0,
      range: { min: 0, max: 1 },
      help: 'Yes is 1, no is 0; anything above one half counts as yes.',
    },
    { id: 'a', label: 'a', kind: 'value', default: 0, range: { min: -10, max: 10 }, help: 'What no gives.' },
    { id: 'b', label: 'b', kind: 'value', default: 1, range: { min: -10, max: 10 }, help: 'What yes gives.' },
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'value', help: 'a or b.' }],
  settings: [],
  sentence: () => 'b where yes, else a',
  passes: { result: 'a' },
  elements: {
    plan: (_, kinds) => {
      const lane = widest(kinds, ['a', 'b']);
      return { inputs: [{ port: 'condition', lane: 'number' }, { port: 'a', lane }, { port: 'b', lane }], outputs: [{ port: 'result', lane }] }; // prettier-ignore
    },
    compile: (_, plan) => {
      const width = LANE_WIDTH[plan.outputs[0].lane];
      return (inputs, inputAt, outputs, outputAt, count) => {
        const condition = inputs[0], a = inputs[1], b = inputs[2], out = outputs[0]; // prettier-ignore
        const i = inputAt[1], j = inputAt[2], o = outputAt[0]; // prettier-ignore
        for (let k = 0, e = 0; k < count; k++) {
          const yes = condition[inputAt[0] + k] > 0.5;
          for (let axis = 0; axis < width; axis++, e++) out[o + e] = yes ? b[j + e] : a[i + e];
        }
      };
    },
  },
};
