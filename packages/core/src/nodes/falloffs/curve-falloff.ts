import { tracksOf } from '../../curves/track.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { CURVES_IN, FALLOFF_OUT, toggleSetting, yes } from '../ports.ts';
import { FADE_SETTINGS, fadePorts, invertedWords, readFade } from './fade.ts';

export const curveFalloff: NodeDefinition = {
  id: 'curve-falloff',
  version: 1,
  title: 'Curve Falloff',
  group: 'Falloffs',
  summary: 'A weight by distance to curves; the reach may follow their width.',
  keywords: ['path', 'distance', 'near', 'tube'],
  inputs: () => [{ ...CURVES_IN, help: 'The curves to be near to.' }, ...fadePorts('m', 0, 0.5)],
  outputs: () => [FALLOFF_OUT],
  settings: [
    toggleSetting('useWidth', 'By width', true, 'Inner and outer are multiplied by the width of the curve there.'),
    ...FADE_SETTINGS,
  ],
  sentence: (s) => `by distance to curves${yes(s, 'useWidth') ? ' and their width' : ''}${invertedWords(s)}`,
  evaluate(context) {
    const curves = context.curves('curves');
    if (tracksOf(curves).length === 0) throw new NodeError({ code: 'target-empty', what: '"curves"' });
    return {
      falloff: falloffValue({ type: 'curve', curves, useWidth: yes(context.settings, 'useWidth'), fade: readFade(context) }),
    };
  },
};
