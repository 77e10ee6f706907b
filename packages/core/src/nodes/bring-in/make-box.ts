import { makeBox as boxMesh } from '../../geometry/solids.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue, type Single } from '../../graph/node/values.ts';
import { MESH_OUT, numberPort } from '../ports.ts';
import { checkPoints } from './make-grid.ts';
import { wholeWithin, within } from '../within.ts';

export const makeBox: NodeDefinition = {
  id: 'make-box',
  version: 1,
  title: 'Make Box',
  group: 'Bring in',
  summary: 'Makes a closed box about the origin, cut into cells along each axis.',
  keywords: ['cube', 'crate', 'block'],
  inputs: () => [
    {
      id: 'size',
      label: 'size',
      kind: 'vector',
      unit: 'm',
      uniform: true,
      default: [1, 1, 1],
      range: { min: 0, max: 10 },
      help: 'Lengths along x, y and z.',
    },
    ...['x', 'y', 'z'].map((axis) =>
      numberPort(axis, `cells ${axis}`, undefined, 1, [1, 100], `Faces along ${axis}.`, { kind: 'integer' }),
    ),
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: () => 'cells along x, y and z',
  evaluate(context) {
    const [x, y, z] = ['x', 'y', 'z'].map((axis) => wholeWithin(context, axis, 1));
    checkPoints(2 * ((x + 1) * (y + 1) + (y + 1) * (z + 1) + (x + 1) * (z + 1)));
    const { data } = context.input('size') as Single;
    const size = [0, 1, 2].map((axis) => within(context, 'size', data[data.length === 3 ? axis : 0], 0)) as [
      number,
      number,
      number,
    ];
    return { mesh: meshValue(boxMesh(size, [x, y, z])) };
  },
};
