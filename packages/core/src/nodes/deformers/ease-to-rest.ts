import { withPositions } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { needAttribute, REST_POSITION } from '../attributes.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN, typedWords } from '../ports.ts';
import { mixPositions } from './mix-positions.ts';

export const easeToRest: NodeDefinition = {
  id: 'ease-to-rest',
  version: 1,
  title: 'Ease To Rest',
  group: 'Deformers',
  summary: 'Moves points back towards their restPosition by a weight: 1 undoes what was done to them since.',
  keywords: ['undo', 'restore', 'fade', 'rest', 'blend back'],
  inputs: () => [
    MESH_IN,
    {
      ...WEIGHT_IN,
      default: 0.5,
      help: 'How far back each point goes: 0 leaves it, 1 puts it at rest. A single value or one per point.',
    },
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: (_, c) => (c.connected('weight') ? 'by the weight on the wire' : `by ${typedWords(c, 'weight')}`),
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const rest = needAttribute(mesh, REST_POSITION, 'point').data as Float32Array;
    const weight = context.view('weight', 'number', mesh.topology.pointCount);
    return {
      mesh: meshValue(withPositions(mesh, mixPositions(context.room(rest.length), mesh.positions, rest, weight))),
    };
  },
};
