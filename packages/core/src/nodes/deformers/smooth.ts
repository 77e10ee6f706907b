import { wholeWithin } from '../within.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { MOST_ROUNDS, smoothValues } from '../../geometry/smooth.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN, yes, typedWords } from '../ports.ts';
import { mixPositions } from './mix-positions.ts';

export const smooth: NodeDefinition = {
  id: 'smooth',
  version: 1,
  title: 'Smooth',
  group: 'Deformers',
  summary: 'Evens out the surface: points move towards the average of their neighbours, round after round.',
  keywords: ['relax', 'laplacian', 'blur', 'even'],
  inputs: () => [
    MESH_IN,
    {
      id: 'rounds',
      label: 'rounds',
      kind: 'integer',
      default: 4,
      range: { min: 0, max: 50 },
      uniform: true,
      help: 'How often each point takes half a step towards its neighbours.',
    },
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'pin',
      label: 'Pin borders',
      type: 'toggle',
      default: true,
      help: 'Leave the points on the rim of an open mesh where they are.',
    },
  ],
  sentence: (s, c) =>
    `${typedWords(c, 'rounds')} ${c.typed('rounds') === 1 ? 'round' : 'rounds'}${yes(s, 'pin') ? ', borders pinned' : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const rounds = wholeWithin(context, 'rounds', 0, MOST_ROUNDS);
    const pin = yes(context.settings, 'pin');
    const even = smoothValues(mesh.topology, mesh.positions, 3, rounds, pin, context.checkpoint, context.scratch);
    const weight = context.view('weight', 'number', mesh.topology.pointCount);
    return {
      mesh: meshValue(withPositions(mesh, mixPositions(context.room(even.length), mesh.positions, even, weight))),
    };
  },
};
