import { numberWithin, wholeWithin } from '../within.ts';
import { checkCurvePoints } from './make-grid.ts';
import { makeCurves } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { aboutAxis } from './about-axis.ts';
import { axisOf, axisSetting, CURVES_OUT, numberPort, typedCount } from '../ports.ts';

export const makeRing: NodeDefinition = {
  id: 'make-ring',
  version: 1,
  title: 'Make Ring',
  group: 'Bring in',
  summary: 'Makes a closed circle about the origin, as a smooth curve.',
  keywords: ['circle', 'loop', 'hoop', 'curve'],
  inputs: () => [
    numberPort('radius', 'radius', 'm', 1, [0, 10], 'Distance from the middle.'),
    numberPort('points', 'points', undefined, 8, [3, 500], 'How many points it has.', { kind: 'integer' }),
  ],
  outputs: () => [CURVES_OUT],
  settings: [axisSetting('y', 'The axis it lies round.')],
  sentence: (_, c) => typedCount(c, 'points', 'point'),
  evaluate(context) {
    const count = wholeWithin(context, 'points', 3);
    checkCurvePoints(count);
    const radius = numberWithin(context, 'radius', 0);
    const axis = axisOf(context.settings);
    // The handle length with which a Bézier arc keeps the radius at its ends and in its middle.
    const reach = (4 / 3) * Math.tan(Math.PI / (2 * count)) * radius;
    const positions: number[] = [];
    const handles: number[] = [];
    for (let i = 0; i < count; i++) {
      const angle = (i / count) * 2 * Math.PI;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      positions.push(...aboutAxis(axis, c * radius, s * radius, 0));
      handles.push(...aboutAxis(axis, s * reach, -c * reach, 0), ...aboutAxis(axis, -s * reach, c * reach, 0));
    }
    return { curves: curvesValue(makeCurves([{ type: 'bezier', closed: true, positions, handles }])) };
  },
};
