import { numberWithin } from '../within.ts';
import { FALLOFF_SHAPES, type FalloffShape } from '../../falloffs/gauge.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { falloffValue, type Single } from '../../graph/node/values.ts';
import { identity, invert } from '../../maths/matrix.ts';
import { choiceSetting, FALLOFF_OUT, numberPort, text } from '../ports.ts';
import { FADE_SETTINGS, fadePorts, invertedWords, readFade } from './fade.ts';

const SHAPE = choiceSetting(
  'shape',
  'Shape',
  FALLOFF_SHAPES.map((s) => [s, s[0].toUpperCase() + s.slice(1)]),
  'Its boundary is the locator’s unit shape, moved, turned and sized with the locator. Cylinder, cone and capsule stand along y; a plane fades along y.',
);

export const shapeFalloff: NodeDefinition = {
  id: 'shape-falloff',
  version: 1,
  title: 'Shape Falloff',
  group: 'Falloffs',
  summary: 'A weight that is full inside a shape and fades to its outer boundary; the shape stands where a locator does.',
  keywords: ['sphere', 'box', 'cylinder', 'cone', 'capsule', 'plane', 'area of effect', 'mask'],
  inputs: (s) => [
    {
      id: 'matrix',
      label: 'matrix',
      kind: 'matrix',
      optional: true,
      starts: 'top',
      help: 'Where the shape stands, instead of the locator in the settings.',
    },
    ...fadePorts(undefined, 0.25, 1),
    ...(s.shape === 'box'
      ? [numberPort('rounding', 'rounding', undefined, 0, [0, 1], 'Rounds the edges of the box: 0 is sharp, 1 a sphere.')]
      : []),
  ],
  outputs: () => [FALLOFF_OUT],
  settings: [
    SHAPE,
    {
      id: 'object',
      label: 'Locator',
      type: 'object',
      takes: 'locator',
      optional: true,
      starts: 'top',
      help: 'Place, turn and size of the shape; without one it stands at the world’s origin, one metre in radius.',
    },
    ...FADE_SETTINGS,
  ],
  sentence: (s, c) =>
    `${text(s, 'shape')} at ${c.connected('matrix') ? 'the matrix' : (c.objectName(s.object) ?? 'the origin')}${invertedWords(s)}`,
  reads: (s) => (text(s, 'object') ? [{ object: text(s, 'object'), facet: 'world' }] : []),
  evaluate(context) {
    const { settings } = context;
    const given = context.input('matrix') as Single | undefined;
    const world = given ? Float64Array.from(given.data) : settings.object ? context.object('object').world : identity();
    const inverse = identity();
    if (!invert(inverse, world)) {
      // Nothing has a size there: the weight is that of far away.
      context.report({ code: 'locator-flat', severity: 'warning' });
      return { falloff: falloffValue({ type: 'flat', weight: settings.invert === true ? 1 : 0 }) };
    }
    const shape = text(settings, 'shape') as FalloffShape;
    const rounding = shape === 'box' ? numberWithin(context, 'rounding', 0, 1) : 0;
    return {
      falloff: falloffValue({ type: 'shape', shape, rounding, world, inverse, fade: readFade(context) }),
    };
  },
};
