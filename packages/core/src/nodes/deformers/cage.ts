import { needElements } from '../attributes.ts';
import { bindToCage, followCage, MOST_CAGE_WEIGHTS } from '../../deform/cage.ts';
import { withPositions } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { isClosed } from '../../nearest/signed.ts';
import { driverAtRest } from '../driver-rest.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN } from '../ports.ts';

export const cage: NodeDefinition = {
  id: 'cage',
  version: 1,
  title: 'Cage',
  group: 'Deformers',
  summary: 'Makes a mesh follow a coarse closed mesh round it, smoothly, by mean-value weights bound once.',
  keywords: ['coarse', 'outer mesh', 'mean value', 'free form'],
  inputs: () => [
    MESH_IN,
    { id: 'cage', label: 'cage', kind: 'mesh', help: 'The closed coarse mesh, as it is now.' },
    {
      id: 'rest',
      label: 'cage at rest',
      kind: 'mesh',
      optional: true,
      help: 'The cage as it was when it fitted. Left open, its restPosition is used.',
    },
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: () => 'follows the cage',
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const now = context.mesh('cage');
    const rest = driverAtRest(context, now, 'cage');
    needElements(rest, 'face', 'The cage');
    if (!isClosed(rest)) throw new NodeError({ code: 'not-closed', what: 'The cage' });
    const count = rest.topology.pointCount * mesh.topology.pointCount;
    if (count > MOST_CAGE_WEIGHTS)
      throw new NodeError({ code: 'limit', what: 'The weights of the cage', count, most: MOST_CAGE_WEIGHTS });
    const bound = bindToCage(mesh, rest, context.checkpoint);
    const weight = context.view('weight', 'number', mesh.topology.pointCount);
    const out = followCage(context.room(mesh.positions.length), mesh.positions, bound, rest.positions, now.positions, weight);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
