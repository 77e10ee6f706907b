import {
  compose,
  makeBox,
  makeObject,
  makeSphere,
  makeTube,
  mergeMeshes,
  transformMesh,
  type Mesh,
  type Vec3,
} from '@umberfish/core';
import { makeHull } from './hull.ts';
import { keys } from './keyed.ts';
import { at, graph, node, section } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** A mesh moved, turned (degrees) and sized. */
export function placed(mesh: Mesh, move: Vec3, turn: Vec3 = [0, 0, 0], size: Vec3 = [1, 1, 1]): Mesh {
  const radians = turn.map((a) => (a * Math.PI) / 180) as unknown as Vec3;
  return transformMesh(mesh, compose(move, radians, 'xyz', size), (n) => new Float32Array(n));
}

/** A lantern to be hung by its ring, which is at the origin. */
function makeHandLantern(): Mesh {
  return mergeMeshes([
    placed(makeTube(0.05, 0.015, 1, 16, true), [0, -0.07, 0]),
    placed(makeTube(0.13, 0.05, 2, 20, true), [0, -0.13, 0]),
    placed(makeTube(0.11, 0.26, 4, 20, true), [0, -0.39, 0]),
    placed(makeTube(0.14, 0.04, 1, 20, true), [0, -0.43, 0]),
  ]);
}

/** The crane on the pier, the boat with its mast, the lantern that goes from one to the other, and the fender between. */
export function crane(asset: AddAsset): Station {
  const objects = [
    makeObject('crane-corner', 'Crane corner', 'group', { channels: at([0, 0, 9]) }),
    makeObject('pier', 'Pier', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Pier', makeBox([5, 0.7, 1.1], [10, 2, 3])),
      channels: at([0, 0.35, -1]),
      colour: [0.3, 0.26, 0.21],
    }),
    makeObject('crane-post', 'Crane post', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Crane post', makeTube(0.11, 2.1, 6, 16, true)),
      channels: at([-1.3, 0.7, -0.9]),
      colour: [0.32, 0.12, 0.06],
    }),
    makeObject('crane-arm', 'Crane arm', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Crane arm', placed(makeBox([0.14, 0.16, 3], [1, 1, 10]), [0, 0, 1.35])),
      channels: at([-1.3, 2.85, -0.9], [0, 57.9, 0]),
      colour: [0.38, 0.16, 0.08],
    }),
    makeObject('crane-up', 'Above the crane', 'locator', {
      parent: 'crane-corner',
      channels: at([-1.3, 5, -0.9]),
    }),
    makeObject('crane-hook', 'Crane hook', 'locator', { parent: 'crane-arm', channels: at([0, -0.45, 2.7]) }),
    makeObject('boat', 'Boat', 'group', {
      parent: 'crane-corner',
      channels: at([0.9, 0.12, 0.55], [0, 8, 0]),
      animated: {
        'translate.x': keys([1, 2.6], [50, 0.9], [80, 0.9], [120, 2.4]),
        'rotate.z': { expression: '4 * sin(seconds * 1.7)' },
        'translate.y': { expression: '0.12 + 0.05 * sin(seconds * 2.3)' },
      },
    }),
    makeObject('boat-hull', 'Boat hull', 'mesh', {
      parent: 'boat',
      mesh: asset('Small hull', makeHull(56, 34)),
      channels: at([0, 0.1, 0], [0, 180, 0]),
    }),
    makeObject('mast', 'Mast', 'mesh', {
      parent: 'boat',
      mesh: asset('Mast', makeTube(0.045, 2.2, 6, 12, true)),
      channels: at([0.1, 0.2, 0]),
      colour: [0.45, 0.3, 0.16],
    }),
    makeObject('mast-top', 'Mast top', 'locator', { parent: 'mast', channels: at([0, 2.1, 0]) }),
    makeObject('hand-lantern', 'Hand lantern', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Hand lantern', makeHandLantern()),
      channels: at([0.99, 2.4, 0.535]),
      colour: [0.72, 0.4, 0.08],
      custom: [{ id: 'hand-over', name: 'hand-over', value: 0, default: 0, min: 0, max: 1, unit: '' }],
      animated: { 'hand-over': keys([54, 0], [74, 1]), 'rotate.z': { expression: '6 * sin(seconds * 4)' } },
    }),
    makeObject('pier-face', 'Pier face', 'locator', { parent: 'pier', channels: at([1.2, 0, 0.55]) }),
    makeObject('boat-side', 'Boat side', 'locator', { parent: 'boat', channels: at([0, 0.15, -0.42]) }),
    makeObject('fender', 'Fender', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Fender', placed(makeSphere(0.19, 14, 18), [0, 0, 0], [0, 0, 0], [1, 1.4, 1])),
      channels: at([1.03, 0.31, -0.16]),
      colour: [0.5, 0.44, 0.33],
    }),
    makeObject('fender-rope', 'Winch bucket', 'mesh', {
      parent: 'crane-corner',
      mesh: asset('Bucket', makeTube(0.15, 0.24, 3, 18, true)),
      channels: at([-0.2, 0.72, -0.7]),
      colour: [0.28, 0.3, 0.28],
      custom: [{ id: 'crank', name: 'crank', value: 0, default: 0, min: -360, max: 1440, unit: '°' }],
      animated: { crank: keys([10, 0], [60, 900], [110, -200]) },
    }),
  ];
  const graphs = [
    graph(
      'crane-aims',
      'Crane aims',
      [
        node('aim-boat', 'scene-locator', [0, 0], { settings: { object: 'mast-top' }, title: 'Mast top' }),
        node('aim-up', 'scene-locator', [0, 250], {
          settings: { object: 'crane-up' },
          title: 'Above the crane',
        }),
        node('aim', 'aim-at', [250, 60], { settings: { object: 'crane-arm', up: 'target' } }),
        node('aim-drive', 'drive-object', [490, 60], { settings: { object: 'crane-arm' } }),
      ],
      [
        ['aim-boat.matrix', 'aim.a'],
        ['aim-up.matrix', 'aim.b'],
        ['aim.carrier', 'aim-drive.matrix'],
      ],
      [
        section(
          'aiming',
          'The arm looks at the mast',
          'It keeps the tilt it was given by hand, and turns about its own pivot as the boat goes by; a second target above keeps it from rolling. Its channels stay free.',
          'slate',
          ['aim-boat', 'aim-up', 'aim', 'aim-drive'],
        ),
      ],
    ),
    graph(
      'handed-over',
      'Hand-over',
      [
        node('from-hook', 'scene-locator', [0, 0], {
          settings: { object: 'crane-hook' },
          title: 'Crane hook',
        }),
        node('to-mast', 'scene-locator', [0, 250], { settings: { object: 'mast-top' }, title: 'Mast top' }),
        node('its-dial', 'read-channel', [0, 500], {
          settings: { object: 'hand-lantern', channel: 'hand-over' },
        }),
        node('hand', 'hand-over', [260, 120], { settings: { object: 'hand-lantern' } }),
        node('hand-drive', 'drive-object', [510, 120], { settings: { object: 'hand-lantern' } }),
      ],
      [
        ['from-hook.matrix', 'hand.a'],
        ['to-mast.matrix', 'hand.b'],
        ['its-dial.value', 'hand.dial'],
        ['hand.carrier', 'hand-drive.matrix'],
      ],
      [
        section(
          'handing',
          'One dial hands it over',
          'The dial is a channel of the lantern, keyed at frames 54 and 74. The lantern keeps its place to the hook at 0 and to the mast at 1; its own channels swing it all the way.',
          'sand',
          ['from-hook', 'to-mast', 'its-dial', 'hand', 'hand-drive'],
        ),
      ],
    ),
    graph(
      'fender-between',
      'Fender between',
      [
        node('quay-side', 'scene-locator', [0, 0], { settings: { object: 'pier-face' }, title: 'Pier face' }),
        node('hull-side', 'scene-locator', [0, 250], {
          settings: { object: 'boat-side' },
          title: 'Boat side',
        }),
        node('stay', 'between', [260, 60], { settings: { object: 'fender', aims: true } }),
        node('stay-drive', 'drive-object', [510, 60], { settings: { object: 'fender' } }),
      ],
      [
        ['quay-side.matrix', 'stay.a'],
        ['hull-side.matrix', 'stay.b'],
        ['stay.carrier', 'stay-drive.matrix'],
      ],
      [
        section(
          'staying',
          'Half of what both do',
          'Weight 0.5: it goes half as far as pier and boat together, and turns with the line between them.',
          'moss',
          ['quay-side', 'hull-side', 'stay', 'stay-drive'],
        ),
      ],
    ),
    graph(
      'winch',
      'Winch with limits',
      [
        node('crank', 'read-channel', [0, 0], { settings: { object: 'fender-rope', channel: 'crank' } }),
        node('rope-metres', 'arithmetic', [210, 0], {
          settings: { operation: 'multiply' },
          inputs: { b: 0.0022 },
          title: 'Metres of rope',
        }),
        node('winch-up', 'build-vector', [420, 0]),
        node('winch-lift', 'build-matrix', [630, 0]),
        node('stops', 'limits', [850, 0], {
          inputs: { translateMin: [0, 0, 0], translateMax: [0, 1.3, 0], translateSoft: 0.25 },
        }),
        node('winch-drive', 'drive-object', [1080, 0], { settings: { object: 'fender-rope' } }),
      ],
      [
        ['crank.value', 'rope-metres.a'],
        ['rope-metres.result', 'winch-up.y'],
        ['winch-up.vector', 'winch-lift.translate'],
        ['winch-lift.matrix', 'stops.matrix'],
        ['stops.matrix', 'winch-drive.matrix'],
      ],
      [
        section(
          'winding',
          'The crank turns on, the bucket stops',
          'Its crank goes to 900° and to −200°; the bucket slows down before its stops and stays inside.',
          'clay',
          ['crank', 'rope-metres', 'winch-up', 'winch-lift', 'stops', 'winch-drive'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
