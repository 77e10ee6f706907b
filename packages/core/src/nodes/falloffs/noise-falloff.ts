import { wholeWithin } from '../within.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { falloffValue, type Single } from '../../graph/node/values.ts';
import { FALLOFF_OUT, numberPort, toggleSetting, yes, typedWords } from '../ports.ts';

export const noiseFalloff: NodeDefinition = {
  id: 'noise-falloff',
  version: 1,
  title: 'Noise Falloff',
  group: 'Falloffs',
  summary: 'A weight from noise, between 0 and 1, to break up other falloffs.',
  keywords: ['random', 'patches', 'simplex', 'break up'],
  inputs: () => [
    numberPort('frequency', 'frequency', '/m', 2, [0, 20], 'Bumps per metre.'),
    numberPort('octaves', 'octaves', undefined, 2, [1, 8], 'Layers of finer detail.', { kind: 'integer' }),
    numberPort('contrast', 'contrast', undefined, 2, [0, 10], 'How steep the way from 0 to 1 is.'),
    {
      id: 'offset',
      label: 'offset',
      kind: 'vector',
      uniform: true,
      default: [0, 0, 0],
      range: { min: -10, max: 10 },
      help: 'Moves the noise; animate it to make it drift.',
    },
    numberPort('seed', 'seed', undefined, 1, [0, 100], 'Another number gives another noise.', {
      kind: 'integer',
    }),
  ],
  outputs: () => [FALLOFF_OUT],
  settings: [toggleSetting('invert', 'Invert', false, 'One minus the weight.')],
  sentence: (s, c) =>
    `${c.connected('frequency') ? '…' : typedWords(c, 'frequency')} per metre${yes(s, 'invert') ? ', inverted' : ''}`,
  evaluate(context) {
    const { data } = context.input('offset') as Single;
    const offset = data.length === 3 ? ([data[0], data[1], data[2]] as const) : ([data[0], data[0], data[0]] as const);
    return {
      falloff: falloffValue({
        type: 'noise',
        frequency: context.number('frequency'),
        octaves: wholeWithin(context, 'octaves', 1, 8),
        contrast: context.number('contrast'),
        seed: context.integer('seed'),
        offset,
        invert: yes(context.settings, 'invert'),
      }),
    };
  },
};
