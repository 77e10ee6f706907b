import type { InputPort, NodeContext, Setting, Settings } from '../../graph/node/definition.ts';
import type { Fade } from '../../falloffs/falloff.ts';
import { RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { numberPort, toggleSetting, yes } from '../ports.ts';
import { rangeBetween } from '../within.ts';

/** Where a falloff is full and where it ends; `unit` is metres, or none for shapes, whose size is their locator's. */
export const fadePorts = (unit: 'm' | undefined, inner: number, outer: number): InputPort[] => [
  numberPort('inner', 'inner', unit, inner, [0, 5], 'Up to here the weight is 1.'),
  numberPort('outer', 'outer', unit, outer, [0, 5], 'From here on the weight is 0. The same as inner makes a hard step.'),
];

export const FADE_SETTINGS: readonly Setting[] = [
  {
    id: 'response',
    label: 'Response',
    type: 'response',
    default: RESPONSE_PRESETS['Ease up'],
    help: 'How the weight rises on the way in: 0 at the outer end, 1 at the inner one.',
  },
  toggleSetting('invert', 'Invert', false, 'Full outside and nothing inside.'),
];

/** What the ports and settings above come to. */
export function readFade(context: NodeContext): Fade {
  const { settings } = context;
  const [inner, outer] = rangeBetween(context, 'inner', 'outer');
  return {
    inner,
    outer,
    response: settings.response as Response,
    invert: yes(settings, 'invert'),
  };
}

/** The end of a card's sentence. */
export const invertedWords = (s: Settings) => (yes(s, 'invert') ? ', inverted' : '');
