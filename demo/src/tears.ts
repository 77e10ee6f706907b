import type { GraphRecord } from '@umberfish/core';
import { graph, node, section } from './records.ts';
import { idOf } from './starter-proofs.ts';
import { use } from './starter-use.ts';

/** A buoy wrung by the current, and where that pulls it: stretch of its edges against the rest. */
export function tearsGraph(): GraphRecord {
  return graph(
    'tears',
    'Where it tears',
    [
      node('buoy', 'scene-mesh', [0, 40], { settings: { object: 'buoy' } }),
      node('buoy-rest', 'remember-rest', [196, 40]),
      use('wring', 'twist', [392, 40], {
        title: 'Wrung by the current',
        settings: { axis: 'y' },
        inputs: { angle: { expression: '80 * sin(seconds * 1.6)' } },
      }),
      node('change', 'rest-change', [588, 0], { title: 'Against rest', probes: ['stretch'] }),
      node('heat', 'colour-by', [784, 0], { title: 'Stretch as colour', inputs: { from: 1, to: 1.4 } }),
      node('show-buoy', 'show-mesh', [980, 0], { settings: { object: 'buoy', name: 'buoy' } }),
    ],
    [
      ['buoy.mesh', 'buoy-rest.mesh'],
      ['buoy-rest.mesh', `wring.${idOf('mesh')}`],
      [`wring.${idOf('shaped')}`, 'change.mesh'],
      [`wring.${idOf('shaped')}`, 'heat.mesh', [570, 330], [770, 330]],
      ['change.stretch', 'heat.value'],
      ['heat.mesh', 'show-buoy.mesh'],
    ],
    [
      section(
        'measure',
        'Where does the twist tear it?',
        'Stretch is the length of the edges at a point against their length at rest: 1 is unchanged. Click stretch and press P to see it on the buoy; Plot shows how many points are pulled how far, and over the range when.',
        'clay',
        ['change', 'heat'],
      ),
    ],
  );
}
