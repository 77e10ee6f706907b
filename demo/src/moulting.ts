import { makeObject } from '@umberfish/core';
import { at, graph, node, section } from './records.ts';
import { use } from './starter-use.ts';
import { idOf } from './starter-proofs.ts';
import type { Station } from './station.ts';

/** The swollen pufferfish as the other graph makes it, coming apart at a locator. */
export function moulting(): Station {
  const objects = [
    makeObject('moulting-fish', 'Pufferfish, moulting', 'mesh', { parent: 'puppets' }),
    makeObject('loose-here', 'Loose here', 'locator', {
      parent: 'puppets',
      channels: at([2.35, 1.5, -0.35], [0, 0, 0], [0.75, 0.75, 0.75]),
    }),
  ];
  const graphs = [
    graph(
      'loosen',
      'Loosen',
      [
        node('swollen', 'scene-mesh', [0, 0], { settings: { object: 'pufferfish', read: 'result' }, title: 'The swollen fish' }),
        node('moved-aside', 'transform', [200, 0], {
          title: 'Moved aside',
          inputs: { translate: [2.3, 0, -1.1] },
        }),
        use('loose', 'shingles', [420, 40], {
          inputs: { inner: 0.1, outer: 1, drift: 0.42, spin: 260, shrink: 0.35, time: { expression: 'seconds / 3' } },
          settings: { here: 'loose-here' },
        }),
        node('show-loose', 'show-mesh', [630, 60], {
          settings: { object: 'moulting-fish', name: 'moulting' },
        }),
      ],
      [
        ['swollen.mesh', 'moved-aside.mesh'],
        ['moved-aside.mesh', `loose.${idOf('mesh')}`],
        [`loose.${idOf('shaped')}`, 'show-loose.mesh'],
      ],
      [
        section(
          'loose-note',
          'Chained behind the swell',
          'This graph reads what Swell makes of the pufferfish, and does not touch that graph.',
          'sand',
          ['swollen', 'moved-aside'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
