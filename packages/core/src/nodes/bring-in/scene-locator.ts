import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import type { RotationOrder } from '../../maths/rotation.ts';
import { partsOf } from '../matrices/lanes.ts';
import { ROTATION_ORDER, text } from '../ports.ts';

export const sceneLocator: NodeDefinition = {
  id: 'scene-locator',
  version: 1,
  title: 'Scene Locator',
  group: 'Bring in',
  summary: 'Brings the place, turn and size of a locator (or any object) into the graph.',
  keywords: ['place', 'marker', 'position', 'turn', 'driver', 'matrix'],
  inputs: () => [],
  outputs: () => [
    { id: 'position', label: 'position', kind: 'vector', unit: 'm', help: 'Where it is, in world space.' },
    {
      id: 'rotation',
      label: 'rotation',
      kind: 'vector',
      unit: '°',
      help: 'Its turns about x, y and z, in the order of the setting.',
    },
    {
      id: 'size',
      label: 'size',
      kind: 'vector',
      help: 'Its scale along its own axes; all negative where it mirrors.',
    },
    { id: 'axisX', label: 'x axis', kind: 'vector', help: 'The direction of its own x axis, length 1.' },
    { id: 'axisY', label: 'y axis', kind: 'vector', help: 'The direction of its own y axis, length 1.' },
    { id: 'axisZ', label: 'z axis', kind: 'vector', help: 'The direction of its own z axis, length 1.' },
    { id: 'matrix', label: 'matrix', kind: 'matrix', help: 'Its world matrix now.' },
    { id: 'rest', label: 'rest', kind: 'matrix', help: 'Its world matrix at rest.' },
  ],
  settings: [{ id: 'object', label: 'Locator', type: 'object', takes: 'locator', help: 'The locator to read.' }, ROTATION_ORDER],
  sentence: (s, c) => c.objectName(s.object) ?? 'no locator yet',
  reads: (s) => {
    const object = text(s, 'object');
    if (!object) return [];
    return [
      {
        object,
        facet: 'world',
        ports: ['position', 'rotation', 'size', 'axisX', 'axisY', 'axisZ', 'matrix'],
      },
      { object, facet: 'rest', ports: ['rest'] },
    ];
  },
  light: true,
  evaluate(context) {
    const { world, rest } = context.object('object');
    const parts = partsOf(world, context.settings.order as RotationOrder);
    return {
      position: parts.place,
      rotation: parts.turn,
      size: parts.size,
      ...parts.axes,
      matrix: matrixValue(world),
      rest: matrixValue(rest),
    };
  },
};
