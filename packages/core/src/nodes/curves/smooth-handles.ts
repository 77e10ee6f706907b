import { smoothHandles, withShape } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { CURVES_IN, CURVES_OUT } from '../ports.ts';

export const smoothHandlesNode: NodeDefinition = {
  id: 'smooth-handles',
  version: 1,
  title: 'Smooth Handles',
  group: 'Curves',
  summary: 'Makes curves run smoothly through their points, as Bézier curves with even handles.',
  keywords: ['bezier', 'tangents', 'round'],
  inputs: () => [CURVES_IN],
  outputs: () => [CURVES_OUT],
  settings: [],
  sentence: () => 'smooth through the points',
  passes: { curves: 'curves' },
  evaluate(context) {
    const curves = context.curves('curves');
    const types = curves.shape.types.map(() => 'bezier' as const);
    return { curves: curvesValue(smoothHandles(withShape(curves, types, curves.shape.closed))) };
  },
};
