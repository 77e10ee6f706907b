import type { NodeDefinition } from '../../graph/node/definition.ts';
import { MESH_IN, MESH_OUT, numberPort, WEIGHT_IN, typedWords } from '../ports.ts';
import { DIRECTION_IN, pushOut } from './push-out.ts';

export const swellOut: NodeDefinition = {
  id: 'swell-out',
  version: 1,
  title: 'Swell Out',
  group: 'Deformers',
  summary: 'Pushes points out along their normals, or along a direction, under a weight.',
  keywords: ['puff up', 'thicken', 'offset', 'grow', 'blow up'],
  inputs: () => [
    MESH_IN,
    numberPort('amount', 'amount', 'm', 0.1, [-1, 1], 'How far at full weight: one value, or one per point.', { uniform: false }),
    DIRECTION_IN,
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: (_, c) =>
    `${c.connected('amount') ? 'the amount on the wire' : `${typedWords(c, 'amount')} m`} ${c.connected('direction') ? 'along the direction' : 'along normals'}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { data, step } = context.view('amount', 'number', mesh.topology.pointCount);
    if (step === 0) return pushOut(context, mesh, data[0]);
    return pushOut(context, mesh, (by, from, count) => {
      for (let i = 0; i < count; i++) by[i] = data[from + i];
    });
  },
};
