import { SHOWN_PORT, type NodeDefinition } from '../../graph/node/definition.ts';
import type { Value } from '../../graph/node/values.ts';
import { MESH_IN, text } from '../ports.ts';

export const showMesh: NodeDefinition = {
  id: 'show-mesh',
  version: 1,
  title: 'Show Mesh',
  group: 'Flow',
  summary: 'Shows a mesh, curves or copies on the stage as a named result that can be exported and baked.',
  keywords: ['output', 'result', 'display', 'render', 'bake', 'export'],
  inputs: () => [{ ...MESH_IN, kind: 'geometry', help: 'The mesh, curves or copies to show.' }],
  outputs: () => [],
  settings: [
    {
      id: 'object',
      label: 'Result of',
      type: 'object',
      takes: 'mesh',
      optional: true,
      help: 'The object whose mesh this replaces on the stage; none shows it beside the others.',
    },
    {
      id: 'under',
      label: 'Hangs under',
      type: 'object',
      takes: 'any',
      optional: true,
      shown: (s) => !text(s, 'object'),
      help: 'The object that it goes with: hidden where that is, and in its space when it is baked.',
    },
    {
      id: 'name',
      label: 'Name',
      type: 'text',
      default: '',
      help: 'The name of the result when it is exported or baked; empty takes the object’s.',
    },
  ],
  sentence: (s, c) => {
    const object = c.objectName(s.object);
    const name = text(s, 'name');
    const under = c.objectName(s.under);
    if (object) return `${name && name !== object ? `${name}: ` : ''}result of ${object}`;
    return `${name || 'a result of its own'}${under ? ` under ${under}` : ''}`;
  },
  shows: (s) => ({
    object: text(s, 'object') || null,
    under: text(s, 'object') ? null : text(s, 'under') || null,
    name: text(s, 'name'),
  }),
  evaluate: (context) => ({ [SHOWN_PORT]: context.input('mesh') as Value }),
};
