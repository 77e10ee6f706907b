import { makeCurves, smoothHandles, type SplineType } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { choiceSetting, CURVES_OUT, MESH_IN, text, toggleSetting, yes } from '../ports.ts';

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

export const curveFromPoints: NodeDefinition = {
  id: 'curve-from-points',
  version: 1,
  title: 'Curve From Points',
  group: 'Curves',
  summary: 'Makes one curve through all points of a mesh, in their order.',
  keywords: ['connect', 'path', 'trace', 'line'],
  inputs: () => [MESH_IN],
  outputs: () => [CURVES_OUT],
  settings: [TYPE, toggleSetting('closed', 'Closed', false, 'Run back to the first point.')],
  sentence: (s) => (yes(s, 'closed') ? 'closed' : 'open'),
  evaluate(context) {
    const { positions } = context.mesh('mesh');
    const type = text(context.settings, 'type') as SplineType;
    return { curves: curvesValue(smoothHandles(makeCurves([{ type, closed: yes(context.settings, 'closed'), positions }]))) };
  },
};
