import { scatter } from '../../copies/scatter.ts';
import { makeMesh } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/definition.ts';
import { NodeError } from '../../graph/problems.ts';
import { meshValue, pointColumn } from '../../graph/values.ts';
import { isClosed } from '../../nearest/signed.ts';
import { choiceSetting, MESH_IN, MESH_OUT, numberPort, typedWords } from '../ports.ts';

/** Most places one node scatters. */
const MOST = 2_000_000;

export const scatterPoints: NodeDefinition = {
  id: 'scatter-points',
  version: 1,
  title: 'Scatter Points',
  group: 'Copies',
  summary: 'Scatters points over the faces of a mesh, or inside it: the same seed, the same places.',
  keywords: ['distribute', 'random', 'sprinkle', 'spread', 'sample'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh to scatter on or in.' },
    numberPort('count', 'count', undefined, 200, [0, 10_000], 'How many; fewer when the spacing leaves no room.', { kind: 'integer' }), // prettier-ignore
    numberPort('spacing', 'spacing', 'm', 0, [0, 2], 'No two are nearer than this; 0 does not look.'),
    numberPort('seed', 'seed', undefined, 1, [0, 100], 'Another number gives other places.', {
      kind: 'integer',
    }),
  ],
  outputs: () => [
    { ...MESH_OUT, label: 'points', help: 'The points, as a mesh without faces.' },
    {
      id: 'normals',
      label: 'normals',
      kind: 'vector',
      help: 'Which way the surface faces at each; 0 inside.',
    },
  ],
  settings: [choiceSetting('where', 'Where', [['faces', 'On the faces'], ['inside', 'Inside']], 'On the faces, as many as their area asks for; or inside a closed mesh.')], // prettier-ignore
  sentence: (s, c) => `${typedWords(c, 'count')} ${s.where === 'inside' ? 'inside' : 'on the faces'}`,
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const inside = context.settings.where === 'inside';
    const count = Math.max(0, context.integer('count'));
    if (count > MOST) throw new NodeError({ code: 'limit', what: 'The scattered points', count, most: MOST });
    if (mesh.topology.faceCount === 0) throw new NodeError({ code: 'no-elements', on: 'face' });
    if (inside && !isClosed(mesh)) throw new NodeError({ code: 'not-closed', what: 'The mesh' });
    const { positions, normals } = scatter(mesh, count, context.integer('seed'), Math.max(0, context.number('spacing')), inside, context.checkpoint); // prettier-ignore
    if (positions.length < count * 3 && context.number('spacing') > 0)
      context.report({ code: 'no-room', placed: positions.length / 3, count, severity: 'note' }); // prettier-ignore
    const points = makeMesh(positions, Int32Array.of(0), new Int32Array(0));
    return { mesh: meshValue(points), normals: pointColumn(points, 'vector', normals, 'normal') };
  },
};
