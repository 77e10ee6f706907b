import { respace, tracksOf, type SplineType } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { choiceSetting, CURVES_IN, CURVES_OUT, numberPort, text, typedCount, typedWords } from '../ports.ts';

const TYPE = choiceSetting(
  'type',
  'Runs',
  [
    ['bezier', 'Bézier, smooth'],
    ['poly', 'Straight between points'],
    ['b-spline', 'B-spline, near the points'],
  ],
  'How the new curve runs between its points.',
);

/** Most points a node may put on curves. */
const MOST = 2_000_000;

export const respaceCurve: NodeDefinition = {
  id: 'respace-curve',
  version: 1,
  title: 'Respace Curve',
  group: 'Curves',
  summary: 'Puts new points on curves, evenly spaced along their length.',
  keywords: ['even', 'spacing', 'more points', 'subdivide'],
  inputs: (s) => [
    CURVES_IN,
    s.by === 'spacing'
      ? numberPort(
          'spacing',
          'spacing',
          'm',
          0.1,
          [0.01, 2],
          'Length between two points; made a little shorter so that it comes out even.',
        )
      : numberPort('count', 'points', undefined, 24, [2, 500], 'How many points each spline gets.', { kind: 'integer' }),
  ],
  outputs: () => [CURVES_OUT],
  settings: [
    choiceSetting(
      'by',
      'By',
      [
        ['count', 'Number'],
        ['spacing', 'Spacing'],
      ],
      'A number of points, or a length between them.',
    ),
    TYPE,
  ],
  sentence: (s, c) => (s.by === 'spacing' ? `every ${typedWords(c, 'spacing')} m` : typedCount(c, 'count', 'point')),
  passes: { curves: 'curves' },
  evaluate(context) {
    const curves = context.curves('curves');
    const bySpacing = context.settings.by === 'spacing';
    const spacing = bySpacing ? context.number('spacing') : 0;
    if (bySpacing && !(spacing > 0))
      throw new NodeError({
        code: 'needs-positive',
        port: 'spacing',
        value: spacing,
        unit: 'm',
        so: 'no number of points would do',
      });
    const count = bySpacing ? 0 : context.integer('count');
    const countOf = (length: number, closed: boolean) => (bySpacing ? Math.ceil(length / spacing) + (closed ? 0 : 1) : count);
    const total = tracksOf(curves).reduce((n, t) => n + countOf(t.length, t.closed), 0);
    if (total > MOST) throw new NodeError({ code: 'limit', what: 'The points of the curves', count: total, most: MOST });
    return { curves: curvesValue(respace(curves, countOf, text(context.settings, 'type') as SplineType)) };
  },
};
