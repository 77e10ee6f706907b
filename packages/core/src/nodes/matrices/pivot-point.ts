import type { NodeDefinition } from '../../graph/node/definition.ts';
import { vectorValue } from '../../graph/node/values.ts';
import { MESH_IN } from '../ports.ts';
import { pivotInputs, pivotOf, PIVOT_SETTINGS, pivotWords, readsPivot } from '../pivots.ts';

export const pivotPoint: NodeDefinition = {
  id: 'pivot-point',
  version: 1,
  title: 'Pivot Point',
  group: 'Matrices',
  summary: 'Finds the place a mesh can be turned about: its middle, its base, one of its points, a locator.',
  keywords: ['centre', 'center', 'bounds', 'average', 'origin'],
  inputs: (s) => [MESH_IN, ...pivotInputs(s)],
  outputs: () => [{ id: 'point', label: 'point', kind: 'vector', unit: 'm', help: 'The place, in world space.' }],
  settings: PIVOT_SETTINGS,
  sentence: (s, c) => pivotWords(s, c),
  reads: readsPivot,
  evaluate: (context) => ({ point: vectorValue(pivotOf(context, context.mesh('mesh'))) }),
};
