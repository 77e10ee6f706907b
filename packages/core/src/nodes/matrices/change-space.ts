import { transformMesh } from '../../geometry/transform.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { matrixValue, meshValue, valuesLike, type Column, type Single, type Value } from '../../graph/node/values.ts';
import { identity, invert, multiply, transformPacked } from '../../maths/matrix.ts';
import { choice, choiceSetting, MESH_IN, MESH_OUT } from '../ports.ts';
import { matrixOutput, matrixPort, singleMatrix } from './lanes.ts';

const WHAT = choiceSetting(
  'what',
  'What',
  [
    ['vectors', 'Vectors'],
    ['mesh', 'A mesh'],
    ['matrix', 'A matrix'],
  ],
  'What is taken from one space to the other.',
);
const WAY = choiceSetting(
  'way',
  'Way',
  [
    ['in', 'Into the space'],
    ['out', 'Out into the world'],
  ],
  'Into: world values as seen from the space. Out: values of the space as they are in the world.',
);
const AS = choiceSetting(
  'as',
  'They are',
  [
    ['position', 'Positions'],
    ['direction', 'Directions'],
    ['normal', 'Normals'],
  ],
  'Positions move along; directions only turn and size; normals stay square to their surface.',
  (s) => s.what === 'vectors',
);

export const changeSpace: NodeDefinition = {
  id: 'change-space',
  version: 1,
  title: 'Change Space',
  group: 'Matrices',
  summary: 'Tells vectors, a mesh or a matrix as seen from another space, or takes them out of it.',
  keywords: ['local', 'world', 'into', 'vectors'],
  inputs: (s) => [
    s.what === 'mesh'
      ? { ...MESH_IN, id: 'value' }
      : s.what === 'matrix'
        ? matrixPort('value', 'matrix', 'The matrix to take there.')
        : {
            id: 'value',
            label: 'vectors',
            kind: 'vector',
            help: 'The vectors to take there, one or a column.',
          },
    matrixPort('space', 'space', 'The world matrix of the space, such as that of a locator.'),
  ],
  outputs: (s) =>
    s.what === 'mesh'
      ? [{ ...MESH_OUT, id: 'value' }]
      : s.what === 'matrix'
        ? [matrixOutput('value', 'matrix', 'The matrix there.')]
        : [{ id: 'value', label: 'vectors', kind: 'vector', help: 'The vectors there.' }],
  settings: [WHAT, WAY, AS],
  sentence: (s, c) => `${choice(WHAT, s)} ${s.way === 'out' ? 'out of' : 'into'} ${c.source?.('space') ?? 'a space'}`,
  passes: { value: 'value' },
  evaluate(context): Record<string, Value> {
    const { settings } = context;
    const space = singleMatrix(context, 'space');
    let m: Readonly<Float64Array> = space;
    if (settings.way !== 'out') {
      const inverse = identity();
      if (!invert(inverse, space))
        throw new NodeError({
          code: 'matrix-singular',
          what: '"space"',
          ...(settings.what === 'mesh' ? { so: 'the mesh stays as it is' } : {}),
        });
      m = inverse;
    }
    if (settings.what === 'mesh')
      return { value: meshValue(transformMesh(context.mesh('value'), m as Float64Array, context.room)) };
    if (settings.what === 'matrix') return { value: matrixValue(multiply(identity(), m, singleMatrix(context, 'value'))) };
    const value = context.input('value') as Single | Column;
    const as = settings.as as 'position' | 'direction' | 'normal';
    const count = value.form === 'column' ? value.count : 1;
    const out = context.room(count * 3);
    transformPacked(out, context.lane('value', 'vector', count), m, as);
    return { value: valuesLike(value, 'vector', out, as) };
  },
};
