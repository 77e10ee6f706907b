import { makeBox, makeObject, makeSphere, mergeMeshes, makeTube } from '@umberfish/core';
import { placed } from './crane.ts';
import { keys } from './keyed.ts';
import { at, graph, node, section, spline } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** Props that read others: by hand with matrices, mirrored by channels, lagging, flying and riding. */
export function props(asset: AddAsset): Station {
  const crate = asset('Crate', makeBox([0.34, 0.34, 0.34], [3, 3, 3]));
  const duck = asset(
    'Duck',
    mergeMeshes([
      placed(makeSphere(0.16, 12, 16), [0, 0.05, 0], [0, 0, 0], [0.8, 0.7, 1.2]),
      placed(makeSphere(0.09, 10, 14), [0, 0.22, 0.14]),
      placed(makeTube(0.03, 0.09, 1, 8, true), [0, 0.21, 0.2], [90, 0, 0]),
    ]),
  );
  const gull = asset(
    'Gull',
    mergeMeshes([
      placed(makeSphere(0.1, 10, 14), [0, 0, 0], [0, 0, 0], [2.4, 0.8, 0.9]),
      placed(makeBox([0.16, 0.02, 0.55], [2, 1, 5]), [0, 0.03, 0.32], [-12, 0, 0]),
      placed(makeBox([0.16, 0.02, 0.55], [2, 1, 5]), [0, 0.03, -0.32], [12, 0, 0]),
    ]),
  );
  const objects = [
    makeObject('props', 'Props', 'group', { channels: at([0, 0, 12.5]) }),
    // By hand.
    makeObject('old-parent', 'Raft', 'mesh', {
      parent: 'props',
      mesh: asset('Raft', makeBox([1.3, 0.12, 0.9], [6, 1, 4])),
      channels: at([-2.4, 0.1, 0], [0, 25, 0]),
      rest: at([-2.4, 0.1, 0], [0, 25, 0]),
      colour: [0.33, 0.24, 0.14],
      animated: {
        'translate.z': { expression: '0.5 * sin(seconds * 1.4)' },
        'rotate.y': { expression: '25 + 14 * sin(seconds)' },
      },
    }),
    makeObject('cask', 'Cask', 'mesh', {
      parent: 'props',
      mesh: asset('Cask', makeTube(0.2, 0.5, 5, 20, true)),
      channels: at([-2.6, 0.16, 0.15]),
      colour: [0.42, 0.25, 0.1],
    }),
    // Read, change, write.
    makeObject('crate-led', 'Crate, led', 'mesh', {
      parent: 'props',
      mesh: crate,
      channels: at([-0.9, 0.5, 0.4]),
      colour: [0.45, 0.32, 0.16],
      animated: {
        'translate.x': keys([1, -0.9], [40, -0.3], [80, -0.9], [120, -0.9]),
        'rotate.y': keys([1, 0], [60, 120], [120, 0]),
      },
    }),
    makeObject('crate-mirrored', 'Crate, mirrored', 'mesh', { parent: 'props', mesh: crate, colour: [0.3, 0.34, 0.33] }),
    // A lag.
    makeObject('duck', 'Duck', 'mesh', {
      parent: 'props',
      mesh: duck,
      channels: at([1.2, 0.05, -0.8]),
      colour: [0.6, 0.48, 0.2],
      animated: {
        'translate.x': keys([1, 1.2], [100, 3.4]),
        'translate.z': { expression: '0.4 * sin(seconds * 2)' },
        'rotate.y': { expression: '60 + 25 * cos(seconds * 2)' },
      },
    }),
    makeObject('duckling', 'Duckling', 'mesh', {
      parent: 'props',
      mesh: duck,
      channels: at([0, 0, 0], [0, 0, 0], [0.6, 0.6, 0.6]),
      colour: [0.68, 0.58, 0.3],
    }),
    // Along a curve.
    makeObject('gull-way', 'Way of the gull', 'curve', {
      parent: 'props',
      channels: at([0, 2.1, 0]),
      curve: {
        splines: [
          {
            ...spline('b-spline', true, [
              [-2.6, 0.2, -0.6],
              [-0.4, 0.7, -1.1],
              [2.4, 0.1, -0.7],
              [2.8, 0.3, 0.8],
              [0.2, 0.9, 1.2],
              [-2.4, 0.4, 0.9],
            ]),
          },
        ],
      },
    }),
    makeObject('gull', 'Gull', 'mesh', {
      parent: 'props',
      mesh: gull,
      channels: at([0, 0, 0]),
      colour: [0.62, 0.6, 0.55],
      custom: [{ id: 'way', name: 'way', value: 0, default: 0, min: 0, max: 1, unit: '' }],
      animated: { way: keys([1, 0], [120, 0.98]) },
    }),
    // On a hull that twists.
    makeObject('lone-barnacle', 'Lone barnacle', 'mesh', {
      parent: 'boats',
      mesh: asset('Barnacle', placed(makeSphere(0.11, 8, 12), [0, 0.03, 0], [0, 0, 0], [1, 0.8, 1])),
      channels: at([-2.25, 0.48, 1.95]),
      colour: [0.6, 0.55, 0.45],
    }),
  ];
  const graphs = [
    graph(
      'by-hand',
      'Matrices by hand',
      [
        node('raft', 'scene-locator', [0, 0], { settings: { object: 'old-parent' }, title: 'Raft' }),
        node('cask-rest', 'scene-locator', [0, 250], { settings: { object: 'cask' }, title: 'Cask' }),
        node('seen', 'offset-between', [250, 210], { title: 'Cask at rest, from the raft' }),
        node('half', 'blend-matrices', [250, 0], { inputs: { dial: 1 }, title: 'How much of it' }),
        node('raft-change', 'multiply-matrices', [480, 100], { title: 'Cask on the raft' }),
        node('cask-drive', 'drive-object', [720, 100], { settings: { object: 'cask', is: 'target-world' } }),
      ],
      [
        ['raft.rest', 'half.a'],
        ['raft.matrix', 'half.b'],
        ['cask-rest.rest', 'seen.a'],
        ['raft.rest', 'seen.b'],
        ['seen.matrix', 'raft-change.a'],
        ['half.matrix', 'raft-change.b'],
        ['raft-change.matrix', 'cask-drive.matrix'],
      ],
      [
        section(
          'hand-made',
          'Driver × inverse of the driver at rest × cask at rest',
          'Offset Between says where the cask rests as seen from the raft; then the raft takes it along. Read from the child outwards: first the offset, then the raft. In the other order the cask would jump at rest: drag the rows and the card says how far, and which order keeps it.',
          'sand',
          ['raft', 'cask-rest', 'seen', 'half', 'raft-change', 'cask-drive'],
        ),
      ],
    ),
    graph(
      'mirrored',
      'Read, change, write',
      [
        node('led-x', 'read-channel', [0, 0], { settings: { object: 'crate-led', channel: 'translate.x' } }),
        node('led-y', 'read-channel', [0, 110], {
          settings: { object: 'crate-led', channel: 'translate.y' },
        }),
        node('led-z', 'read-channel', [0, 220], {
          settings: { object: 'crate-led', channel: 'translate.z' },
        }),
        node('led-turn', 'read-channel', [0, 350], {
          settings: { object: 'crate-led', channel: 'rotate.y' },
        }),
        node('led-size', 'scene-locator', [0, 480], { settings: { object: 'crate-led' }, title: 'Its size' }),
        node('led-place', 'build-vector', [220, 60]),
        node('across', 'arithmetic', [430, 60], {
          settings: { operation: 'multiply' },
          inputs: { b: [-1, 1, -1] },
          title: 'Across the middle',
        }),
        node('beside', 'arithmetic', [640, 60], {
          settings: { operation: 'add' },
          inputs: { b: [0, 0.1, 0] },
          title: 'And a little up',
        }),
        node('more', 'arithmetic', [430, 330], {
          settings: { operation: 'add' },
          inputs: { b: 45 },
          title: '45° more',
        }),
        node('mirror-drive', 'drive-object', [860, 120], {
          settings: { object: 'crate-mirrored', is: 'channels', translate: 'all', rotate: 'y', scale: 'all' },
        }),
      ],
      [
        ['led-x.value', 'led-place.x'],
        ['led-y.value', 'led-place.y'],
        ['led-z.value', 'led-place.z'],
        ['led-place.vector', 'across.a'],
        ['across.result', 'beside.a'],
        ['beside.result', 'mirror-drive.translate'],
        ['led-turn.value', 'more.a'],
        ['more.result', 'mirror-drive.rotate'],
        ['led-size.size', 'mirror-drive.scale'],
      ],
      [
        section(
          'mirroring',
          'Channels written outright',
          'Move and size, and turn y, are driven and shown as driven; the other turns of the mirrored crate stay free.',
          'clay',
          ['led-x', 'led-y', 'led-z', 'led-turn', 'led-size', 'led-place', 'across', 'beside', 'more', 'mirror-drive'],
        ),
      ],
    ),
    graph(
      'lagging',
      'Six frames behind',
      [
        node('duck-now', 'scene-locator', [0, 0], { settings: { object: 'duck' }, title: 'Duck' }),
        node('duck-then', 'at-frame', [250, 0], { settings: { what: 'matrix', frames: 14 } }),
        node('smaller', 'keep-parts', [470, 0], {
          settings: { translate: false, scale: true },
          title: 'But of its own size',
        }),
        node('its-size', 'build-matrix', [250, 190], { inputs: { scale: [0.6, 0.6, 0.6] } }),
        node('lag-drive', 'drive-object', [690, 0], { settings: { object: 'duckling', is: 'target-world' } }),
      ],
      [
        ['duck-now.matrix', 'duck-then.value'],
        ['duck-then.value', 'smaller.matrix'],
        ['its-size.matrix', 'smaller.from'],
        ['smaller.matrix', 'lag-drive.matrix'],
      ],
      [
        section(
          'behind',
          'Where the duck was',
          'At Frame works everything behind it out at another frame: the duckling is where the duck was, whichever way the frames are scrubbed.',
          'moss',
          ['duck-now', 'duck-then', 'smaller', 'its-size', 'lag-drive'],
        ),
      ],
    ),
    graph(
      'gull-flies',
      'Gull on its way',
      [
        node('way', 'scene-curve', [0, 0], { settings: { object: 'gull-way' } }),
        node('way-dial', 'read-channel', [220, 250], { settings: { object: 'gull', channel: 'way' } }),
        node('way-roll', 'roll-curve', [220, 0], { inputs: { start: 18, end: 18 }, title: 'Banks' }),
        node('way-place', 'curve-point', [440, 40], { settings: { wrap: true } }),
        node('gull-drive', 'drive-object', [670, 40], { settings: { object: 'gull', is: 'target-world' } }),
      ],
      [
        ['way.curves', 'way-roll.curves'],
        ['way-roll.curves', 'way-place.curves'],
        ['way-dial.value', 'way-place.at'],
        ['way-place.matrix', 'gull-drive.matrix'],
      ],
      [
        section(
          'flying',
          'Sent along a curve by two keys',
          'The dial of the gull is keyed at the first and the last frame: a fraction of the curve’s length.',
          'slate',
          ['way', 'way-dial', 'way-roll', 'way-place', 'gull-drive'],
        ),
      ],
    ),
    graph(
      'riding',
      'Barnacle that rides',
      [
        node('twisting', 'scene-mesh', [0, 0], { settings: { object: 'hull-stuck', read: 'result' } }),
        node('ride', 'ride-surface', [220, 0], { inputs: { place: [-2.25, 0.48, 1.95] } }),
        node('ride-drive', 'drive-object', [460, 0], {
          settings: { object: 'lone-barnacle', is: 'world-change' },
        }),
      ],
      [
        ['twisting.mesh', 'ride.mesh'],
        ['ride.change', 'ride-drive.matrix'],
      ],
      [
        section(
          'rides',
          'Glued at rest',
          'The place is found once, on the hull at rest; its face carries the barnacle ever after, so it never slides.',
          'moss',
          ['twisting', 'ride', 'ride-drive'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
