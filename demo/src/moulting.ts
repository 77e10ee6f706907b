import { makeObject } from '@umberfish/core';
import { at, graph, node, section } from './records.ts';
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
        node('loose-where', 'shape-falloff', [200, 230], {
          settings: { object: 'loose-here' },
          inputs: { inner: 0.1 },
        }),
        node('loose', 'loosen-faces', [420, 40], {
          inputs: { drift: 0.42, spin: 260, shrink: 0.35, time: { expression: 'seconds / 3' } },
        }),
        node('show-loose', 'show-mesh', [630, 60], {
          settings: { object: 'moulting-fish', name: 'moulting' },
        }),
      ],
      [
        ['swollen.mesh', 'moved-aside.mesh'],
        ['moved-aside.mesh', 'loose.mesh'],
        ['loose-where.falloff', 'loose.weight'],
        ['loose.mesh', 'show-loose.mesh'],
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
