import type { NodeDefinition } from '../../graph/node/definition.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { FALLOFF_IN, FALLOFF_OUT, numberPort, toggleSetting, yes } from '../ports.ts';

export const shapeResponse: NodeDefinition = {
  id: 'shape-response',
  version: 1,
  title: 'Shape Response',
  group: 'Falloffs',
  summary: 'Reshapes any falloff: its weights through a response, inverted or taken to another range.',
  keywords: ['curve', 'invert', 'remap', 'ease', 'contrast'],
  inputs: () => [
    FALLOFF_IN,
    numberPort('low', 'low', undefined, 0, [0, 1], 'What a weight of 0 becomes.'),
    numberPort('high', 'high', undefined, 1, [0, 1], 'What a weight of 1 becomes.'),
  ],
  outputs: () => [FALLOFF_OUT],
  settings: [
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS.Straight,
      help: 'From the weight that comes in to the one that goes out.',
    },
    toggleSetting('invert', 'Invert', false, 'One minus the weight.'),
  ],
  sentence: (s) => `reshaped${yes(s, 'invert') ? ', inverted' : ''}`,
  passes: { falloff: 'falloff' },
  evaluate: (context) => ({
    falloff: falloffValue({
      type: 'reshaped',
      of: context.falloff('falloff'),
      response: context.settings.response as Response,
      invert: yes(context.settings, 'invert'),
      low: context.number('low'),
      high: context.number('high'),
    }),
  }),
};
