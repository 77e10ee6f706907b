import type { ModuleFile } from '@umberfish/core';
import { node } from './records.ts';
import { metres, number, starter, through, type ShortWay } from './starter-parts.ts';

/* The modules that pose joints: put on a chain, they bend it on top of its own channels. */

const CHAIN: ShortWay = { name: 'chain', kind: 'chain', help: 'The joints, by their own channels.' };
const POSED: ShortWay = { name: 'posed', kind: 'chain', help: 'The joints as they are posed: to Drive Chain.' };
const joint = (name: string, help: string, ...sets: [string, string][]): ShortWay => ({
  ...{ name, kind: 'setting', control: 'choice', help, sets },
});
const target = (name: string, help: string, more: Partial<ShortWay> = {}): ShortWay => ({
  ...{ name, kind: 'place', control: 'place', start: 'origin', help, ...more },
});
const AMOUNT = number('amount', 1, [0, 1], '0 leaves the joints as they come in.');

export function posingStarters(): ModuleFile[] {
  const limb = [
    CHAIN,
    joint('tip', 'The joint that goes to the target; the two above it bend.', ['limb', 'tip']),
    target('target', 'Where the tip goes.'),
    target('bend towards', 'What the middle joint bends towards; open: as it stands.', { optional: true }),
    AMOUNT,
    number('soft reach', 0.05, [0, 0.5], 'The last share of the reach, over which it straightens ever more slowly.'),
    number('stretch', 0, [0, 1], 'How much of what is missing is made up by length.'),
    number('roll', 0, [-180, 180], 'Turns the bend about the line from root to target.', '°'),
  ];
  const foot = [
    CHAIN,
    { name: 'ground', kind: 'mesh', help: 'The ground; it may move.' } as ShortWay,
    { name: 'skin', kind: 'mesh', optional: true, help: 'The bound mesh at rest: then its own points are kept out.' } as ShortWay,
    joint('foot', 'The joint that is set down; the two above it bend.', ['down', 'foot'], ['leg', 'tip']),
    joint('contacts', 'Joints under the foot that may touch; empty: the foot and all below it.', ['down', 'contacts']),
    AMOUNT,
    metres('clearance', 0, [0, 0.3], 'How far above the ground it stays.'),
    metres('landing band', 0.05, [0, 0.5], 'The height over which it comes down softly.'),
    number('align', 1, [0, 1], 'How much of the slope it takes over.'),
  ];
  const spine = [
    CHAIN,
    { name: 'curve', kind: 'curves', help: 'The curve that the joints lie along.' } as ShortWay,
    joint('tip', 'The last joint on the curve.', ['spine', 'tip']),
    joint('root', 'The first joint on it; empty: the first of the chain.', ['spine', 'root']),
    AMOUNT,
    number('start', 0, [-1, 1], 'Where the root is, as a share of the curve; animate it to travel.'),
    number('stretch', 1, [0, 3], 'Longer or shorter along the curve.'),
    number('roll at the end', 0, [-180, 180], 'Turn about the curve at the tip.', '°'),
  ];
  const neck = [
    CHAIN,
    joint('head', 'The joint that looks at the target.', ['head', 'joint'], ['turn', 'tip']),
    joint('root', 'Where the neck begins; empty: the first of the chain.', ['turn', 'root']),
    target('target', 'What the head looks at.', { kind: 'matrix', start: 'top' }),
    joint('looks with', 'Which own axis of the head points at the target.', ['look', 'aimAxis']),
    AMOUNT,
  ];
  const tail = [
    CHAIN,
    joint('tip', 'The joint at the end of the tail.', ['end', 'joint'], ['swing', 'tip']),
    joint('root', 'Where the tail begins; empty: the first of the chain.', ['swing', 'root']),
    AMOUNT,
    number('lag', 6, [0, 24], 'How many frames its tip comes behind.', 'frames'),
    number('overshoot', 0.2, [0, 0.9], 'How far the tip swings past where it should be.'),
  ];
  return [
    starter(
      'limb',
      'Limb To A Target',
      'Bends an arm or a leg so that its end is at a target, towards where its middle should point.',
      ['arm', 'leg', 'chain', 'joints', 'hand'],
      limb,
      [node('limb', 'bend-chain', [0, 0])],
      [
        ...through('limb', limb, { 'bend towards': 'rollTarget', amount: 'blend', 'soft reach': 'soft' }),
        ['limb.chain', 'out.posed'],
      ],
      [POSED],
    ),
    starter(
      'foot',
      'Foot On The Ground',
      'Keeps a foot out of uneven ground, tilts it as the ground is, and bends the leg to it.',
      ['leg', 'contact', 'terrain', 'chain', 'joints'],
      foot,
      [
        node('down', 'ground-contact', [0, 0]),
        node('leg', 'bend-chain', [260, 0], { settings: { tipTurn: 'target' }, inputs: { soft: 0 } }),
      ],
      [
        ['in.chain', 'down.chain'],
        ['in.ground', 'down.ground'],
        ['in.skin', 'down.skin'],
        ['in.clearance', 'down.clearance'],
        ['in.landing band', 'down.band'],
        ['in.align', 'down.align'],
        ['in.chain', 'leg.chain'],
        ['down.matrix', 'leg.target'],
        ['in.amount', 'leg.blend'],
        ['leg.chain', 'out.posed'],
      ],
      [POSED],
    ),
    starter(
      'spine',
      'Spine On A Curve',
      'Lays a row of joints along a drawn curve, each bone as long as it is.',
      ['back', 'snake', 'fish', 'chain', 'joints'],
      spine,
      [node('spine', 'lay-chain-along-curve', [0, 0])],
      [
        ...through('spine', spine, { curve: 'curves', amount: 'blend', 'roll at the end': 'rollEnd' }),
        ['spine.chain', 'out.posed'],
      ],
      [POSED],
    ),
    starter(
      'neck',
      'Look At A Target',
      'Turns a head towards a target; the joints of the neck take over their shares of its roll.',
      ['neck', 'head', 'aim', 'chain', 'joints'],
      neck,
      [
        node('head', 'joint', [0, 0]),
        node('look', 'aim-at', [240, 0], { settings: { for: 'matrix', up: 'none', aimAxis: '-y' } }),
        node('turn', 'reach', [480, 0], { settings: { tipTurn: 'target', pass: 'share', shape: 'least' } }),
      ],
      [
        ['in.chain', 'head.chain'],
        ['head.matrix', 'look.from'],
        ['in.target', 'look.a'],
        ['in.chain', 'turn.chain'],
        ['look.matrix', 'turn.target'],
        ['in.amount', 'turn.blend'],
        ['turn.chain', 'out.posed'],
      ],
      [POSED],
    ),
    starter(
      'tail',
      'Tail That Lags',
      'Lets the end of a tail come late and swing on, by what the chain did in earlier frames.',
      ['tail', 'drag', 'follow', 'late', 'chain', 'joints'],
      tail,
      [
        node('end', 'joint', [0, 0]),
        node('late', 'damping', [240, 0]),
        node('swing', 'reach', [480, 0], { settings: { shape: 'least' } }),
      ],
      [
        ['in.chain', 'end.chain'],
        ['end.matrix', 'late.value'],
        ['in.lag', 'late.lag'],
        ['in.overshoot', 'late.overshoot'],
        ['in.chain', 'swing.chain'],
        ['late.value', 'swing.target'],
        ['in.amount', 'swing.blend'],
        ['swing.chain', 'out.posed'],
      ],
      [POSED],
    ),
  ];
}
