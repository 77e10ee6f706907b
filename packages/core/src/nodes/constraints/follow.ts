import { follow } from '../../constraints/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { CARRIER_OUT, carrierValue, CHILD, childOf, readsParent, SNAPSHOT } from './child.ts';

export const followNode: NodeDefinition = {
  id: 'follow',
  version: 1,
  title: 'Follow',
  group: 'Constraints',
  summary: 'Makes an object keep its place to a driver, with its channels free.',
  keywords: ['carried', 'go along', 'attach', 'hang on', 'constrain'],
  inputs: () => [matrixPort('a', 'driver', 'The world matrix of what it follows.')],
  outputs: () => [CARRIER_OUT],
  settings: [CHILD, SNAPSHOT],
  sentence: (s, c) => `${c.objectName(s.object) ?? 'no object yet'} follows ${c.source?.('a') ?? 'a driver'}`,
  reads: readsParent,
  light: true,
  evaluate(context) {
    const { child, snapshot } = childOf(context, 1);
    return carrierValue(follow(singleMatrix(context, 'a'), snapshot, child.parent));
  },
};
