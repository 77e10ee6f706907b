import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { compose } from '../../maths/factors.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
import { scale } from '../../maths/vector.ts';
import { ROTATION_ORDER, singleVector, vectorPort } from '../ports.ts';
import { matrixOutput } from './lanes.ts';

export const buildMatrix: NodeDefinition = {
  id: 'build-matrix',
  version: 1,
  title: 'Build Matrix',
  group: 'Matrices',
  summary: 'Makes a matrix that sizes, shears, turns and then moves.',
  keywords: ['put together', 'transform', 'translate', 'rotate', 'scale'],
  inputs: () => [
    vectorPort('translate', 'move', 'm', 0, [-5, 5], 'How far it moves; applied last.'),
    vectorPort('rotate', 'turn', '°', 0, [-180, 180], 'Turns about x, y and z, in the order of the setting.'),
    vectorPort('scale', 'size', undefined, 1, [0, 3], 'Size along x, y and z; applied first.'),
    vectorPort('shear', 'shear', undefined, 0, [-1, 1], 'How much y leans to x, z to x and z to y, between size and turn.'),
  ],
  outputs: () => [matrixOutput('matrix', 'matrix', 'The matrix.')],
  settings: [ROTATION_ORDER],
  sentence: () => 'size, shear, turn, move',
  light: true,
  evaluate: (context) => ({
    matrix: matrixValue(
      compose(
        singleVector(context, 'translate'),
        scale(singleVector(context, 'rotate'), RADIANS_PER_DEGREE),
        context.settings.order as RotationOrder,
        singleVector(context, 'scale'),
        singleVector(context, 'shear'),
      ),
    ),
  }),
};
