import type { FacetRef, NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue, integerValue, matrixValue, type Value } from '../../graph/node/values.ts';
import type { ChainPose } from '../../scene/joints.ts';
import { choice, choiceSetting, text } from '../ports.ts';

const POSE = choiceSetting(
  'pose',
  'Pose',
  [
    ['posed', 'As it stands'],
    ['channels', 'By its channels'],
    ['rest', 'At rest'],
  ],
  'As it stands: with all that graphs put into its joints. By its channels: without their carriers; for a graph that makes those.',
);

export const sceneChainNode: NodeDefinition = {
  id: 'scene-chain',
  version: 1,
  title: 'Scene Chain',
  group: 'Bring in',
  summary: 'Brings the joints of a chain into the graph: where they rest and where they are.',
  keywords: ['joints', 'bones', 'skeleton', 'limb', 'rig'],
  inputs: () => [],
  outputs: () => [
    { id: 'chain', label: 'chain', kind: 'chain', help: 'Its joints, in world space.' },
    { id: 'count', label: 'joints', kind: 'integer', help: 'How many joints there are.' },
    { id: 'matrix', label: 'matrix', kind: 'matrix', help: "The chain object's world matrix now." },
  ],
  settings: [{ id: 'object', label: 'Chain', type: 'object', takes: 'chain', help: 'The chain to read.' }, POSE],
  sentence: (s, c) => `${c.objectName(s.object) ?? 'no chain yet'}, ${choice(POSE, s)}`,
  reads: (s): FacetRef[] => {
    const object = text(s, 'object');
    if (!object) return [];
    // Where it rests is told with either.
    const facet = s.pose === 'posed' ? 'posedJoints' : s.pose === 'rest' ? 'restJoints' : 'joints';
    return [
      { object, facet, ports: ['chain', 'count'] },
      { object, facet: 'world', ports: ['matrix'] },
    ];
  },
  evaluate(context) {
    const object = context.object('object');
    const out: Record<string, Value> = { matrix: matrixValue(object.world) };
    if (!context.wants('chain') && !context.wants('count')) return out;
    const chain = object.chain(text(context.settings, 'pose') as ChainPose);
    if (chain.count === 0) throw new NodeError({ code: 'chain-empty', object: object.name, removed: object.isRemoved });
    const doubled = chain.names.find((n, i) => chain.names.indexOf(n) !== i);
    if (doubled !== undefined) {
      const count = chain.names.filter((n) => n === doubled).length;
      context.report({ code: 'joint-names', name: doubled, count, severity: 'warning' });
    }
    return { ...out, chain: chainValue(chain), count: integerValue(chain.count) };
  },
};
