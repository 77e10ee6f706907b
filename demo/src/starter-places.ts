import { RESPONSE_PRESETS, type ModuleFile } from '@umberfish/core';
import { node } from './records.ts';
import { MESH, metres, number, place, responseOf, SECONDS, starter, through, WEIGHT, type ShortWay } from './starter-parts.ts';

/** A way that names a locator for the falloff inside. */
const locator = (help: string): ShortWay => ({
  name: 'here',
  kind: 'setting',
  control: 'place',
  start: 'top',
  help,
  sets: [['round', 'object']],
});

/** How near each point is to a place, 1 there and 0 from a length on, through a response. */
const NEARNESS = [
  node('values', 'point-values', [0, 0]),
  node('distance', 'measure', [0, 170], { title: 'Distance' }),
  node('ratio', 'arithmetic', [196, 170], { title: 'By radius', settings: { operation: 'divide' } }),
  node('by-distance', 'response', [392, 170], { settings: { response: RESPONSE_PRESETS['Ease down'] } }),
];
const nearWithin = (length: string): [string, string][] => [
  ['in.mesh', 'values.mesh'],
  ['values.positions', 'distance.a'],
  ['in.place', 'distance.b'],
  ['distance.result', 'ratio.a'],
  [`in.${length}`, 'ratio.b'],
  ['ratio.result', 'by-distance.value'],
];

/** The modules that act near a place or a locator. */
export function placedStarters(): ModuleFile[] {
  const swellIns = [
    MESH,
    place('Where it swells.'),
    metres('radius', 0.6, [0.05, 3], 'How far from the place it reaches.'),
    metres('height', 0.2, [-1, 1], 'How far points go out along their normals at the place.'),
    WEIGHT,
    responseOf('by-distance', 'From the place to the radius.'),
  ];
  const dentIns = [
    MESH,
    place('Where it is dented.'),
    metres('radius', 0.5, [0.05, 3], 'Where the dent ends.'),
    metres('depth', 0.15, [0, 1], 'How deep it is in the middle.'),
    WEIGHT,
    responseOf('bump', 'From the middle to the rim.'),
  ];
  const rippleIns = [
    MESH,
    place('Where the ripples come from.'),
    metres('height', 0.05, [-0.5, 0.5], 'Of the waves at the place.'),
    metres('wavelength', 0.4, [0.05, 3], 'From crest to crest.'),
    number('speed', 0.5, [-3, 3], 'How fast they go out.', 'm/s'),
    metres('reach', 2, [0.1, 10], 'Where they have died out.'),
    SECONDS,
    WEIGHT,
  ];
  const shingleIns = [
    MESH,
    locator('Where faces come loose: a locator.'),
    metres('inner', 0.2, [0, 3], 'Within this, faces are wholly loose.'),
    metres('outer', 0.8, [0, 5], 'Beyond this, none is.'),
    metres('drift', 0.2, [0, 2], 'How far loose faces go out.'),
    number('spin', 120, [0, 720], 'How far they turn at most.', '°'),
    number('shrink', 0.2, [0, 1], 'How much smaller loose faces get.'),
    SECONDS,
  ];
  const calmIns = [
    MESH,
    locator('Where it is evened out: a locator.'),
    metres('inner', 0.3, [0, 3], 'Within this, wholly.'),
    metres('outer', 1, [0, 5], 'Beyond this, not at all.'),
    { name: 'rounds', kind: 'integer', default: 6, range: [0, 50], help: 'How often it is evened out.' } as ShortWay,
  ];
  const grownIns = [
    MESH,
    locator('Where it is covered: a locator.'),
    metres('inner', 0.3, [0, 3], 'Within this, copies are full grown.'),
    metres('outer', 1, [0, 5], 'Beyond this, there is nothing.'),
    { name: 'count', kind: 'integer', default: 300, range: [0, 5000], help: 'How many stand on the whole mesh.' } as ShortWay,
    metres('size', 0.06, [0.005, 0.5], 'How thick each is.'),
    { name: 'seed', kind: 'integer', default: 1, range: [0, 100], help: 'Another number gives other places.' } as ShortWay,
  ];
  const leanIns = [
    MESH,
    place('What it leans away from.', 'origin'),
    metres('reach', 1.5, [0.05, 5], 'Beyond this, nothing leans.'),
    metres('amount', 0.4, [-2, 2], 'How far points go to the side at the place; less than 0 leans towards it.'),
    WEIGHT,
    responseOf('by-distance', 'From the place to where it ends.'),
  ];
  return [
    starter(
      'swell',
      'Swell',
      'Swells a mesh out along its normals near a place.',
      ['place', 'puff', 'bulge'],
      swellIns,
      [
        ...NEARNESS,
        node('out-by', 'arithmetic', [588, 90], { title: 'Along normals', settings: { operation: 'multiply', operands: '3' } }),
        node('move', 'move-points', [784, 0]),
      ],
      [
        ...nearWithin('radius'),
        ['values.normals', 'out-by.a'],
        ['by-distance.result', 'out-by.b'],
        ['in.height', 'out-by.c'],
        ['in.mesh', 'move.mesh'],
        ['out-by.result', 'move.offset'],
        ['in.weight', 'move.weight'],
        ['move.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'dent',
      'Dent',
      'Presses a round dent into a mesh at a place.',
      ['place', 'press', 'hollow'],
      dentIns,
      [
        node('inwards', 'arithmetic', [0, 120], { title: 'Inwards', settings: { operation: 'negate' } }),
        node('bump', 'bulge', [240, 0], { settings: { response: RESPONSE_PRESETS['Ease down'] } }),
      ],
      [
        ['in.mesh', 'bump.mesh'],
        ['in.place', 'bump.centre'],
        ['in.radius', 'bump.radius'],
        ['in.depth', 'inwards.a'],
        ['inwards.result', 'bump.height'],
        ['in.weight', 'bump.weight'],
        ['bump.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'ripples',
      'Ripples',
      'Sends rings of waves out from a place.',
      ['water', 'waves', 'rings'],
      rippleIns,
      [node('waves', 'ring-waves', [0, 0])],
      [...through('waves', rippleIns, { place: 'centre' }), ['waves.mesh', 'out.shaped']],
    ),
    starter(
      'shingles',
      'Shingles',
      'Loosens the faces of a mesh near a locator: they drift off and spin.',
      ['moult', 'scales', 'flake'],
      shingleIns,
      [node('round', 'shape-falloff', [0, 160]), node('loose', 'loosen-faces', [240, 0])],
      [
        ['in.mesh', 'loose.mesh'],
        ['in.inner', 'round.inner'],
        ['in.outer', 'round.outer'],
        ['round.falloff', 'loose.weight'],
        ['in.drift', 'loose.drift'],
        ['in.spin', 'loose.spin'],
        ['in.shrink', 'loose.shrink'],
        ['in.time', 'loose.time'],
        ['loose.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'calm',
      'Even Out Here',
      'Evens a mesh out near a locator, and nowhere else.',
      ['smooth', 'relax'],
      calmIns,
      [node('round', 'shape-falloff', [0, 160]), node('even', 'smooth', [240, 0])],
      [
        ['in.mesh', 'even.mesh'],
        ['in.inner', 'round.inner'],
        ['in.outer', 'round.outer'],
        ['in.rounds', 'even.rounds'],
        ['round.falloff', 'even.weight'],
        ['even.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'grown',
      'Barnacles Here',
      'Covers a mesh with copies near a locator; they shrink away from it.',
      ['copies', 'scatter', 'cover', 'grow'],
      grownIns,
      [
        node('round', 'shape-falloff', [0, 340]),
        node('feet', 'scatter-points', [0, 120]),
        node('one', 'make-sphere', [0, 560], { title: 'A barnacle', inputs: { rings: 6, segments: 10 } }),
        node('stand', 'place-copies', [240, 120], { inputs: { vary: 0.4 } }),
        node('grown', 'copies-to-mesh', [480, 120]),
        node('all', 'merge', [720, 0]),
      ],
      [
        ['in.mesh', 'feet.mesh'],
        ['in.count', 'feet.count'],
        ['in.seed', 'feet.seed'],
        ['in.inner', 'round.inner'],
        ['in.outer', 'round.outer'],
        ['in.size', 'one.radius'],
        ['feet.mesh', 'stand.points'],
        ['one.mesh', 'stand.a'],
        ['round.falloff', 'stand.scale'],
        ['stand.copies', 'grown.mesh'],
        ['in.mesh', 'all.a'],
        ['grown.mesh', 'all.b'],
        ['all.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'lean',
      'Lean Away',
      'Leans a mesh away from a place, sideways, as kelp does from who swims by.',
      ['shy', 'avoid', 'push', 'kelp'],
      leanIns,
      [
        ...NEARNESS,
        node('from', 'arithmetic', [200, 170], { title: 'From the place', settings: { operation: 'subtract' } }),
        node('flat', 'arithmetic', [400, 170], {
          title: 'Sideways',
          settings: { operation: 'multiply' },
          inputs: { b: [1, 0, 1] },
        }),
        node('away', 'direction', [600, 170], { title: 'Away', settings: { operation: 'normalize' } }),
        node('by', 'arithmetic', [800, 170], { title: 'How far', settings: { operation: 'multiply', operands: '3' } }),
        node('move', 'move-points', [1000, 0]),
      ],
      [
        ...nearWithin('reach'),
        ['values.positions', 'from.a'],
        ['in.place', 'from.b'],
        ['from.result', 'flat.a'],
        ['flat.result', 'away.a'],
        ['away.result', 'by.a'],
        ['by-distance.result', 'by.b'],
        ['in.amount', 'by.c'],
        ['in.mesh', 'move.mesh'],
        ['by.result', 'move.offset'],
        ['in.weight', 'move.weight'],
        ['move.mesh', 'out.shaped'],
      ],
    ),
  ];
}
