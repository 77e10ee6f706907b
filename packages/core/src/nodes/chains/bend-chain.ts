import { bendChain, type BendTrouble } from '../../chains/bend-chain.ts';
import type { TipTurn } from '../../chains/tip-turn.ts';
import { withPosed } from '../../chains/chain.ts';
import type { NodeContext, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import type { ProblemData, Severity } from '../../graph/node/problems.ts';
import { chainValue, numberValue } from '../../graph/node/values.ts';
import { compose } from '../../maths/factors.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { scale } from '../../maths/vector.ts';
import { choiceSetting, numberPort, singleVector, text, toggleSetting, vectorPort, yes } from '../ports.ts';
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

const ROOT = jointSetting('root', 'Root', 'The joint that stays. Empty: the one above the middle.');
const MIDDLE = jointSetting('middle', 'Middle', 'The joint that bends. Empty: the one above the tip.');
const TIP = jointSetting('tip', 'Tip', 'The joint that goes to the target.');
const TARGET = placeSetting('targetObject', 'Target', 'Where the tip should be.');
const ROLL = placeSetting('rollObject', 'Roll target', 'What the middle bends towards.');

/** What the tip takes over besides a place. */
export const TIP_TURN = choiceSetting(
  'tipTurn',
  'Tip’s turn',
  [
    ['carried', 'Goes along'],
    ['kept', 'Stays as it was'],
    ['target', 'That of the target'],
  ],
  'Goes along: with the bone above. Stays: as it came in, seen from the world. Of the target: when that is a matrix.',
);
const takesTurn = (s: Settings) => s.tipTurn === 'target';

export const bendChainNode: NodeDefinition = {
  id: 'bend-chain',
  version: 1,
  title: 'Bend Chain',
  group: 'Chains',
  summary: 'Bends a limb of two bones so that its tip is at a target, towards a roll target.',
  keywords: ['limb', 'leg', 'arm', 'knee', 'elbow', 'solver', 'inverse'],
  inputs: (s) => [
    CHAIN_IN,
    placePort('target', 'target', 'Where the tip should be.', s.targetObject ? { optional: true } : {}),
    placePort('rollTarget', 'roll target', 'What the middle bends towards.', { optional: true }),
    numberPort(
      'blend',
      'blend',
      undefined,
      1,
      [0, 1],
      '0 is the pose that comes in, 1 the bent one; between, each turn is mixed.',
    ),
    numberPort(
      'soft',
      'soft reach',
      undefined,
      0.05,
      [0, 0.5],
      'The last share of the reach, over which it straightens ever more slowly: it never snaps straight.',
    ),
    numberPort('stretch', 'stretch', undefined, 0, [0, 1], 'How much of what is missing to the target is made up by length.'),
    numberPort('longest', 'longest', '×', 2, [1, 5], 'No longer than this.'),
    numberPort(
      'squash',
      'squash',
      undefined,
      0,
      [0, 1],
      'How much it shortens, instead of bending, when the target comes nearer.',
    ),
    numberPort('shortest', 'shortest', '×', 0.5, [0.05, 1], 'No shorter than this.'),
    numberPort('roll', 'roll', '°', 0, [-180, 180], 'Turns the bend about the line from root to target.'),
    ...(takesTurn(s)
      ? [vectorPort('offset', 'tip offset', '°', 0, [-180, 180], 'Turns the tip from the target’s turn, about its own axes.')]
      : []),
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
    { id: 'lengthened', label: 'lengthened', kind: 'number', unit: '×', help: 'How much longer or shorter the limb was made.' },
  ],
  settings: [
    ROOT,
    MIDDLE,
    TIP,
    TARGET,
    ROLL,
    TIP_TURN,
    toggleSetting(
      'keepRoot',
      'Root keeps its roll',
      false,
      'The root turns as little as it can, instead of following the plane of the bend.',
    ),
  ],
  sentence: (s, c) => `${namesFor(s, ROOT, MIDDLE, TIP)} to ${towards(c, 'target', s.targetObject)}`,
  reads: (s) => readsPlaces(s, TARGET, ROLL),
  passes: { chain: 'chain' },
  evaluate(context) {
    const { settings } = context;
    const chain = needChain(context);
    const tip = needJoint(context, chain, TIP);
    const middle = needJoint(context, chain, MIDDLE, chain.parents[tip]);
    const root = needJoint(context, chain, ROOT, chain.parents[middle]);
    const target = placeAt(context, 'target', TARGET) as NonNullable<ReturnType<typeof placeAt>>;
    if (settings.tipTurn === 'target' && !target.turn) context.report({ code: 'no-turn', port: 'target', severity: 'warning' });
    const offset = takesTurn(settings) ? singleVector(context, 'offset') : undefined;
    const result = bendChain(chain, {
      root,
      middle,
      tip,
      target: target.place,
      targetTurn: target.turn,
      rollTarget: placeAt(context, 'rollTarget', ROLL)?.place,
      roll: context.number('roll') * RADIANS_PER_DEGREE,
      soft: share(context, 'soft'),
      stretch: share(context, 'stretch'),
      longest: context.number('longest'),
      squash: share(context, 'squash'),
      shortest: context.number('shortest'),
      keepRootRoll: yes(settings, 'keepRoot'),
      tipTurn: text(settings, 'tipTurn') as TipTurn,
      tipOffset: offset && compose([0, 0, 0], scale(offset, RADIANS_PER_DEGREE), 'xyz', [1, 1, 1]),
      blend: share(context, 'blend'),
    });
    const names = (...joints: number[]) => joints.map((j) => `"${chain.names[j]}"`).join(' and ');
    for (const trouble of result.trouble) {
      const [problem, severity] = troubleOf(trouble, {
        missing: result.residual,
        root: chain.names[root],
        joints: names(root, middle, tip),
        tip: chain.names[tip],
      });
      context.report({ ...problem, severity });
    }
    return {
      chain: chainValue(withPosed(chain, result.posed)),
      residual: numberValue(result.residual),
      lengthened: numberValue(result.lengthened),
    };
  },
};

/** A number from 0 to 1 at an input. */
export const share = (context: NodeContext, port: string): number => Math.min(1, Math.max(0, context.number(port) || 0));

/** What is said of trouble; the pose is then as that says. */
export function troubleOf(
  trouble: BendTrouble,
  of: { missing: number; root: string; joints: string; tip: string },
): [ProblemData, Severity] {
  switch (trouble) {
    case 'no-descendant':
      return [{ code: 'joint-order', above: of.root, below: of.tip }, 'warning'];
    case 'no-length':
      return [{ code: 'bones-no-length', joints: of.joints }, 'warning'];
    case 'straight-rest':
      return [{ code: 'chain-straight' }, 'warning'];
    case 'target-at-root':
      return [{ code: 'target-at-root', joint: of.root }, 'warning'];
    case 'roll-on-line':
      return [{ code: 'roll-on-line' }, 'warning'];
    case 'out-of-reach':
      return [{ code: 'out-of-reach', metres: of.missing, near: false }, 'note'];
    case 'too-near':
      return [{ code: 'out-of-reach', metres: of.missing, near: true }, 'note'];
    case 'not-finite':
      return [{ code: 'target-not-finite', port: 'target' }, 'warning'];
  }
}
