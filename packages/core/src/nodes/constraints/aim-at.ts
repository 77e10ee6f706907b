import { aimWith, carriedPivot } from '../../constraints/index.ts';
import { aimMatrix, type AimAxes, type SignedAxis } from '../../maths/aim.ts';
import type { InputPort, NodeContext, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { positionOf } from '../../maths/matrix.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { length, subtract, type Vec3 } from '../../maths/vector.ts';
import { matrixOutput, matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { choiceSetting, numberPort, singleVector, vectorPort } from '../ports.ts';
import { CARRIER_OUT, carrierValue, CHILD, childOf, readsParent, SNAPSHOT } from './child.ts';

const AXES = [
  ['z', '+z'],
  ['-z', '−z'],
  ['x', '+x'],
  ['-x', '−x'],
  ['y', '+y'],
  ['-y', '−y'],
] as const;
const forObject = (s: Settings) => s.for !== 'matrix';
const hasUp = (s: Settings) => s.up !== 'none';
const isPlain = (s: Settings) => !forObject(s);

const UP: InputPort = { ...vectorPort('up', 'up', undefined, 0, [-1, 1], 'The direction that is kept up.'), default: [0, 1, 0] };

export const aimAt: NodeDefinition = {
  id: 'aim-at',
  version: 1,
  title: 'Aim At',
  group: 'Constraints',
  summary: 'Turns an object, or a matrix, towards a target.',
  keywords: ['look at', 'point', 'turn towards', 'constrain', 'eyes'],
  inputs: (s) => [
    ...(forObject(s) ? [] : [matrixPort('from', 'from', 'The matrix that is turned; its place and size are kept.')]),
    matrixPort('a', 'target', 'The world matrix of what is aimed at.'),
    ...(s.up === 'target' ? [matrixPort('b', 'up target', 'The world matrix of what is kept above.')] : []),
    ...(s.up === 'vector' ? [UP] : []),
    numberPort('roll', 'roll', '°', 0, [-180, 180], 'Turn about the line to the target.'),
  ],
  outputs: (s) => [forObject(s) ? CARRIER_OUT : matrixOutput('matrix', 'matrix', 'The matrix, turned.')],
  settings: [
    choiceSetting(
      'for',
      'For',
      [
        ['object', 'An object'],
        ['matrix', 'A matrix'],
      ],
      'An object keeps its offset to the aim; a matrix is aimed outright.',
    ),
    { ...CHILD, shown: forObject },
    choiceSetting(
      'up',
      'Up',
      [
        ['vector', 'A direction'],
        ['target', 'A second target'],
        ['none', 'Least turn'],
      ],
      'What keeps it from rolling.',
    ),
    choiceSetting('aimAxis', 'Points with', AXES, 'Which own axis points at the target.', isPlain),
    { ...choiceSetting('upAxis', 'Up is', AXES, 'Which own axis is kept up.', isPlain), default: 'y' } as ReturnType<
      typeof choiceSetting
    >,
    { ...SNAPSHOT, shown: forObject },
  ],
  sentence: (s, c) =>
    `${forObject(s) ? (c.objectName(s.object) ?? 'no object yet') : (c.source?.('from') ?? 'a matrix')} at ${c.source?.('a') ?? 'a target'}`,
  reads: (s) => (forObject(s) ? readsParent(s) : []),
  light: true,
  evaluate(context) {
    const { settings } = context;
    const roll = context.number('roll') * RADIANS_PER_DEGREE;
    const axes: AimAxes = { aim: settings.aimAxis as SignedAxis, up: settings.upAxis as SignedAxis };
    const target = positionOf(singleMatrix(context, 'a'));
    if (!forObject(settings)) {
      const from = singleMatrix(context, 'from');
      const place = positionOf(from);
      const direction = subtract(target, place);
      if (length(direction) === 0) context.report({ code: 'aim-nowhere', severity: 'warning' });
      const up = hasUp(settings) ? upFrom(context, place) : undefined;
      return { matrix: matrixValue(aimMatrix(from, direction, up, axes, roll)) };
    }
    const { child, snapshot } = childOf(context, settings.up === 'target' ? 2 : 1);
    const then = { target: positionOf(snapshot.drivers[0]) };
    const upNow = settings.up === 'target' ? { above: positionOf(singleMatrix(context, 'b')) } : {};
    const upThen = settings.up === 'target' ? { above: positionOf(snapshot.drivers[1]) } : {};
    const up = settings.up === 'vector' ? { up: singleVector(context, 'up') } : {};
    const place = carriedPivot(snapshot, child.parent);
    if (place && length(subtract(target, place)) === 0) context.report({ code: 'aim-nowhere', severity: 'warning' });
    const carrier = aimWith({ target, ...up, ...upNow }, { ...then, ...up, ...upThen }, snapshot, child.parent, AIM, roll);
    return carrierValue(carrier);
  },
};

/** Which axes an object's frames are made with does not matter: only the turn from one to the other does. */
const AIM: AimAxes = { aim: 'z', up: 'y' };

/** The up direction as seen from a place. */
function upFrom(context: NodeContext, place: Vec3): Vec3 {
  if (context.settings.up === 'target') return subtract(positionOf(singleMatrix(context, 'b')), place);
  return singleVector(context, 'up');
}
