import { makeObject, makeSphere, makeTube, mergeMeshes, type ObjectRecord, type Vec3 } from '@umberfish/core';
import { placed } from './crane.ts';
import { keys } from './keyed.ts';
import { at, graph, node } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** The boatman's arm, that takes a riding light from the pier; and the crane's cable, that goes to its hook wherever it swings. */
export function boatman(asset: AddAsset): Station {
  const arm: [string, string, string, Vec3][] = [
    ['boatman-shoulder', 'Shoulder', 'boatman', [0, 0, 0]],
    ['boatman-elbow', 'Elbow', 'boatman-shoulder', [-0.02, -0.3, -0.12]],
    ['boatman-wrist', 'Wrist', 'boatman-elbow', [0, -0.22, -0.2]],
  ];
  const cable = Array.from({ length: 8 }, (_, i): ObjectRecord =>
    makeObject(`cable-${i + 1}`, `Cable ${i + 1}`, 'joint', {
      parent: i === 0 ? 'crane-cable' : `cable-${i}`,
      channels: at(i === 0 ? [0, 0, 0] : [0, -0.075, i === 1 ? 0.01 : 0]),
    }),
  );
  const light = mergeMeshes([
    placed(makeTube(0.05, 0.02, 1, 14, true), [0, -0.05, 0]),
    placed(makeSphere(0.09, 10, 16), [0, -0.14, 0]),
    placed(makeTube(0.07, 0.03, 1, 14, true), [0, -0.25, 0]),
  ]);
  return {
    objects: [
      makeObject('boatman', 'Boatman', 'chain', { parent: 'boat', channels: at([-0.35, 0.95, 0]) }),
      ...arm.map(([id, name, parent, t]) => makeObject(id, name, 'joint', { parent, channels: at(t) })),
      makeObject('boatman-goal', 'Hand goal', 'locator', {
        parent: 'boat',
        channels: at([-0.4, 0.6, -0.3]),
        animated: {
          'translate.y': keys([40, 0.5], [62, 0.72], [90, 0.95]),
          'translate.z': keys([40, -0.3], [62, -0.5], [90, -0.1]),
        },
      }),
      makeObject('boatman-side', 'Elbow side', 'locator', { parent: 'boat', channels: at([-1.2, 0.4, 0.3]) }),
      makeObject('riding-light', 'Riding light', 'mesh', {
        parent: 'crane-corner',
        mesh: asset('Riding light', light),
        channels: at([0.4, 0.9, -0.4]),
        colour: [0.65, 0.22, 0.08],
        custom: [{ id: 'held', name: 'held', value: 0, default: 0, min: 0, max: 1, unit: '' }],
        animated: { held: keys([58, 0], [68, 1]) },
      }),
      makeObject('crane-cable', 'Crane cable', 'chain', { parent: 'crane-arm', channels: at([0, -0.05, 2.7]) }),
      ...cable,
      makeObject('cable-end', 'Cable end', 'locator', {
        parent: 'crane-arm',
        channels: at([0, -0.45, 2.7]),
        animated: { 'translate.x': { expression: '0.1 * sin(seconds * 2.2)' } },
      }),
      makeObject('cable-rope', 'Cable rope', 'mesh', { parent: 'crane-corner', colour: [0.2, 0.16, 0.12] }),
    ],
    graphs: [
      graph(
        'boatman-takes',
        'Boatman takes the light',
        [
          node('arm-in', 'scene-chain', [0, 0], { settings: { object: 'boatman', pose: 'channels' } }),
          node('arm-goal', 'scene-locator', [0, 130], { settings: { object: 'boatman-goal' }, title: 'Hand goal' }),
          node('arm-side', 'scene-locator', [0, 260], { settings: { object: 'boatman-side' }, title: 'Elbow side' }),
          node('arm-bend', 'bend-chain', [230, 60], { settings: { tip: 'Wrist', tipTurn: 'target' }, title: 'Arm' }),
          node('arm-out', 'drive-chain', [470, 60], { settings: { object: 'boatman' } }),
          node('light-pier', 'scene-locator', [0, 420], { settings: { object: 'pier-face' }, title: 'Pier face' }),
          node('light-wrist', 'scene-locator', [0, 550], { settings: { object: 'boatman-wrist' }, title: 'Wrist' }),
          node('light-held', 'read-channel', [0, 680], { settings: { object: 'riding-light', channel: 'held' } }),
          node('light-hand', 'hand-over', [230, 480], { settings: { object: 'riding-light' } }),
          node('light-out', 'drive-object', [470, 480], { settings: { object: 'riding-light' } }),
        ],
        [
          ['arm-in.chain', 'arm-bend.chain'],
          ['arm-goal.matrix', 'arm-bend.target'],
          ['arm-side.matrix', 'arm-bend.rollTarget'],
          ['arm-bend.chain', 'arm-out.chain'],
          ['light-pier.matrix', 'light-hand.a'],
          ['light-wrist.matrix', 'light-hand.b'],
          ['light-held.value', 'light-hand.dial'],
          ['light-hand.carrier', 'light-out.matrix'],
        ],
      ),
      graph(
        'cable-reaches',
        'Crane cable',
        [
          node('cable-in', 'scene-chain', [0, 0], { settings: { object: 'crane-cable', pose: 'channels' } }),
          node('cable-goal', 'scene-locator', [0, 130], { settings: { object: 'cable-end' }, title: 'Cable end' }),
          node('cable-reach', 'reach', [230, 40], { settings: { tip: 'Cable 8' } }),
          node('cable-out', 'drive-chain', [470, 0], { settings: { object: 'crane-cable' } }),
          node('cable-line', 'chain-to-curve', [470, 130]),
          node('cable-tube', 'sweep-profile', [690, 130], { inputs: { radius: 0.012 } }),
          node('cable-show', 'show-mesh', [910, 130], { settings: { object: 'cable-rope', name: 'cable' } }),
        ],
        [
          ['cable-in.chain', 'cable-reach.chain'],
          ['cable-goal.matrix', 'cable-reach.target'],
          ['cable-reach.chain', 'cable-out.chain'],
          ['cable-reach.chain', 'cable-line.chain'],
          ['cable-line.curves', 'cable-tube.curves'],
          ['cable-tube.mesh', 'cable-show.mesh'],
        ],
      ),
    ],
  };
}
