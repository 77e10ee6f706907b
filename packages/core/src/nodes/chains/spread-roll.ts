import { pathBetween, withPosed } from '../../chains/chain.ts';
import { rollAlong, twistOver } from '../../chains/spread-roll.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue, numberValue } from '../../graph/node/values.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { numberPort } from '../ports.ts';
import { share } from './bend-chain.ts';
import { CHAIN_IN, CHAIN_OUT, jointSetting, namesFor, needChain, needJoint } from './joints.ts';

const FROM = jointSetting('from', 'From', 'The joint where the roll begins. Empty: the first of the chain.');
const TO = jointSetting('to', 'To', 'The joint whose roll is shared.');

export const spreadRoll: NodeDefinition = {
  id: 'spread-roll',
  version: 1,
  title: 'Spread Roll',
  group: 'Chains',
  summary: 'Shares the roll between two joints among those between, so that no single one twists the skin.',
  keywords: ['twist', 'forearm', 'share', 'roll'],
  inputs: () => [CHAIN_IN, numberPort('amount', 'amount', undefined, 1, [0, 1], 'How much of it is shared.')],
  outputs: () => [
    CHAIN_OUT,
    { id: 'roll', label: 'roll', kind: 'number', unit: '°', help: 'The roll of the last against the first, compared with rest.' },
  ],
  settings: [
    FROM,
    TO,
    {
      id: 'share',
      label: 'Share',
      type: 'response',
      default: RESPONSE_PRESETS.Straight ?? { points: [], invert: false },
      help: 'The share of the roll that a joint takes, by how far along it is.',
    },
  ],
  sentence: (s) => namesFor(s, FROM, TO),
  passes: { chain: 'chain' },
  evaluate(context) {
    const chain = needChain(context);
    const to = needJoint(context, chain, TO);
    const from = needJoint(context, chain, FROM, 0);
    const path = from === to ? undefined : pathBetween(chain, from, to);
    if (!path) throw new NodeError({ code: 'joint-order', above: chain.names[from], below: chain.names[to] });
    const roll = twistOver(chain, chain.posed, path);
    const posed = chain.posed.slice();
    const response = compileResponse(context.settings.share as Response);
    const amount = share(context, 'amount');
    rollAlong(chain, posed, path, (i) => roll * amount * respond(response, i / (path.length - 1)));
    return { chain: chainValue(withPosed(chain, posed)), roll: numberValue(roll / RADIANS_PER_DEGREE) };
  },
};
