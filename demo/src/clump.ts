import { makeObject } from '@umberfish/core';
import { graph, node, section } from './records.ts';
import type { Station } from './station.ts';

/** A clump of foam: moving points with radii, under one skin. */
export function clump(): Station {
  const objects = [makeObject('foam', 'Foam', 'mesh', { parent: 'harbour', colour: [0.62, 0.55, 0.42] })];
  const graphs = [
    graph(
      'clump',
      'Clump',
      [
        node('room', 'make-sphere', [0, 0], {
          title: 'Room for it',
          inputs: { radius: 0.48, rings: 10, segments: 14 },
        }),
        node('drops', 'scatter-points', [200, 0], {
          settings: { where: 'inside' },
          inputs: { count: 16, spacing: 0.22, seed: 3 },
        }),
        node('drop-values', 'point-values', [400, 100]),
        node('drift', 'noise', [400, 300], {
          settings: { gives: 'vector', boils: true },
          inputs: { frequency: 1.6, octaves: 1, time: { expression: 'seconds / 2' } },
        }),
        node('wander', 'arithmetic', [600, 260], {
          settings: { operation: 'multiply' },
          inputs: { b: 0.2 },
          title: 'A little',
        }),
        node('moved', 'move-points', [600, 40]),
        node('sizes', 'random', [600, 440], { inputs: { low: 0.06, high: 0.11 } }),
        node('skin', 'skin-over-points', [800, 60], { inputs: { cell: 0.025, blend: 0.2 } }),
        node('foam-place', 'transform', [1000, 60], {
          title: 'On the water',
          inputs: { translate: [2.1, 0.24, 3.4] },
        }),
        node('show-foam', 'show-mesh', [1200, 80], { settings: { object: 'foam', name: 'foam' } }),
      ],
      [
        ['room.mesh', 'drops.mesh'],
        ['drops.mesh', 'drop-values.mesh'],
        ['drop-values.positions', 'drift.position'],
        ['drift.result', 'wander.a'],
        ['drops.mesh', 'moved.mesh'],
        ['wander.result', 'moved.offset'],
        ['drop-values.indices', 'sizes.index'],
        ['moved.mesh', 'skin.points'],
        ['sizes.result', 'skin.radius'],
        ['skin.mesh', 'foam-place.mesh'],
        ['foam-place.mesh', 'show-foam.mesh'],
      ],
      [
        section(
          'clump-note',
          'A skin over moving points',
          'Points inside a ball wander by noise, each with a radius of its own; the skin closes over them and flows together where they meet.',
          'sand',
          ['moved', 'sizes', 'skin'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
