import type { NodeDefinition } from '../../graph/node/definition.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { isClosed } from '../../nearest/signed.ts';
import { FALLOFF_OUT, text, toggleSetting, yes } from '../ports.ts';
import { needTarget, ON, onOf, TARGET_IN } from '../proximity/target.ts';
import { FADE_SETTINGS, fadePorts, invertedWords, readFade } from './fade.ts';

export const surfaceFalloff: NodeDefinition = {
  id: 'surface-falloff',
  version: 1,
  title: 'Surface Falloff',
  group: 'Falloffs',
  summary: 'A weight by distance to a mesh: its points, edges or faces.',
  keywords: ['proximity', 'distance', 'near', 'mesh', 'contact'],
  inputs: () => [TARGET_IN, ...fadePorts('m', 0, 0.5)],
  outputs: () => [FALLOFF_OUT],
  settings: [
    ON,
    toggleSetting('inside', 'Inside counts as full', true, 'Places inside a closed mesh get the weight of its surface.'),
    ...FADE_SETTINGS,
  ],
  sentence: (s) => `by distance to ${text(s, 'on')}${invertedWords(s)}`,
  evaluate(context) {
    const on = onOf(context.settings);
    const mesh = needTarget(context, on);
    const wanted = yes(context.settings, 'inside') && on === 'faces';
    const signed = wanted && isClosed(mesh);
    if (wanted && !signed) context.report({ code: 'not-closed', what: 'The target', severity: 'note' });
    return { falloff: falloffValue({ type: 'surface', mesh, on, signed, fade: readFade(context) }) };
  },
};
