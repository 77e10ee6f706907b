import { findAttribute, withAttribute } from '../../geometry/mesh.ts';
import { normalsOf } from '../../geometry/derived.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { REST_NORMAL, REST_POSITION } from '../attributes.ts';
import { MESH_IN, MESH_OUT, yes } from '../ports.ts';

export const rememberRest: NodeDefinition = {
  id: 'remember-rest',
  version: 1,
  title: 'Remember Rest',
  group: 'Read and write',
  summary: 'Stores where the points are and face now, as restPosition and restNormal, for what deforms them later.',
  keywords: ['rest', 'reference', 'undeformed', 'restPosition', 'restNormal', 'stick'],
  inputs: () => [MESH_IN],
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'missing',
      label: 'Only where missing',
      type: 'toggle',
      default: true,
      help: 'Keep a rest that is there already, so that chained uses are safe.',
    },
  ],
  sentence: (s) => (yes(s, 'missing') ? 'only where missing' : 'always anew'),
  passes: { mesh: 'mesh' },
  evaluate(context) {
    let mesh = context.mesh('mesh');
    const keep = yes(context.settings, 'missing');
    const { positions } = mesh;
    if (!keep || !findAttribute(mesh, REST_POSITION, 'point')) {
      mesh = withAttribute(mesh, {
        name: REST_POSITION,
        on: 'point',
        type: 'vector',
        role: 'position',
        data: positions,
      });
    }
    if (!keep || !findAttribute(mesh, REST_NORMAL, 'point')) {
      const data = normalsOf(mesh, 'angle', context.checkpoint);
      mesh = withAttribute(mesh, { name: REST_NORMAL, on: 'point', type: 'vector', role: 'normal', data });
    }
    return { mesh: meshValue(mesh) };
  },
};
