import { makeObject, type ObjectRecord, type Vec3 } from '@umberfish/core';
import { makeHeron, makeShingle } from './heron-mesh.ts';
import { keys } from './keyed.ts';
import { at, graph, node, section, spline } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** Joints of the heron: what each hangs under, and where it is in the chain's space. */
const JOINTS: readonly (readonly [name: string, under: string | null, at: Vec3])[] = [
  ['Pelvis', null, [0, 1, 0]],
  ['Back', 'Pelvis', [0, 1.03, 0.12]],
  ['Chest', 'Back', [0, 1.07, 0.26]],
  ['Neck 1', 'Chest', [0, 1.17, 0.39]],
  ['Neck 2', 'Neck 1', [0, 1.27, 0.38]],
  ['Neck 3', 'Neck 2', [0, 1.38, 0.31]],
  ['Neck 4', 'Neck 3', [0, 1.49, 0.28]],
  ['Neck 5', 'Neck 4', [0, 1.6, 0.32]],
  ['Head', 'Neck 5', [0, 1.67, 0.42]],
  ['Beak', 'Head', [0, 1.65, 0.58]],
  ['Beak tip', 'Beak', [0, 1.625, 0.82]],
  ['Tail', 'Pelvis', [0, 0.98, -0.18]],
  ['Tail tip', 'Tail', [0, 0.93, -0.44]],
  ...(
    [
      ['Left', 1],
      ['Right', -1],
    ] as const
  ).flatMap(([side, x]): (readonly [string, string | null, Vec3])[] => [
    [`${side} hip`, 'Pelvis', [0.09 * x, 0.95, -0.02]],
    [`${side} knee`, `${side} hip`, [0.09 * x, 0.56, -0.09]],
    [`${side} foot`, `${side} knee`, [0.09 * x, 0.06, 0]],
    [`${side} heel`, `${side} foot`, [0.09 * x, 0.02, -0.09]],
    [`${side} ball`, `${side} foot`, [0.09 * x, 0.025, 0.07]],
    [`${side} toe`, `${side} ball`, [0.09 * x, 0.012, 0.2]],
    [`${side} wing`, 'Chest', [0.1 * x, 1.1, 0.16]],
    [`${side} elbow`, `${side} wing`, [0.4 * x, 1.12, 0.02]],
    [`${side} wrist`, `${side} elbow`, [0.74 * x, 1.11, 0.05]],
    [`${side} wing tip`, `${side} wrist`, [1.12 * x, 1.09, -0.12]],
  ]),
];

const idOf = (name: string) => `heron-${name.toLowerCase().replaceAll(' ', '-')}`;

function joints(): ObjectRecord[] {
  const places = new Map(JOINTS.map(([name, , p]) => [name, p]));
  return JOINTS.map(([name, under, p]) => {
    const above = under === null ? ([0, 0, 0] as Vec3) : (places.get(under) as Vec3);
    const translate = p.map((v, k) => Number((v - above[k]).toFixed(6))) as unknown as Vec3;
    return makeObject(idOf(name), name, 'joint', { parent: under === null ? 'heron' : idOf(under), channels: at(translate) });
  });
}

/** Steps of a foot along z: it stands, is lifted on, and stands again. Frames and places in the corner's space. */
const steps = (first: number) => {
  const stand: [number, number][] = [];
  const lift: [number, number][] = [];
  for (let k = 0; k < 4; k++) {
    const [from, to] = [first + k * 30 - 15, first + k * 30];
    const [z, next] = [-1.15 + (first > 16 ? 0.25 : 0) + k * 0.5 - 0.5, -1.15 + (first > 16 ? 0.25 : 0) + k * 0.5];
    stand.push([from, z], [to, next]);
    lift.push([from, 0.06], [(from + to) / 2, 0.26], [to, 0.06]);
  }
  return { z: keys(...stand), y: keys(...lift) };
};

/** A heron that wades over uneven shingle: contact, reach of the whole body, neck by a curve, wings, a skin. */
export function heron(asset: AddAsset): Station {
  const walk = at([0, 0, -1.3]);
  const goal = (side: string, x: number, first: number) => {
    const { z, y } = steps(first);
    return makeObject(`heron-${side}-goal`, `${side === 'left' ? 'Left' : 'Right'} foot goal`, 'locator', {
      parent: 'heron-corner',
      channels: at([0.09 * x, 0.06, -1.3]),
      animated: { 'translate.z': z, 'translate.y': y },
      control: { shape: 'square', size: 0.24, colour: [0.25, 0.03, 0.09], offset: [0, -0.05, 0.04], curve: null, inFront: true },
    });
  };
  const wing = (side: string, x: number) =>
    makeObject(`heron-${side}-wing-goal`, `${side === 'left' ? 'Left' : 'Right'} wing goal`, 'locator', {
      parent: 'heron',
      channels: at([0.66 * x, 1.16, -0.02]),
      animated: { 'translate.y': { expression: '1.2 + 0.16 * sin(seconds * 2.6)' } },
    });
  const objects: ObjectRecord[] = [
    makeObject('heron-corner', 'Heron corner', 'group', { channels: at([-8, 0, 8], [0, 30, 0]) }),
    makeObject('shingle', 'Shingle', 'mesh', { parent: 'heron-corner', mesh: asset('Shingle', makeShingle()) }),
    makeObject('heron', 'Heron', 'chain', {
      parent: 'heron-corner',
      channels: walk,
      animated: { 'translate.z': keys([1, -1.42], [121, 0.62]), 'translate.y': { expression: '0.07 + 0.02 * sin(seconds * 5)' } },
    }),
    ...joints(),
    goal('left', 1, 16),
    goal('right', -1, 31),
    wing('left', 1),
    wing('right', -1),
    makeObject('heron-neck-line', 'Neck line', 'curve', {
      parent: 'heron',
      curve: {
        splines: [
          spline('b-spline', false, [
            [0, 1.17, 0.39],
            [0, 1.3, 0.44],
            [0, 1.4, 0.27],
            [0, 1.58, 0.22],
            [0, 1.66, 0.42],
            [0, 1.64, 0.62],
            [0, 1.6, 0.95],
          ]),
        ],
      },
      restCurve: null,
      channels: at([0, 0, 0]),
      pivot: [0, 1.17, 0.39],
      animated: { 'rotate.y': { expression: '14 * sin(seconds * 1.1)' }, 'rotate.x': { expression: '6 * sin(seconds * 2.2)' } },
    }),
    makeObject('heron-skin', 'Heron skin', 'mesh', { parent: 'heron-corner', mesh: asset('Heron', makeHeron()), channels: walk }),
  ];
  const leg = (side: 'Left' | 'Right', y: number) => {
    const s = side.toLowerCase();
    return [
      node(`hw-${s}-goal`, 'scene-locator', [0, y], { settings: { object: `heron-${s}-goal` }, title: `${side} foot goal` }),
      node(`hw-${s}-there`, 'joint', [200, y], { settings: { joint: `${side} foot`, does: 'set' }, title: `${side} foot there` }),
      node(`hw-${s}-down`, 'ground-contact', [420, y], {
        settings: { foot: `${side} foot`, contacts: `${side} heel, ${side} ball, ${side} toe` },
        inputs: { clearance: 0.004, band: 0.05, most: 35 },
        title: `${side} foot down`,
      }),
      node(`hw-${s}-leg`, 'bend-chain', [900, y], {
        settings: { root: `${side} hip`, middle: `${side} knee`, tip: `${side} foot`, tipTurn: 'target' },
        inputs: { soft: 0.02, stretch: 1, longest: 1.1 },
        title: `${side} leg`,
      }),
      node(`hw-${s}-wing-goal`, 'scene-locator', [0, y + 150], {
        settings: { object: `heron-${s}-wing-goal` },
        title: `${side} wing goal`,
      }),
      node(`hw-${s}-late`, 'damping', [200, y + 150], {
        inputs: { lag: side === 'Left' ? 3 : 4, overshoot: 0.15 },
        settings: { kept: 40 },
        title: 'Late',
      }),
      node(`hw-${s}-wing`, 'bend-chain', [1200, y], {
        settings: { root: `${side} wing`, middle: `${side} elbow`, tip: `${side} wrist` },
        title: `${side} wing`,
      }),
    ];
  };
  const nodes = [
    node('hw-in', 'scene-chain', [0, 0], { settings: { object: 'heron', pose: 'channels' } }),
    node('hw-rest', 'scene-chain', [0, 120], { settings: { object: 'heron', pose: 'rest' }, title: 'Heron at rest' }),
    node('hw-ground', 'scene-mesh', [0, 240], { settings: { object: 'shingle' } }),
    node('hw-body', 'scene-mesh', [0, 360], { settings: { object: 'heron-skin' } }),
    node('hw-bound', 'bind-skin', [210, 300], { inputs: { detail: 96, smooth: 1, most: 3 } }),
    ...leg('Left', 480),
    ...leg('Right', 760),
    node('hw-whole', 'whole-body-reach', [660, 60], {
      settings: { targets: 2, joint1: 'Left foot', joint2: 'Right foot', joints: 'Pelvis, * hip, * knee', rounds: 12 },
      inputs: { solve: 1, root: 0.6 },
    }),
    node('hw-line', 'scene-curve', [1000, 0], { settings: { object: 'heron-neck-line' } }),
    node('hw-neck', 'lay-chain-along-curve', [1400, 60], {
      settings: { root: 'Neck 1', tip: 'Beak tip' },
      title: 'Neck on its line',
    }),
    node('hw-out', 'drive-chain', [1650, 60], { settings: { object: 'heron' } }),
  ];
  const wires: [string, string][] = [
    ['hw-body.mesh', 'hw-bound.mesh'],
    ['hw-rest.chain', 'hw-bound.chain'],
    ...(['left', 'right'] as const).flatMap((s): [string, string][] => [
      ['hw-in.chain', `hw-${s}-there.chain`],
      [`hw-${s}-goal.matrix`, `hw-${s}-there.matrix`],
      [`hw-${s}-there.chain`, `hw-${s}-down.chain`],
      ['hw-ground.mesh', `hw-${s}-down.ground`],
      ['hw-bound.mesh', `hw-${s}-down.skin`],
      [`hw-${s}-down.matrix`, `hw-${s}-leg.target`],
      [`hw-${s}-wing-goal.matrix`, `hw-${s}-late.value`],
      [`hw-${s}-late.value`, `hw-${s}-wing.target`],
    ]),
    ['hw-in.chain', 'hw-whole.chain'],
    ['hw-left-down.matrix', 'hw-whole.target1'],
    ['hw-right-down.matrix', 'hw-whole.target2'],
    ['hw-whole.chain', 'hw-left-leg.chain'],
    ['hw-left-leg.chain', 'hw-right-leg.chain'],
    ['hw-right-leg.chain', 'hw-left-wing.chain'],
    ['hw-left-wing.chain', 'hw-right-wing.chain'],
    ['hw-right-wing.chain', 'hw-neck.chain'],
    ['hw-line.curves', 'hw-neck.curves'],
    ['hw-neck.chain', 'hw-out.chain'],
  ];
  const feet = (['left', 'right'] as const).flatMap((s) => [`hw-${s}-goal`, `hw-${s}-there`, `hw-${s}-down`]);
  return {
    objects,
    graphs: [
      graph('heron-wades', 'Heron wades', nodes, wires, [
        section(
          'heron-feet',
          'Feet on the shingle',
          'Each foot goes where its goal is, and from there out of the ground: tilted as the shingle under heel, ball and toe, as high as its skin is thick.',
          'moss',
          ['hw-ground', 'hw-body', 'hw-rest', 'hw-bound', ...feet],
        ),
        section(
          'heron-body',
          'The rest follows',
          'The pelvis gives way so that both feet can be reached; then knees bend, wings follow late, and the neck lies on its line.',
          'sand',
          ['hw-whole', 'hw-left-leg', 'hw-right-leg'],
        ),
      ]),
      graph(
        'heron-skin-graph',
        'Heron’s skin',
        [
          node('skin-in', 'scene-mesh', [0, 0], { settings: { object: 'heron-skin' } }),
          node('skin-rest', 'scene-chain', [0, 130], { settings: { object: 'heron', pose: 'rest' }, title: 'Heron at rest' }),
          node('skin-posed', 'scene-chain', [0, 260], { settings: { object: 'heron' } }),
          node('skin-bind', 'bind-skin', [230, 40], { inputs: { detail: 96, smooth: 1, most: 3 } }),
          node('skin-move', 'skin', [460, 100]),
          node('skin-show', 'show-mesh', [690, 100], { settings: { object: 'heron-skin', name: 'heron' } }),
        ],
        [
          ['skin-in.mesh', 'skin-bind.mesh'],
          ['skin-rest.chain', 'skin-bind.chain'],
          ['skin-bind.mesh', 'skin-move.mesh'],
          ['skin-posed.chain', 'skin-move.chain'],
          ['skin-move.mesh', 'skin-show.mesh'],
        ],
      ),
    ],
  };
}
