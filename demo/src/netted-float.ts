import { makeObject } from '@umberfish/core';
import { graph, node, section } from './records.ts';
import type { Station } from './station.ts';

/** A glass float in a net: the edges of a coarse ball as ropes, with a knot on each point. */
export function nettedFloat(): Station {
  const objects = [makeObject('float', 'Netted float', 'mesh', { parent: 'harbour', colour: [0.12, 0.3, 0.27] })];
  const graphs = [
    graph(
      'net',
      'Net',
      [
        node('float-ball', 'make-sphere', [0, 0], {
          title: 'Glass',
          inputs: { radius: 0.3, rings: 24, segments: 40 },
        }),
        node('coarse', 'make-sphere', [0, 220], {
          title: 'Coarse ball',
          inputs: { radius: 0.315, rings: 8, segments: 12 },
        }),
        node('net-edges', 'edges-to-curves', [210, 230]),
        node('net-ropes', 'sweep-profile', [420, 200], {
          inputs: { radius: 0.008, sides: 5 },
          settings: { caps: false },
        }),
        node('knot', 'make-sphere', [210, 400], {
          title: 'Knot',
          inputs: { radius: 0.018, rings: 6, segments: 8 },
        }),
        node('knots', 'place-copies', [420, 480], { settings: { align: 'normal' } }),
        node('knot-meshes', 'copies-to-mesh', [525, 480]),
        node('together', 'merge', [630, 120], { settings: { count: '3' } }),
        node('float-place', 'transform', [840, 120], {
          title: 'Bobs',
          inputs: {
            translate: [0.7, { expression: '0.16 + 0.05 * sin(seconds * 1.7)' }, 3.3],
            rotate: [12, { expression: '10 * seconds' }, 8],
          },
        }),
        node('show-float', 'show-mesh', [1050, 140], { settings: { object: 'float', name: 'netted-float' } }),
      ],
      [
        ['coarse.mesh', 'net-edges.mesh'],
        ['net-edges.curves', 'net-ropes.curves'],
        ['coarse.mesh', 'knots.points'],
        ['knot.mesh', 'knots.a'],
        ['float-ball.mesh', 'together.a'],
        ['net-ropes.mesh', 'together.b'],
        ['knots.copies', 'knot-meshes.mesh'],
        ['knot-meshes.mesh', 'together.c'],
        ['together.mesh', 'float-place.mesh'],
        ['float-place.mesh', 'show-float.mesh'],
      ],
      [
        section(
          'net-note',
          'Edges become ropes',
          'Every edge of the coarse ball is a curve, swept thin. Knots are copies, made points before Merge, which needs them.',
          'slate',
          ['coarse', 'net-edges', 'net-ropes', 'knot', 'knots', 'knot-meshes'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
