import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { makeSphere as sphereMesh } from '../../geometry/primitives.ts';
import { MESH_OUT } from '../ports.ts';
import { checkPoints } from './make-grid.ts';
import { numberWithin, wholeWithin } from '../within.ts';

export const makeSphere: NodeDefinition = {
  id: 'make-sphere',
  version: 1,
  title: 'Make Sphere',
  group: 'Bring in',
  summary: 'Makes a sphere about the origin, with rings and segments about the y axis.',
  keywords: ['ball', 'globe', 'round'],
  inputs: () => [
    {
      id: 'radius',
      label: 'radius',
      kind: 'number',
      unit: 'm',
      default: 1,
      range: { min: 0, max: 10 },
      uniform: true,
      help: 'Distance from the middle to the surface.',
    },
    {
      id: 'rings',
      label: 'rings',
      kind: 'integer',
      default: 16,
      range: { min: 2, max: 500 },
      uniform: true,
      help: 'Bands of faces from pole to pole.',
    },
    {
      id: 'segments',
      label: 'segments',
      kind: 'integer',
      default: 32,
      range: { min: 3, max: 500 },
      uniform: true,
      help: 'Faces round the y axis.',
    },
  ],
  outputs: () => [MESH_OUT],
  settings: [],
  sentence: () => 'rings from pole to pole',
  evaluate(context) {
    const rings = wholeWithin(context, 'rings', 2);
    const segments = wholeWithin(context, 'segments', 3);
    checkPoints((rings - 1) * segments + 2);
    return { mesh: meshValue(sphereMesh(numberWithin(context, 'radius', 0), rings, segments)) };
  },
};
