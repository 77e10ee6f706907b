import { makeObject, smoothed, type Vec3 } from '@umberfish/core';
import { at, graph, node, section, spline } from './records.ts';
import type { Station } from './station.ts';

/** The outline of a bottle: how far from the axis, at what height. */
const OUTLINE: Vec3[] = [
  [0.02, 0, 0],
  [0.24, 0.04, 0],
  [0.27, 0.3, 0],
  [0.25, 0.62, 0],
  [0.1, 0.84, 0],
  [0.075, 1.05, 0],
  [0.11, 1.1, 0],
  [0.09, 1.16, 0],
];

export function bottle(): Station {
  const objects = [
    makeObject('bottle', 'Bottle buoy', 'mesh', { parent: 'harbour', colour: [0.05, 0.2, 0.14] }),
    makeObject('outline', 'Bottle outline', 'curve', {
      curve: { splines: [smoothed(spline('bezier', false, OUTLINE))] },
      channels: at([0, 0, 0]),
    }),
  ];
  const graphs = [
    graph(
      'profile',
      'Profile',
      [
        node('tube', 'make-tube', [0, 0], { inputs: { radius: 0.2, height: 1.16, rings: 48, sides: 28 } }),
        node('drawn', 'scene-curve', [0, 240], { settings: { object: 'outline', space: 'own' } }),
        node('turned', 'profile-shape', [210, 40], { title: 'Takes the outline' }),
        node('afloat', 'transform', [420, 40], {
          title: 'Afloat',
          inputs: { translate: [4.6, -0.25, 0.1], rotate: [16, 0, { expression: '-14 + 4 * sin(seconds * 1.4)' }] },
        }),
        node('show-bottle', 'show-mesh', [630, 60], { settings: { object: 'bottle', name: 'bottle-buoy' } }),
      ],
      [
        ['tube.mesh', 'turned.mesh'],
        ['drawn.curves', 'turned.curves'],
        ['turned.mesh', 'afloat.mesh'],
        ['afloat.mesh', 'show-bottle.mesh'],
      ],
      [
        section(
          'outline-note',
          'A drawn outline',
          'Each ring of the tube gets the curve’s distance from the axis as its size. Edit the outline, turn it round (Flip), or give the tube more rings: it follows.',
          'sand',
          ['drawn', 'turned'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
