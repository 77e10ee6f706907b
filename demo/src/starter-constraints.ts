import type { ModuleFile } from '@umberfish/core';
import { node } from './records.ts';
import { number, starter, through, type ShortWay } from './starter-parts.ts';

/* The modules that carry props: put on an object and its drivers, they leave it where it is. */

const object = (id: string): ShortWay => ({
  name: 'object',
  kind: 'setting',
  control: 'object',
  help: 'What is carried.',
  sets: [[id, 'object']],
});
const driver = (name: string, help: string): ShortWay => ({ name, kind: 'matrix', help });
const CARRIER: ShortWay = {
  name: 'carrier',
  kind: 'matrix',
  help: 'What goes under the object’s own channels: to Drive Object.',
};

export function carryingStarters(): ModuleFile[] {
  const late = [
    object('follow'),
    driver('driver', 'What it follows.'),
    {
      name: 'frames late',
      kind: 'setting',
      control: 'number',
      help: 'How many frames it lags behind.',
      sets: [['before', 'frames']],
    } as ShortWay,
  ];
  const two = [
    object('hand'),
    driver('first holder', 'Who holds it at 0.'),
    driver('second holder', 'Who holds it at 1.'),
    number('hand over', 0, [0, 1], '0 is the first holder, 1 the second; between, it is on its way.'),
  ];
  const four = [
    object('hand'),
    ...['first', 'second', 'third', 'fourth'].map((n, i) => driver(`${n} holder`, `Who holds it at ${i}.`)),
    number('hand over', 0, [0, 3], 'Which holder has it, by number from 0; between two numbers it is on its way.'),
  ];
  const between = [
    object('middle'),
    driver('first', 'One end.'),
    driver('second', 'The other end.'),
    number('share', 0.5, [0, 1], '0 goes with the first alone, 1 with the second alone.'),
  ];
  const aim = [
    object('aim'),
    driver('target', 'What it points at.'),
    driver('above', 'What is kept above it.'),
    number('roll', 0, [-180, 180], 'Turn about the line to the target.', '°'),
  ];
  const upright = [object('hang'), driver('hook', 'Where it hangs: only its place counts, not how it is turned.')];
  return [
    starter(
      'late',
      'Follow Late',
      'Lets an object follow another some frames later.',
      ['lag', 'delay', 'trail', 'constraint'],
      late,
      [node('before', 'at-frame', [0, 0], { settings: { frames: 4 } }), node('follow', 'follow', [240, 0])],
      [
        ['in.driver', 'before.value'],
        ['before.value', 'follow.a'],
        ['follow.carrier', 'out.carrier'],
      ],
      [CARRIER],
    ),
    starter(
      'two',
      'Pass To Another',
      'Hands an object from one holder to another by a dial, and back.',
      ['pick up', 'put down', 'switch', 'constraint'],
      two,
      [node('hand', 'hand-over', [0, 0])],
      [
        ...through('hand', two, { 'first holder': 'a', 'second holder': 'b', 'hand over': 'dial' }),
        ['hand.carrier', 'out.carrier'],
      ],
      [CARRIER],
    ),
    starter(
      'four',
      'Pass Round',
      'Hands an object round among four holders by one dial.',
      ['pass', 'switch', 'juggle', 'constraint'],
      four,
      [node('hand', 'hand-over', [0, 0], { settings: { drivers: 4 } })],
      [
        ...through('hand', four, {
          'first holder': 'a',
          'second holder': 'b',
          'third holder': 'c',
          'fourth holder': 'd',
          'hand over': 'dial',
        }),
        ['hand.carrier', 'out.carrier'],
      ],
      [CARRIER],
    ),
    starter(
      'between',
      'Stay Between',
      'Keeps an object between two others as they move.',
      ['middle', 'average', 'constraint'],
      between,
      [node('middle', 'between', [0, 0])],
      [...through('middle', between, { first: 'a', second: 'b', share: 'weight' }), ['middle.carrier', 'out.carrier']],
      [CARRIER],
    ),
    starter(
      'aim',
      'Aim Upright',
      'Points an object at a target, and keeps another above it, so that it does not roll.',
      ['look', 'point', 'lamp', 'constraint'],
      aim,
      [node('aim', 'aim-at', [0, 0], { settings: { up: 'target' } })],
      [...through('aim', aim, { target: 'a', above: 'b' }), ['aim.carrier', 'out.carrier']],
      [CARRIER],
    ),
    starter(
      'upright',
      'Hang Upright',
      'Lets an object hang from a hook that turns: it goes along and stays upright.',
      ['lantern', 'pendulum', 'level', 'constraint'],
      upright,
      [node('hang', 'between', [0, 0])],
      [
        ['in.hook', 'hang.a'],
        ['in.hook', 'hang.b'],
        ['hang.carrier', 'out.carrier'],
      ],
      [CARRIER],
    ),
  ];
}
