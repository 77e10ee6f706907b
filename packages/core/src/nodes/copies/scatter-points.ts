import { numberWithin, wholeWithin } from '../within.ts';
import { needElements } from '../attributes.ts';
import { scatter } from '../../copies/scatter.ts';
import { makeMesh } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue, pointColumn } from '../../graph/node/values.ts';
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
  keywords: ['random', 'sprinkle', 'spread', 'strew'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh to scatter on or in.' },
    numberPort('count', 'count', undefined, 200, [0, 10_000], 'How many; fewer when the spacing leaves no room.', {
      kind: 'integer',
    }),
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
  settings: [
    choiceSetting(
      'where',
      'Where',
      [
        ['faces', 'On the faces'],
        ['inside', 'Inside'],
      ],
      'On the faces, as many as their area asks for; or inside a closed mesh.',
    ),
  ],
  sentence: (s, c) => `${typedWords(c, 'count')} ${s.where === 'inside' ? 'inside' : 'on the faces'}`,
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const inside = context.settings.where === 'inside';
    const count = wholeWithin(context, 'count', 0);
    if (count > MOST) throw new NodeError({ code: 'limit', what: 'The scattered points', count, most: MOST });
    needElements(mesh, 'face');
    if (inside && !isClosed(mesh)) throw new NodeError({ code: 'not-closed', what: 'The mesh' });
    const { positions, normals, lacks } = scatter(
      mesh,
      count,
      context.integer('seed'),
      numberWithin(context, 'spacing', 0),
      inside,
      context.checkpoint,
    );
    const placed = positions.length / 3;
    if (lacks === 'spacing') context.report({ code: 'no-room', placed, count, severity: 'note' });
    else if (lacks && inside) context.report({ code: 'no-inside', placed, count, severity: 'warning' });
    else if (lacks) context.report({ code: 'no-area', severity: 'warning' });
    const points = makeMesh(positions, Int32Array.of(0), new Int32Array(0));
    return { mesh: meshValue(points), normals: pointColumn(points, 'vector', normals, 'normal') };
  },
};
