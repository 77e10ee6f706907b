import type { GraphRecord } from '@umberfish/core';
import { graph, node, section } from './records.ts';

/** Where the twist pulls the hull: stretch of its edges against the rest. */
export function tearsGraph(): GraphRecord {
  return graph(
    'tears',
    'Where it tears',
    [
      node('bent-hull', 'scene-mesh', [0, 0], { settings: { object: 'hull-stuck', read: 'result' } }),
      node('change', 'rest-change', [196, 0], { title: 'Against the rest', probes: ['stretch'] }),
      node('heat', 'colour-by', [392, 0], { title: 'Stretch as colour', inputs: { from: 0.9, to: 1.3 } }),
    ],
    [
      ['bent-hull.mesh', 'change.mesh'],
      ['bent-hull.mesh', 'heat.mesh'],
      ['change.stretch', 'heat.value'],
    ],
    [
      section(
        'measure',
        'Where does the twist tear the hull?',
        'Stretch is the length of the edges at a point against their length at rest: 1 is unchanged. Click stretch and press P to see it on the hull; Plot shows how many points are pulled how far, and over the range when.',
        'clay',
        ['bent-hull', 'change', 'heat'],
      ),
    ],
  );
}
