import { wholeWithin } from '../within.ts';
import { checkCurvePoints } from './make-grid.ts';
import { makeCurves } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue, type Single } from '../../graph/node/values.ts';
import { CURVES_OUT, numberPort, typedCount } from '../ports.ts';

export const makeLine: NodeDefinition = {
  id: 'make-line',
  version: 1,
  title: 'Make Line',
  group: 'Bring in',
  summary: 'Makes a straight curve from one place to another.',
  keywords: ['segment', 'straight', 'curve'],
  inputs: () => [
    {
      id: 'from',
      label: 'from',
      kind: 'vector',
      unit: 'm',
      uniform: true,
      default: [0, 0, 0],
      range: { min: -5, max: 5 },
      help: 'Where it begins.',
    },
    {
      id: 'to',
      label: 'to',
      kind: 'vector',
      unit: 'm',
      uniform: true,
      default: [1, 0, 0],
      range: { min: -5, max: 5 },
      help: 'Where it ends.',
    },
    numberPort('points', 'points', undefined, 2, [2, 500], 'How many points it has.', { kind: 'integer' }),
  ],
  outputs: () => [CURVES_OUT],
  settings: [],
  sentence: (_, c) => typedCount(c, 'points', 'point'),
  evaluate(context) {
    const count = wholeWithin(context, 'points', 2);
    checkCurvePoints(count);
    const end = (id: string) => {
      const { data } = context.input(id) as Single;
      return [0, 1, 2].map((axis) => data[data.length === 3 ? axis : 0]);
    };
    const [a, b] = [end('from'), end('to')];
    const positions = Array.from({ length: count }, (_, i) => a.map((v, axis) => v + ((b[axis] - v) * i) / (count - 1)));
    return {
      curves: curvesValue(makeCurves([{ type: 'poly', closed: false, positions: positions.flat() }])),
    };
  },
};
