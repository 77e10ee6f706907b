import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { ATTRIBUTE_NAME, checkName, needAttribute } from '../attributes.ts';
import { MESH_IN, MESH_OUT, text } from '../ports.ts';

export const dropAttribute: NodeDefinition = {
  id: 'drop-attribute',
  version: 1,
  title: 'Drop Attribute',
  group: 'Read and write',
  summary: 'Takes what a mesh carries under a name off it.',
  keywords: ['remove', 'forget', 'clear', 'clean'],
  inputs: () => [MESH_IN],
  outputs: () => [MESH_OUT],
  settings: [ATTRIBUTE_NAME],
  sentence: (s) => text(s, 'name') || 'no name yet',
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { name } = needAttribute(mesh, checkName(text(context.settings, 'name')));
    return { mesh: meshValue({ ...mesh, attributes: mesh.attributes.filter((a) => a.name !== name) }) };
  },
};
