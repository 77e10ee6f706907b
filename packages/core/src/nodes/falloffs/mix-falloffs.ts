import { MIX_WAYS, type MixWay } from '../../falloffs/falloff.ts';
import type { NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { choiceSetting, FALLOFF_OUT, numberPort, text } from '../ports.ts';

const MOST = 8;
const numbers = (s: Settings) => Array.from({ length: Number(s.count) - 1 }, (_, i) => i + 1);
const WAYS = MIX_WAYS.map((w) => [w, w[0].toUpperCase() + w.slice(1)] as const);

export const mixFalloffs: NodeDefinition = {
  id: 'mix-falloffs',
  version: 1,
  title: 'Mix Falloffs',
  group: 'Falloffs',
  summary: 'Mixes falloffs into one, in order, each with a way and a strength; still one pass over the points.',
  keywords: ['combine', 'add', 'subtract', 'multiply', 'blend', 'mask'],
  inputs: (s) => [
    { id: 'base', label: 'base', kind: 'falloff', help: 'The falloff the others go into.' },
    ...numbers(s).flatMap((i) => [
      {
        id: `falloff${i}`,
        label: `falloff ${i}`,
        kind: 'falloff' as const,
        help: 'Goes into what is above it.',
      },
      numberPort(`strength${i}`, `strength ${i}`, undefined, 1, [0, 1], 'How much of it goes in: 0 is none.'),
    ]),
    numberPort('floor', 'floor', undefined, 0, [0, 1], 'The weight is never below this.'),
  ],
  outputs: () => [FALLOFF_OUT],
  settings: [
    choiceSetting(
      'count',
      'Falloffs',
      ['2', '3', '4', '5', '6', '7', '8'].map((v) => [v, v]),
      'How many are mixed, the base among them.',
    ),
    ...Array.from({ length: MOST - 1 }, (_, i) =>
      choiceSetting(
        `way${i + 1}`,
        `Way ${i + 1}`,
        WAYS,
        `How falloff ${i + 1} goes into what is above it.`,
        (s) => Number(s.count) > i + 1,
      ),
    ),
  ],
  sentence: (s) =>
    `base, ${numbers(s)
      .map((i) => text(s, `way${i}`))
      .join(', ')}`,
  passes: { falloff: 'base' },
  evaluate: (context) => ({
    falloff: falloffValue({
      type: 'mix',
      base: context.falloff('base'),
      floor: context.number('floor'),
      parts: numbers(context.settings).map((i) => ({
        falloff: context.falloff(`falloff${i}`),
        way: text(context.settings, `way${i}`) as MixWay,
        strength: context.number(`strength${i}`),
      })),
    }),
  }),
};
