import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { MESH_OUT } from '../ports.ts';

export const copiesToMesh: NodeDefinition = {
  id: 'copies-to-mesh',
  version: 1,
  title: 'Copies To Mesh',
  group: 'Copies',
  summary: 'Turns copies into one mesh that has all their points. Nodes that need points do the same by themselves.',
  keywords: ['single mesh', 'join', 'points', 'geometry'],
  inputs: () => [
    { id: 'mesh', label: 'copies', kind: 'mesh', joinsCopies: true, help: 'The copies; a mesh goes through as it is.' },
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: () => 'one mesh of all copies',
  passes: { mesh: 'mesh' },
  evaluate: (context) => ({ mesh: meshValue(context.mesh('mesh')) }),
};
