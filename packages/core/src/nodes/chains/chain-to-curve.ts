import { pathBetween } from '../../chains/chain.ts';
import { makeCurves, smoothHandles } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { choiceSetting } from '../ports.ts';
import { CHAIN_IN, jointSetting, lastJoint, namesFor, needChain, needJoint } from './joints.ts';

const FROM = jointSetting('from', 'From', 'The first joint. Empty: the first of the chain.');
const TO = jointSetting('to', 'To', 'The last joint. Empty: the last as one follows the first under each.');

export const chainToCurve: NodeDefinition = {
  id: 'chain-to-curve',
  version: 1,
  title: 'Chain To Curve',
  group: 'Chains',
  summary: 'Draws a curve through the joints of a chain, now and at rest: a spine to deform along.',
  keywords: ['spine', 'spline', 'line', 'path'],
  inputs: () => [CHAIN_IN],
  outputs: () => [
    { id: 'curves', label: 'curve', kind: 'curves', help: 'Through the joints where they are.' },
    { id: 'restCurves', label: 'rest curve', kind: 'curves', help: 'Through the joints where they rest.' },
  ],
  settings: [
    FROM,
    TO,
    choiceSetting(
      'type',
      'Runs',
      [
        ['bezier', 'Smoothly'],
        ['poly', 'Straight from joint to joint'],
      ],
      'Smoothly through the joints, or along the bones.',
    ),
  ],
  sentence: (s) => (s.from || s.to ? namesFor(s, FROM, TO) : 'through all joints'),
  evaluate(context) {
    const chain = needChain(context);
    const from = needJoint(context, chain, FROM, 0);
    const to = needJoint(context, chain, TO, lastJoint(chain));
    const path = pathBetween(chain, from, to);
    if (!path) throw new NodeError({ code: 'joint-order', above: chain.names[from], below: chain.names[to] });
    const type = context.settings.type === 'poly' ? 'poly' : 'bezier';
    const through = (worlds: Readonly<Float64Array>) => {
      const positions = Float32Array.from(path.flatMap((j) => [...worlds.subarray(j * 16 + 12, j * 16 + 15)]));
      const curves = makeCurves([{ positions, type, closed: false }]);
      return curvesValue(type === 'bezier' ? smoothHandles(curves) : curves);
    };
    return { curves: through(chain.posed), restCurves: through(chain.rest) };
  },
};
