import { numberWithin, wholeWithin } from '../within.ts';
import { checkCurvePoints } from './make-grid.ts';
import { makeCurves, smoothHandles } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { aboutAxis } from './about-axis.ts';
import { axisOf, axisSetting, CURVES_OUT, numberPort, typedWords } from '../ports.ts';

export const makeSpiral: NodeDefinition = {
  id: 'make-spiral',
  version: 1,
  title: 'Make Spiral',
  group: 'Bring in',
  summary: 'Makes a curve that winds round an axis, rising and widening as it goes.',
  keywords: ['helix', 'coil', 'spring', 'curve'],
  inputs: () => [
    numberPort('radius', 'radius', 'm', 1, [0, 10], 'Distance from the axis at the start.'),
    numberPort('radiusEnd', 'radius end', 'm', 1, [0, 10], 'Distance from the axis at the end.'),
    numberPort('height', 'height', 'm', 1, [0, 10], 'How far it rises.'),
    numberPort('turns', 'turns', undefined, 3, [0, 50], 'How often it goes round.'),
    numberPort('points', 'points a turn', undefined, 8, [3, 100], 'Points in each turn.', {
      kind: 'integer',
    }),
  ],
  outputs: () => [CURVES_OUT],
  settings: [axisSetting('y', 'The axis it winds round.')],
  sentence: (_, c) => `${typedWords(c, 'turns')} turns`,
  evaluate(context) {
    const [from, to] = [numberWithin(context, 'radius', 0), numberWithin(context, 'radiusEnd', 0)];
    const [height, turns] = [context.number('height'), context.number('turns')];
    const count = Math.max(2, Math.ceil(Math.abs(turns) * wholeWithin(context, 'points', 3)) + 1);
    checkCurvePoints(count);
    const axis = axisOf(context.settings);
    const positions = Array.from({ length: count }, (_, i) => {
      const t = i / (count - 1);
      const angle = t * turns * 2 * Math.PI;
      const r = from + (to - from) * t;
      return aboutAxis(axis, Math.cos(angle) * r, Math.sin(angle) * r, t * height);
    }).flat();
    return { curves: curvesValue(smoothHandles(makeCurves([{ type: 'bezier', closed: false, positions }]))) };
  },
};
