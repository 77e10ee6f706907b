import { jointPlace, jointsFitting, withPosed } from '../../chains/chain.ts';
import { blendPoses } from '../../chains/blend-poses.ts';
import { limitTakesRest } from '../../chains/limits.ts';
import { extent, solve, stay, type ReachTarget } from '../../chains/solve.ts';
import type { InputPort, NodeDefinition, Setting, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue, integerValue, type Column } from '../../graph/node/values.ts';
import { length, subtract } from '../../maths/vector.ts';
import { numberPort, text, toggleSetting, yes } from '../ports.ts';
import { share } from './bend-chain.ts';
import { CHAIN_IN, CHAIN_OUT, jointSetting, needChain, needJoint, placeAt, placePort } from './joints.ts';

const MOST = 12;
const countOf = (s: Settings) => Math.min(MOST, Math.max(1, Math.round(Number(s.targets) || 1)));

const JOINTS = Array.from({ length: MOST }, (_, i) => ({
  ...jointSetting(`joint${i + 1}`, `Joint ${i + 1}`, 'The joint that goes to this target.'),
  shown: (s: Settings) => countOf(s) > i,
}));

const TARGETS: Setting = {
  id: 'targets',
  label: 'Targets',
  type: 'number',
  whole: true,
  default: 2,
  range: { min: 1, max: MOST, hard: true },
  help: 'How many joints have targets.',
};

export const wholeBodyReach: NodeDefinition = {
  id: 'whole-body-reach',
  version: 1,
  title: 'Whole-Body Reach',
  group: 'Chains',
  summary: 'Brings several joints to their targets at once, and the rest of the body with them.',
  keywords: ['full body', 'solver', 'pin', 'balance', 'centre of mass', 'inverse'],
  inputs: (s): InputPort[] => [
    CHAIN_IN,
    numberPort(
      'solve',
      'solve',
      undefined,
      0,
      [0, 1],
      '0 leaves the pose as it came in, so that all else can be worked on; 1 solves.',
    ),
    ...Array.from({ length: countOf(s) }, (_, i) => [
      placePort(`target${i + 1}`, `target ${i + 1}`, 'Where that joint should be.', { optional: true }),
      numberPort(`place${i + 1}`, `place ${i + 1}`, undefined, 1, [0, 1], 'How firmly its place is pinned.'),
      numberPort(`turn${i + 1}`, `turn ${i + 1}`, undefined, 0, [0, 1], 'How firmly its turn is pinned to the target’s.'),
    ]).flat(),
    numberPort(
      'root',
      'root moves',
      undefined,
      1,
      [0, 1],
      'How readily the first joint of the chain goes along as a whole: 0 stays. Where it is not among the joints that move, nothing does.',
    ),
    ...(yes(s, 'balance')
      ? [
          placePort('centre', 'centre of mass', 'Where the middle of the masses should be.', { optional: true }),
          numberPort('centreWeight', 'balance', undefined, 0.5, [0, 1], 'How firmly.'),
        ]
      : []),
  ],
  outputs: () => [
    CHAIN_OUT,
    {
      id: 'residuals',
      label: 'missing',
      kind: 'number',
      unit: 'm',
      help: 'How far each joint is from its target in the pose that comes out, in their order.',
    },
    { id: 'rounds', label: 'rounds', kind: 'integer', help: 'How many rounds it took.' },
    { id: 'held', label: 'at limits', kind: 'integer', help: 'How many joints are at a limit of theirs.' },
  ],
  settings: [
    TARGETS,
    ...JOINTS,
    { ...jointSetting('joints', 'Joints that move', 'Names with commas between, * for any letters. Empty: all.') },
    toggleSetting('balance', 'Balance', false, 'A target for the middle of the masses, which joints have by themselves.'),
    toggleSetting(
      'level',
      'Across only',
      true,
      'Of the middle of the masses only x and z count: it is kept above a place, at any height.',
    ),
    {
      id: 'rounds',
      label: 'Rounds',
      type: 'number',
      whole: true,
      default: 30,
      range: { min: 1, max: 500, hard: true },
      help: 'The most rounds it takes.',
    },
    {
      id: 'tolerance',
      label: 'Tolerance',
      type: 'number',
      default: 0.0001,
      range: { min: 0, max: 0.01 },
      unit: '× height',
      help: 'Near enough, as a share of the longest way down the chain.',
    },
  ],
  sentence: (s) =>
    JOINTS.slice(0, countOf(s))
      .map((j) => text(s, j.id))
      .filter(Boolean)
      .join(', ') || 'no joints yet',
  passes: { chain: 'chain' },
  evaluate(context) {
    const { settings } = context;
    const chain = needChain(context);
    const amount = share(context, 'solve');
    const targets: ReachTarget[] = [];
    JOINTS.slice(0, countOf(settings)).forEach((setting, i) => {
      const place = placeAt(context, `target${i + 1}`);
      if (!place) return;
      const joint = needJoint(context, chain, setting);
      if (!place.place.every(Number.isFinite)) {
        context.report({ code: 'target-not-finite', port: `target ${i + 1}`, severity: 'warning' });
        return;
      }
      const turnWeight = share(context, `turn${i + 1}`);
      if (turnWeight > 0 && !place.turn) context.report({ code: 'no-turn', port: `target ${i + 1}`, severity: 'warning' });
      targets.push({ joint, place: place.place, placeWeight: share(context, `place${i + 1}`), turn: place.turn, turnWeight });
    });
    const joints = jointsFitting(chain, text(settings, 'joints'));
    if (joints.length === 0) throw new NodeError({ code: 'joint-missing', name: text(settings, 'joints'), known: chain.names });
    const excluded = joints.filter((j) => {
      const { limit } = chain.traits[j];
      return limit && !limitTakesRest(limit);
    });
    if (excluded.length > 0)
      context.report({ code: 'limit-excludes-rest', joints: excluded.map((j) => chain.names[j]), severity: 'warning' });
    const centre = yes(settings, 'balance') ? placeAt(context, 'centre') : undefined;
    const rounds = Math.round(Number(settings.rounds));
    const size = extent(chain);
    const solved = (amount === 0 ? stay : solve)(chain, {
      joints,
      targets,
      centre: centre?.place.every(Number.isFinite)
        ? { place: centre.place, weight: share(context, 'centreWeight'), axes: [true, !yes(settings, 'level'), true] }
        : undefined,
      rootMoves: share(context, 'root'),
      useLimits: true,
      rounds,
      tolerance: Math.max(1e-12, Number(settings.tolerance)) * size,
    });
    const worst = Math.max(0, ...targets.map((t, i) => (t.placeWeight >= 0.999 ? solved.residuals[i] : 0)));
    if (amount > 0 && worst > Math.max(1e-3, 10 * Number(settings.tolerance)) * size)
      context.report({ code: 'not-reached', metres: worst, rounds: solved.rounds, severity: 'note' });
    const posed =
      amount === 1
        ? solved.posed
        : blendPoses(chain.parents, [chain.posed, solved.posed], (k) => (k === 0 ? 1 - amount : amount));
    const residuals: Column = {
      form: 'column',
      kind: 'number',
      count: targets.length,
      data: Float32Array.from(targets, (t) => length(subtract(jointPlace(posed, t.joint), t.place))),
      on: 'joint',
      owner: `${chain.id} ${targets.map((t) => t.joint).join()}`,
      role: 'plain',
    };
    return {
      chain: chainValue(withPosed(chain, posed)),
      residuals,
      rounds: integerValue(solved.rounds),
      held: integerValue(solved.held.length),
    };
  },
};
