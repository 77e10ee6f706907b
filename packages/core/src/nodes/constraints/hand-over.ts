import { handOver } from '../../constraints/index.ts';
import type { NodeDefinition } from '../../graph/definition.ts';
import { dialWeights, normalisedWeights } from '../../maths/blend.ts';
import { matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { BLEND_BY, dialOrWeights, driverIds, DRIVERS, usesDial } from '../matrices/several.ts';
import { CARRIER_OUT, carrierValue, CHILD, childOf, readsParent, SNAPSHOT } from './child.ts';

export const handOverNode: NodeDefinition = {
  id: 'hand-over',
  version: 1,
  title: 'Hand-Over',
  group: 'Constraints',
  summary:
    'Hands an object from one driver to the next by a dial; it keeps its place to each, its channels free.',
  keywords: ['switch', 'parent', 'space', 'constrain', 'dynamic'],
  inputs: (s) => [
    ...driverIds(s).map((id) => matrixPort(id, `driver ${id}`, 'The world matrix of what it can follow.')),
    ...dialOrWeights(s),
  ],
  outputs: () => [CARRIER_OUT],
  settings: [CHILD, DRIVERS, BLEND_BY, SNAPSHOT],
  sentence: (s, c) =>
    `${c.objectName(s.object) ?? 'no object yet'}: ${driverIds(s)
      .map((id) => c.source?.(id) ?? id)
      .join(' → ')}`,
  reads: readsParent,
  light: true,
  evaluate(context) {
    const { settings } = context;
    const ids = driverIds(settings);
    const { child, snapshot } = childOf(context, ids.length);
    const weights = usesDial(settings)
      ? dialWeights(context.number('dial'), ids.length)
      : ids.map((id) => context.number(`weight-${id}`));
    if (!normalisedWeights(weights))
      context.report({ code: 'weights-zero', so: 'the object stays where it was', severity: 'warning' });
    const drivers = ids.map((id) => singleMatrix(context, id));
    return carrierValue(handOver(drivers, weights, snapshot, child.parent));
  },
};
