import { makeBox, makeObject } from '@umberfish/core';
import { makeBell } from './carried.ts';
import { at, graph, node, section } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** A bell that swings about its yoke, then is turned about its own middle: two Transforms, each with its own pivot. */
export function yoke(asset: AddAsset): Station {
  const objects = [
    makeObject('bell-tower', 'Bell frame', 'group', { channels: at([3.6, 0, 9]) }),
    makeObject('yoke-beam', 'Yoke', 'mesh', {
      parent: 'bell-tower',
      mesh: asset('Yoke', makeBox([1.1, 0.1, 0.1], [6, 1, 1])),
      channels: at([0, 1.72, 0]),
      colour: [0.3, 0.2, 0.11],
    }),
    makeObject('yoke-place', 'Yoke place', 'locator', { parent: 'bell-tower', channels: at([0, 1.68, 0]) }),
    makeObject('ship-bell', 'Ship’s bell', 'mesh', {
      parent: 'bell-tower',
      mesh: asset('Bell', makeBell()),
      channels: at([0, 1.14, 0]),
    }),
  ];
  const graphs = [
    graph(
      'pivots',
      'Pivots',
      [
        node('rung', 'scene-mesh', [0, 0], { settings: { object: 'ship-bell' } }),
        node('swing', 'transform', [220, 0], {
          title: 'Swings about the yoke',
          settings: { pivot: 'locator', pivotObject: 'yoke-place' },
          inputs: { rotate: [{ expression: '32 * sin(seconds * 3.2)' }, 0, 0] },
        }),
        node('shiver', 'transform', [450, 0], {
          title: 'Shivers about its middle',
          settings: { pivot: 'centre' },
          inputs: { scale: [{ expression: '1 + 0.03 * sin(seconds * 40)' }, 1, 1] },
        }),
        node('show-bell-rung', 'show-mesh', [680, 0], {
          settings: { object: 'ship-bell', name: 'ships-bell' },
        }),
      ],
      [
        ['rung.mesh', 'swing.mesh'],
        ['swing.mesh', 'shiver.mesh'],
        ['shiver.mesh', 'show-bell-rung.mesh'],
      ],
      [
        section(
          'each-its-own',
          'Each has its own pivot',
          'The second Transform does not inherit the first one’s pivot: its own is the middle of the bounds, found anew in what arrives. Insert a Transform before "Swings about the yoke" and it acts before the swing: a turn there is local, it swings along with the bell. After it, it is not.',
          'sand',
          ['rung', 'swing', 'shiver', 'show-bell-rung'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
