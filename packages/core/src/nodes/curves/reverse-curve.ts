import { reverseCurves } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { CURVES_IN, CURVES_OUT } from '../ports.ts';

export const reverseCurve: NodeDefinition = {
  id: 'reverse-curve',
  version: 1,
  title: 'Reverse Curve',
  group: 'Curves',
  summary: 'Turns curves round: the last point becomes the first.',
  keywords: ['flip', 'direction', 'backwards'],
  inputs: () => [CURVES_IN],
  outputs: () => [CURVES_OUT],
  settings: [],
  sentence: () => 'the other way round',
  passes: { curves: 'curves' },
  evaluate: (context) => ({ curves: curvesValue(reverseCurves(context.curves('curves'))) }),
};
