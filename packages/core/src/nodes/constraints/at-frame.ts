import { counted } from '../../words.ts';
import type { InputPort, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import type { Value } from '../../graph/node/values.ts';
import { choiceSetting } from '../ports.ts';

const KINDS = ['number', 'vector', 'matrix', 'mesh'] as const;
const kindOf = (s: Settings) => KINDS.find((k) => k === s.what) ?? 'number';

export const atFrame: NodeDefinition = {
  id: 'at-frame',
  version: 1,
  title: 'At Frame',
  group: 'Constraints',
  summary: 'Gives anything as it is at another frame: some frames ago, or always the same one.',
  keywords: ['lag', 'delay', 'echo', 'earlier', 'time', 'offset'],
  inputs: (s): InputPort[] => [
    {
      id: 'value',
      label: 'value',
      kind: kindOf(s),
      help: 'What is looked at; everything behind it is worked out at the other frame.',
    },
  ],
  outputs: (s) => [{ id: 'value', label: 'value', kind: kindOf(s), help: 'The same at the other frame.' }],
  settings: [
    choiceSetting(
      'what',
      'What',
      [
        ['matrix', 'A matrix'],
        ['number', 'A number'],
        ['vector', 'A vector'],
        ['mesh', 'A mesh'],
      ],
      'What kind of value it is.',
    ),
    choiceSetting(
      'when',
      'When',
      [
        ['earlier', 'So many frames earlier'],
        ['at', 'At one frame'],
      ],
      'Counted from the present frame, or always the same.',
    ),
    {
      id: 'frames',
      label: 'Frames',
      type: 'number',
      whole: true,
      default: 6,
      range: { min: -48, max: 240 },
      unit: 'frames',
      help: 'How many frames earlier (negative is later), or which frame.',
    },
  ],
  sentence: (s) =>
    s.when === 'at'
      ? `at frame ${s.frames}`
      : `${counted(Math.abs(Number(s.frames)), 'frame')} ${Number(s.frames) < 0 ? 'later' : 'earlier'}`,
  readsFrame: (s, frame) => (s.when === 'at' ? Number(s.frames) : frame - Number(s.frames)),
  passes: { value: 'value' },
  light: true,
  evaluate: (context) => ({ value: context.input('value') as Value }),
};
