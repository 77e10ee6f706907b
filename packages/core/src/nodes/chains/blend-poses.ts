import { blendPoses } from '../../chains/blend-poses.ts';
import { withPosed } from '../../chains/chain.ts';
import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue } from '../../graph/node/values.ts';
import { dialWeights } from '../../maths/blend.ts';
import { BLEND_BY, dialOrWeights, driverIds, DRIVERS, usesDial } from '../matrices/several.ts';
import { WEIGHT_IN } from '../ports.ts';
import { CHAIN_OUT } from './joints.ts';

export const blendPosesNode: NodeDefinition = {
  id: 'blend-poses',
  version: 1,
  title: 'Blend Poses',
  group: 'Chains',
  summary: 'Mixes poses of the same joints: places and sizes straight, turns the shortest way; where a mask says so.',
  keywords: ['mix', 'layer', 'average', 'mask', 'interpolate'],
  inputs: (s): InputPort[] => [
    ...driverIds(s).map((id, i): InputPort => ({ id, label: `pose ${id}`, kind: 'chain', help: `Pose ${i + 1}.` })),
    ...dialOrWeights(s),
    {
      ...WEIGHT_IN,
      id: 'mask',
      label: 'mask',
      weighs: 'a',
      help: 'How much a joint leaves the first pose: one value, a column with one each, or a falloff weighed where the first pose has them.',
    },
  ],
  outputs: () => [CHAIN_OUT],
  settings: [{ ...DRIVERS, help: 'How many poses it takes.' } as typeof DRIVERS, BLEND_BY],
  sentence: (s) => `${driverIds(s).join(', ')} by ${usesDial(s) ? 'one dial' : 'weights'}`,
  passes: { chain: 'a' },
  evaluate(context) {
    const ids = driverIds(context.settings);
    const chains = ids.map((id) => context.chain(id));
    const other = chains.findIndex((c) => c.id !== chains[0].id);
    if (other >= 0) throw new NodeError({ code: 'chains-differ', first: 'pose a', second: `pose ${ids[other]}` });
    const weights = usesDial(context.settings)
      ? dialWeights(context.number('dial'), ids.length)
      : ids.map((id) => context.number(`weight-${id}`));
    if (!weights.some((w) => w > 0)) context.report({ code: 'weights-zero', so: 'the first is used', severity: 'warning' });
    const sum = weights.reduce((total, w) => total + Math.max(0, w), 0);
    const mask = context.lane('mask', 'number', chains[0].count);
    if (!mask.every(Number.isFinite)) context.report({ code: 'input-not-finite', port: 'mask', severity: 'warning' });
    const posed = blendPoses(
      chains[0].parents,
      chains.map((c) => c.posed),
      (pose, joint) => {
        const m = Math.min(1, Math.max(0, mask[joint] || 0));
        const w = sum > 0 ? Math.max(0, weights[pose]) / sum : pose === 0 ? 1 : 0;
        return pose === 0 ? 1 - m + m * w : m * w;
      },
    );
    return { chain: chainValue(withPosed(chains[0], posed)) };
  },
};
