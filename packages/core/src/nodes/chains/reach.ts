import { pathBetween, withPosed } from '../../chains/chain.ts';
import { limitTakesRest } from '../../chains/limits.ts';
import type { TipTurn } from '../../chains/tip-turn.ts';
import { reach } from '../../chains/reach.ts';
import type { ReachTarget } from '../../chains/solve.ts';
import type { InputPort, NodeDefinition, Setting, Settings } from '../../graph/node/definition.ts';
import { chainValue, integerValue, numberValue } from '../../graph/node/values.ts';
import { compileResponse, respond, type Response } from '../../maths/response.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { choiceSetting, numberPort, text } from '../ports.ts';
import { share, TIP_TURN, troubleOf } from './bend-chain.ts';
import {
  CHAIN_IN,
  CHAIN_OUT,
  jointSetting,
  namesFor,
  needChain,
  needJoint,
  placeAt,
  placePort,
  placeSetting,
  readsPlaces,
  towards,
} from './joints.ts';

const ROOT = jointSetting('root', 'Root', 'The joint that stays. Empty: the first of the chain.');
const TIP = jointSetting('tip', 'Tip', 'The joint that goes to the target.');
const TARGET = placeSetting('targetObject', 'Target', 'Where the tip should be.');
const ROLL = placeSetting('rollObject', 'Roll target', 'What the chain bows towards.');

const OTHERS: Setting = {
  id: 'between',
  label: 'Targets between',
  type: 'number',
  whole: true,
  default: 0,
  range: { min: 0, max: 4, hard: true },
  help: 'How many joints between root and tip have targets of their own.',
};
const countOf = (s: Settings) => Math.min(4, Math.max(0, Math.round(Number(s.between) || 0)));
const BETWEEN = [1, 2, 3, 4].map((i) => ({
  ...jointSetting(`joint${i}`, `Joint ${i}`, 'The joint that goes to this target.'),
  shown: (s: Settings) => countOf(s) >= i,
}));

const PASSED = choiceSetting(
  'pass',
  'Roll along',
  [
    ['none', 'None'],
    ['share', 'Even shares'],
    ['response', 'By a response'],
  ],
  'How much of the tip’s roll, compared with rest, the joints above take over.',
);

export const reachNode: NodeDefinition = {
  id: 'reach',
  version: 1,
  title: 'Reach',
  group: 'Chains',
  summary: 'Bends any number of joints so that the last one is at a target, within their limits.',
  keywords: ['solver', 'tail', 'spine', 'tentacle', 'rope', 'cable', 'inverse'],
  inputs: (s): InputPort[] => [
    CHAIN_IN,
    placePort('target', 'target', 'Where the tip should be.', s.targetObject ? { optional: true } : {}),
    placePort('rollTarget', 'roll target', 'What the chain bows towards.', { optional: true }),
    numberPort(
      'blend',
      'blend',
      undefined,
      1,
      [0, 1],
      '0 is the pose that comes in, 1 the solved one; between, each turn is mixed.',
    ),
    numberPort(
      'soft',
      'soft reach',
      undefined,
      0.02,
      [0, 0.5],
      'The last share of the reach, over which it straightens ever more slowly.',
    ),
    numberPort('stretch', 'stretch', undefined, 0, [0, 1], 'How much of what is missing to the target is made up by length.'),
    numberPort('longest', 'longest', '×', 2, [1, 5], 'No longer than this.'),
    numberPort('roll', 'roll', '°', 0, [-180, 180], 'Turns the bow about the line from root to target.'),
    ...Array.from({ length: countOf(s) }, (_, i) => [
      placePort(`target${i + 1}`, `target ${i + 1}`, 'Where that joint should be.'),
      numberPort(
        `weight${i + 1}`,
        `weight ${i + 1}`,
        undefined,
        0.5,
        [0, 1],
        'How much it counts against the others; 1 as much as the tip.',
      ),
    ]).flat(),
  ],
  outputs: () => [
    CHAIN_OUT,
    {
      id: 'residual',
      label: 'missing',
      kind: 'number',
      unit: 'm',
      help: 'How far the tip is from the target in the pose that comes out.',
    },
    { id: 'rounds', label: 'rounds', kind: 'integer', help: 'How many rounds it took after the first guess.' },
    { id: 'held', label: 'at limits', kind: 'integer', help: 'How many joints are at a limit of theirs.' },
  ],
  settings: [
    ROOT,
    TIP,
    TARGET,
    ROLL,
    choiceSetting(
      'shape',
      'Bends',
      [
        ['even', 'Evenly'],
        ['least', 'As little as it can'],
      ],
      'Evenly: all joints by the same share. As little: each turns the least that does it, from the pose that comes in, turned to where it is to bow.',
    ),
    TIP_TURN,
    PASSED,
    {
      id: 'passed',
      label: 'Share',
      type: 'response',
      default: {
        points: [
          { at: 0, value: 0, in: [0, 0], out: [0.4, 0], shape: 'curve' },
          { at: 1, value: 1, in: [-0.4, 0], out: [0, 0], shape: 'curve' },
        ],
        invert: false,
      },
      shown: (s) => s.pass === 'response',
      help: 'The share by how far along a joint is: left the root, right the tip.',
    },
    OTHERS,
    ...BETWEEN,
    {
      id: 'rounds',
      label: 'Rounds',
      type: 'number',
      whole: true,
      default: 20,
      range: { min: 1, max: 200, hard: true },
      help: 'The most rounds it takes where limits, stiffness or targets between are met.',
    },
    {
      id: 'tolerance',
      label: 'Tolerance',
      type: 'number',
      default: 0.00001,
      range: { min: 0, max: 0.01 },
      unit: '× length',
      help: 'Near enough, as a share of the length.',
    },
  ],
  sentence: (s, c) => `${namesFor(s, ROOT, TIP)} to ${towards(c, 'target', s.targetObject)}`,
  reads: (s) => readsPlaces(s, TARGET, ROLL),
  passes: { chain: 'chain' },
  evaluate(context) {
    const { settings } = context;
    const chain = needChain(context);
    const tip = needJoint(context, chain, TIP);
    const root = needJoint(context, chain, ROOT, 0);
    const target = placeAt(context, 'target', TARGET) as NonNullable<ReturnType<typeof placeAt>>;
    if (settings.tipTurn === 'target' && !target.turn) context.report({ code: 'no-turn', port: 'target', severity: 'warning' });
    const others = BETWEEN.slice(0, countOf(settings)).map((setting, i): ReachTarget => {
      const place = placeAt(context, `target${i + 1}`) as NonNullable<ReturnType<typeof placeAt>>;
      const joint = needJoint(context, chain, setting);
      return { joint, place: place.place, placeWeight: share(context, `weight${i + 1}`), turn: undefined, turnWeight: 0 };
    });
    const path = pathBetween(chain, root, tip) ?? [];
    const excluded = path.filter((j) => {
      const { limit } = chain.traits[j];
      return limit && !limitTakesRest(limit);
    });
    if (excluded.length > 0)
      context.report({ code: 'limit-excludes-rest', joints: excluded.map((j) => chain.names[j]), severity: 'warning' });
    const passed = settings.pass === 'response' ? compileResponse(settings.passed as Response) : undefined;
    const rounds = Math.round(Number(settings.rounds));
    const result = reach(chain, {
      root,
      tip,
      target: target.place,
      targetTurn: target.turn,
      rollTarget: placeAt(context, 'rollTarget', ROLL)?.place,
      roll: context.number('roll') * RADIANS_PER_DEGREE,
      others,
      soft: share(context, 'soft'),
      stretch: share(context, 'stretch'),
      longest: context.number('longest'),
      shape: settings.shape === 'least' ? 'least' : 'even',
      tipTurn: text(settings, 'tipTurn') as TipTurn,
      rollShare: settings.pass === 'none' ? undefined : passed ? (at) => respond(passed, at) : (at) => at,
      rounds,
      tolerance: Math.max(1e-12, Number(settings.tolerance)),
      blend: share(context, 'blend'),
    });
    for (const trouble of result.trouble) {
      if (trouble === 'not-reached') {
        context.report({ code: 'not-reached', metres: result.residual, rounds, severity: 'note' });
        continue;
      }
      if (trouble === 'limits-won') {
        const joints = result.won.map((j) => chain.names[j]);
        context.report({ code: 'limits-won', joints, metres: result.residual, severity: 'note' });
        continue;
      }
      const [problem, severity] = troubleOf(trouble === 'straight' ? 'straight-rest' : trouble, {
        missing: result.residual,
        root: chain.names[root],
        joints: 'The joints',
        tip: chain.names[tip],
      });
      context.report({ ...problem, severity });
    }
    return {
      chain: chainValue(withPosed(chain, result.posed)),
      residual: numberValue(result.residual),
      rounds: integerValue(result.rounds),
      held: integerValue(result.held.length),
    };
  },
};
