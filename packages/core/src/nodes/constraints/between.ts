import { between } from '../../constraints/index.ts';
import type { NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { normalisedWeights } from '../../maths/blend.ts';
import { matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { driverIds, DRIVERS } from '../matrices/several.ts';
import { numberPort, toggleSetting, typedWords, yes } from '../ports.ts';
import { CARRIER_OUT, carrierValue, CHILD, childOf, readsParent, SNAPSHOT } from './child.ts';

const isPair = (s: Settings) => driverIds(s).length === 2;

export const betweenNode: NodeDefinition = {
  id: 'between',
  version: 1,
  title: 'Between',
  group: 'Constraints',
  summary: 'Keeps an object between two or more others as they move, its channels free.',
  keywords: ['average', 'middle', 'midpoint', 'constrain', 'halfway'],
  inputs: (s) => [
    ...driverIds(s).map((id) => matrixPort(id, `driver ${id}`, 'The world matrix of what it stays between.')),
    ...(isPair(s)
      ? [numberPort('weight', 'weight', undefined, 0.5, [0, 1], '0 goes with a alone, 1 with b alone.')]
      : driverIds(s).map((id) =>
          numberPort(
            `weight-${id}`,
            `weight ${id}`,
            undefined,
            1,
            [0, 1],
            'How much it goes with this one; taken as shares of their sum.',
          ),
        )),
  ],
  outputs: () => [CARRIER_OUT],
  settings: [
    CHILD,
    DRIVERS,
    toggleSetting('aims', 'Turns with them', false, 'Turns with the direction from the first to the last, by the least turn.'),
    SNAPSHOT,
  ],
  sentence: (s, c) =>
    `${c.objectName(s.object) ?? 'no object yet'} between ${driverIds(s)
      .map((id) => c.source?.(id) ?? id)
      .join(' and ')}${isPair(s) ? `, ${typedWords(c, 'weight')}` : ''}`,
  reads: readsParent,
  light: true,
  evaluate(context) {
    const { settings } = context;
    const ids = driverIds(settings);
    const { child, snapshot } = childOf(context, ids.length);
    const pair = isPair(settings) ? context.number('weight') : 0;
    const weights = isPair(settings) ? [1 - pair, pair] : ids.map((id) => context.number(`weight-${id}`));
    if (!normalisedWeights(weights))
      context.report({ code: 'weights-zero', so: 'the object stays where it was', severity: 'warning' });
    const drivers = ids.map((id) => singleMatrix(context, id));
    return carrierValue(between(drivers, weights, snapshot, child.parent, yes(settings, 'aims')));
  },
};
