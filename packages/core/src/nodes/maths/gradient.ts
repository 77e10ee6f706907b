import type { NodeDefinition, Setting } from '../../graph/node/definition.ts';
import { compileGradient, readGradient, UMBER_GRADIENT } from '../../maths/gradient.ts';
import type { Gradient } from '../../maths/gradient.ts';

export const GRADIENT: Setting = {
  id: 'gradient',
  label: 'Gradient',
  type: 'gradient',
  default: UMBER_GRADIENT,
  help: 'Colours from 0 at the left to 1 at the right.',
};

export const gradient: NodeDefinition = {
  id: 'gradient',
  version: 1,
  title: 'Gradient',
  group: 'Maths',
  summary: 'Turns numbers from 0 to 1 into colours along an editable gradient.',
  keywords: ['colour', 'color', 'colours', 'map'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'number',
      default: 0.5,
      range: { min: 0, max: 1 },
      help: 'Where to read the gradient: 0 is its left end, 1 its right; beyond, the end colours go on.',
    },
  ],
  outputs: () => [{ id: 'colour', label: 'colour', kind: 'vector', help: 'Linear red, green and blue.' }],
  settings: [GRADIENT],
  sentence: (s) => `${(s.gradient as Gradient).stops.length} colours`,
  elements: {
    plan: () => ({
      inputs: [{ port: 'value', lane: 'number' }],
      outputs: [{ port: 'colour', lane: 'vector' }],
    }),
    compile: (s) => {
      const compiled = compileGradient(s.gradient as Gradient);
      return (inputs, inputAt, outputs, outputAt, count) => {
        const value = inputs[0],
          out = outputs[0],
          i = inputAt[0],
          o = outputAt[0];
        for (let k = 0; k < count; k++) readGradient(out, o + k * 3, compiled, value[i + k]);
      };
    },
  },
};
