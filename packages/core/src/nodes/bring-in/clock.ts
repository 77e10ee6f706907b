import type { NodeDefinition } from '../../graph/node/definition.ts';
import { numberValue } from '../../graph/node/values.ts';

export const clock: NodeDefinition = {
  id: 'clock',
  version: 1,
  title: 'Clock',
  group: 'Bring in',
  summary: 'The present time: frame, seconds since frame 0, and fraction of the range.',
  keywords: ['time', 'frame', 'seconds', 'animation'],
  inputs: () => [],
  outputs: () => [
    { id: 'frame', label: 'frame', kind: 'number', help: 'The present frame.' },
    { id: 'seconds', label: 'seconds', kind: 'number', unit: 's', help: 'Frame divided by the frame rate.' },
    {
      id: 'fraction',
      label: 'fraction',
      kind: 'number',
      help: '0 at the first frame of the range, 1 at the last.',
    },
  ],
  settings: [],
  sentence: () => 'frame, seconds, fraction of the range',
  readsTime: () => true,
  light: true,
  evaluate: ({ time }) => ({
    frame: numberValue(time.frame),
    seconds: numberValue(time.seconds),
    fraction: numberValue(time.fraction),
  }),
};
