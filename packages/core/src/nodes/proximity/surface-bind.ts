import { wholeWithin } from '../within.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { bindToSurface, followSurface } from '../../deform/surface-bind.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { driverAtRest } from '../driver-rest.ts';
import { MESH_IN, MESH_OUT, numberPort, WEIGHT_IN, typedCount } from '../ports.ts';

export const surfaceBind: NodeDefinition = {
  id: 'surface-bind',
  version: 1,
  title: 'Surface Bind',
  group: 'Proximity',
  summary: 'Makes a mesh follow the deformation of another: bound once to its nearest faces at rest, carried by them since.',
  keywords: ['attach', 'follow', 'coarse', 'carried', 'drive'],
  inputs: () => [
    MESH_IN,
    { id: 'driver', label: 'driver', kind: 'mesh', help: 'The mesh to follow, as it is now.' },
    {
      id: 'rest',
      label: 'driver at rest',
      kind: 'mesh',
      optional: true,
      help: 'The driver as it was when both fitted. Left open, its restPosition is used.',
    },
    numberPort('faces', 'faces', undefined, 4, [1, 16], 'How many nearest faces carry each point; more is smoother.', {
      kind: 'integer',
    }),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: (_, c) => (c.connected('faces') ? 'nearest faces' : `nearest ${typedCount(c, 'faces', 'face')}`),
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const driver = context.mesh('driver');
    const rest = driverAtRest(context, driver, 'driver');
    if (rest.topology.faceCount === 0) throw new NodeError({ code: 'target-empty', what: '"driver"' });
    const bound = bindToSurface(mesh, rest, wholeWithin(context, 'faces', 1, 16), context.checkpoint);
    const weight = context.view('weight', 'number', mesh.topology.pointCount);
    const out = followSurface(context.room(mesh.positions.length), mesh.positions, bound, rest, driver, weight);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
