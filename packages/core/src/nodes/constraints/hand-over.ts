import { handOver } from '../../constraints/index.ts';
import type { NodeDefinition, Setting, Settings } from '../../graph/node/definition.ts';
import { dialWeights, normalisedWeights } from '../../maths/blend.ts';
import { multiply } from '../../maths/matrix.ts';
import type { Matrices } from '../../project/fields.ts';
import { matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { BLEND_BY, dialOrWeights, driverIds, DRIVERS, usesDial } from '../matrices/several.ts';
import { CARRIER_OUT, carrierValue, CHILD, childOf, readsParent, SNAPSHOT } from './child.ts';

/** Offsets under the carrier, one for each span between switches that channels could not keep the pose over. */
const OFFSETS: Setting = {
  id: 'offsets',
  label: 'Offsets',
  type: 'matrices',
  default: { matrices: [] },
  shown: (s) => offsetsOf(s).length > 0,
  help: 'What goes between carrier and channels after switches whose pose channels cannot hold (shear).',
};

const offsetsOf = (s: Settings): Matrices['matrices'] => (s.offsets as Matrices).matrices;

export const handOverNode: NodeDefinition = {
  id: 'hand-over',
  version: 1,
  title: 'Hand-Over',
  group: 'Constraints',
  summary: 'Hands an object from one driver to the next by a dial; it keeps its place to each, its channels free.',
  keywords: ['switch', 'parent', 'space', 'constrain', 'pick up', 'put down'],
  inputs: (s) => [
    ...driverIds(s).map((id) => matrixPort(id, `driver ${id}`, 'The world matrix of what it can follow.')),
    ...dialOrWeights(s),
    ...(offsetsOf(s).length > 0
      ? [
          {
            id: 'segment',
            label: 'offset',
            kind: 'integer' as const,
            default: 0,
            range: { min: 0, max: offsetsOf(s).length, hard: true },
            uniform: true,
            help: 'Which of the offsets is used, by number; 0 is none.',
          },
        ]
      : []),
  ],
  outputs: () => [CARRIER_OUT],
  settings: [CHILD, DRIVERS, BLEND_BY, SNAPSHOT, OFFSETS],
  sentence: (s, c) =>
    `${c.objectName(s.object) ?? 'no object yet'}: ${driverIds(s)
      .map((id) => c.source?.(id) ?? id)
      .join(' → ')}`,
  switches: { dial: 'dial', offsets: 'offsets', segment: 'segment' },
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
    const carrier = handOver(drivers, weights, snapshot, child.parent);
    const offsets = offsetsOf(settings);
    const offset = offsets.length > 0 ? offsets[context.integer('segment') - 1] : undefined;
    return carrierValue(carrier && offset ? multiply(carrier, carrier, Float64Array.from(offset)) : carrier);
  },
};
