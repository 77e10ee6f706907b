import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { CURVES_IN, CURVES_OUT, numberPort, typedWords } from '../ports.ts';

export const rollCurve: NodeDefinition = {
  id: 'roll-curve',
  version: 1,
  title: 'Roll Curve',
  group: 'Curves',
  summary: 'Adds roll along curves and sets their width, from start to end through a response.',
  keywords: ['twist', 'bank', 'tilt', 'width', 'taper'],
  inputs: () => [
    CURVES_IN,
    numberPort('start', 'roll start', '°', 0, [-360, 360], 'Roll added at the first point.'),
    numberPort('end', 'roll end', '°', 0, [-360, 360], 'Roll added at the last point.'),
    numberPort('widthStart', 'width start', undefined, 1, [0, 3], 'Factor of the width at the first point.'),
    numberPort('widthEnd', 'width end', undefined, 1, [0, 3], 'Factor of the width at the last point.'),
  ],
  outputs: () => [CURVES_OUT],
  settings: [
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS.Straight,
      help: 'How the way from start to end is gone, by the points of the curve.',
    },
  ],
  sentence: (_, c) => `${typedWords(c, 'start')}° to ${typedWords(c, 'end')}°`,
  passes: { curves: 'curves' },
  evaluate(context) {
    const curves = context.curves('curves');
    const response = compileResponse(context.settings.response as Response);
    const [a, b, wa, wb] = ['start', 'end', 'widthStart', 'widthEnd'].map((id) => context.number(id));
    const roll = Float32Array.from(curves.roll);
    const width = Float32Array.from(curves.width);
    const { starts, splineCount } = curves.shape;
    for (let s = 0; s < splineCount; s++) {
      const last = Math.max(1, starts[s + 1] - starts[s] - 1);
      for (let i = starts[s]; i < starts[s + 1]; i++) {
        const t = respond(response, (i - starts[s]) / last);
        roll[i] += ((a + (b - a) * t) * Math.PI) / 180;
        width[i] *= wa + (wb - wa) * t;
      }
    }
    return { curves: curvesValue({ ...curves, roll, width }) };
  },
};
