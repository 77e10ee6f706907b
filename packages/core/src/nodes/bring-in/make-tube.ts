import { makeTube as tubeMesh } from '../../geometry/solids.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { MESH_OUT, numberPort, toggleSetting, yes } from '../ports.ts';
import { checkPoints } from './make-grid.ts';
import { numberWithin, wholeWithin } from '../within.ts';

export const makeTube: NodeDefinition = {
  id: 'make-tube',
  version: 1,
  title: 'Make Tube',
  group: 'Bring in',
  summary: 'Makes a tube round the y axis, standing on the ground, with rings along it.',
  keywords: ['cylinder', 'pipe', 'pole', 'bottle'],
  inputs: () => [
    numberPort('radius', 'radius', 'm', 0.5, [0, 5], 'Distance from the axis to the side.'),
    numberPort('height', 'height', 'm', 2, [0, 10], 'How high it reaches from the ground.'),
    numberPort('rings', 'rings', undefined, 24, [1, 500], 'Bands of faces along it.', { kind: 'integer' }),
    numberPort('sides', 'sides', undefined, 24, [3, 500], 'Faces round it.', { kind: 'integer' }),
  ],
  outputs: () => [MESH_OUT],
  settings: [toggleSetting('caps', 'Caps', true, 'Close both ends with a face.')],
  sentence: (s) => (yes(s, 'caps') ? 'capped' : 'open'),
  evaluate(context) {
    const rings = wholeWithin(context, 'rings', 1);
    const sides = wholeWithin(context, 'sides', 3);
    checkPoints((rings + 1) * sides);
    return {
      mesh: meshValue(
        tubeMesh(
          numberWithin(context, 'radius', 0),
          numberWithin(context, 'height', 0),
          rings,
          sides,
          yes(context.settings, 'caps'),
        ),
      ),
    };
  },
};
