import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { falloffValue } from '../../graph/node/values.ts';
import { ATTRIBUTE_NAME, checkName, needAttribute } from '../attributes.ts';
import { FALLOFF_OUT, MESH_IN, text, toggleSetting, yes } from '../ports.ts';

export const attributeFalloff: NodeDefinition = {
  id: 'attribute-falloff',
  version: 1,
  title: 'Attribute Falloff',
  group: 'Falloffs',
  summary: 'A weight stored on a mesh: every place has that of the nearest point.',
  keywords: ['stored', 'painted', 'mask', 'point set'],
  inputs: () => [{ ...MESH_IN, help: 'The mesh that has the attribute.' }],
  outputs: () => [FALLOFF_OUT],
  settings: [ATTRIBUTE_NAME, toggleSetting('invert', 'Invert', false, 'One minus the weight.')],
  sentence: (s) => (text(s, 'name') ? `${text(s, 'name')} of the nearest point` : 'no attribute yet'),
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const found = needAttribute(mesh, checkName(text(context.settings, 'name')), 'point');
    if (found.data.length !== mesh.topology.pointCount) throw new NodeError({ code: 'attribute-width', name: found.name });
    return { falloff: falloffValue({ type: 'attribute', mesh, values: found.data, invert: yes(context.settings, 'invert') }) };
  },
};
