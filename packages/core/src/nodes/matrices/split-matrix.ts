import type { NodeDefinition } from '../../graph/node/definition.ts';
import type { RotationOrder } from '../../maths/rotation.ts';
import { ROTATION_ORDER } from '../ports.ts';
import { matrixPort, partsOf, singleMatrix } from './lanes.ts';

export const splitMatrix: NodeDefinition = {
  id: 'split-matrix',
  version: 1,
  title: 'Split Matrix',
  group: 'Matrices',
  summary: 'Takes a matrix apart: where it puts the origin, its turns, size, shear and axes.',
  keywords: ['take apart', 'transform', 'position', 'rotation', 'axes'],
  inputs: () => [matrixPort('matrix', 'matrix', 'The matrix to take apart.')],
  outputs: () => [
    { id: 'translate', label: 'move', kind: 'vector', unit: 'm', help: 'Where it puts the origin.' },
    { id: 'rotate', label: 'turn', kind: 'vector', unit: '°', help: 'Its turns about x, y and z, in the order of the setting.' },
    {
      id: 'scale',
      label: 'size',
      kind: 'vector',
      help: 'Its size along its axes; all negative where it mirrors.',
    },
    { id: 'shear', label: 'shear', kind: 'vector', help: 'How far its axes are from square.' },
    { id: 'axisX', label: 'x axis', kind: 'vector', help: 'Where x goes, length 1.' },
    { id: 'axisY', label: 'y axis', kind: 'vector', help: 'Where y goes, length 1.' },
    { id: 'axisZ', label: 'z axis', kind: 'vector', help: 'Where z goes, length 1.' },
  ],
  settings: [ROTATION_ORDER],
  sentence: () => 'move, turn, size, shear',
  light: true,
  evaluate(context) {
    const parts = partsOf(singleMatrix(context, 'matrix'), context.settings.order as RotationOrder);
    return {
      translate: parts.place,
      rotate: parts.turn,
      scale: parts.size,
      shear: parts.shear,
      ...parts.axes,
    };
  },
};
