import { mergeMeshes } from '../../geometry/merge.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { MESH_OUT, text } from '../ports.ts';

const letters = (count: number) => 'abcdefgh'.slice(0, count).split('');

export const merge: NodeDefinition = {
  id: 'merge',
  version: 1,
  title: 'Merge',
  group: 'Read and write',
  summary: 'Joins several meshes into one: points, faces and attributes one after the other.',
  keywords: ['join', 'combine', 'append', 'union'],
  inputs: (s) =>
    letters(Number(s.count)).map((id) => ({
      id,
      label: id,
      kind: 'mesh' as const,
      help: 'A mesh; its points come after those of the one before.',
    })),
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'count',
      label: 'Meshes',
      type: 'choice',
      options: ['2', '3', '4', '5', '6', '7', '8'].map((value) => ({ value, label: value })),
      default: '2',
      help: 'How many meshes are joined.',
    },
  ],
  sentence: (s) => `${text(s, 'count')} meshes`,
  passes: { mesh: 'a' },
  evaluate: (context) => ({
    mesh: meshValue(mergeMeshes(letters(Number(context.settings.count)).map((id) => context.mesh(id)))),
  }),
};
