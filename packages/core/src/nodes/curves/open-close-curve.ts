import { withShape } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { CURVES_IN, CURVES_OUT, toggleSetting, yes } from '../ports.ts';

export const openCloseCurve: NodeDefinition = {
  id: 'open-close-curve',
  version: 1,
  title: 'Open/Close Curve',
  group: 'Curves',
  summary: 'Joins the last point of curves to the first, or opens them there.',
  keywords: ['loop', 'closed', 'ring', 'cut'],
  inputs: () => [CURVES_IN],
  outputs: () => [CURVES_OUT],
  settings: [toggleSetting('closed', 'Closed', true, 'Whether curves run back to their first point.')],
  sentence: (s) => (yes(s, 'closed') ? 'closed' : 'open'),
  passes: { curves: 'curves' },
  evaluate(context) {
    const curves = context.curves('curves');
    const closed = curves.shape.closed.map(() => yes(context.settings, 'closed'));
    return { curves: curvesValue(withShape(curves, curves.shape.types, closed)) };
  },
};
