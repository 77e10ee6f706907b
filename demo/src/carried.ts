import { makeObject, type Mesh, type Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';
import { makeHull } from './hull.ts';
import { at, graph, node, section } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** A coarse shell round the hull: few points, so that it is quick to shape. */
function makeCoarseHull(): Mesh {
  const builder = new MeshBuilder([{ name: 'shell', baseColour: [0.4, 0.33, 0.25] }]);
  builder.beginGroup('shell');
  const place = (row: number, column: number): Vec3 => {
    const s = row / 7;
    const angle = Math.PI * (column / 6 - 0.5);
    const wide = 0.5 * Math.max(0.12, Math.sin(Math.PI * (0.1 + 0.86 * s)) ** 0.6);
    return [-1.14 + 2.28 * s, 0.42 - 0.7 * Math.cos(angle) * (0.75 + 0.25 * Math.sin(Math.PI * s)), wide * Math.sin(angle)];
  };
  builder.sheet(8, 7, place, () => 'shell', false);
  return builder.done();
}

/** A bell, 0.5 m high, hanging from y = 0.5, open below. */
export function makeBell(): Mesh {
  const builder = new MeshBuilder([{ name: 'bronze', baseColour: [0.42, 0.27, 0.09] }]);
  builder.beginGroup('bell');
  const outline: [number, number][] = [
    [0.015, 0.5],
    [0.1, 0.49],
    [0.14, 0.44],
    [0.155, 0.34],
    [0.17, 0.22],
    [0.2, 0.1],
    [0.25, 0.02],
    [0.25, 0],
    [0.235, 0],
    [0.19, 0.1],
    [0.155, 0.22],
    [0.14, 0.34],
    [0.12, 0.43],
    [0.015, 0.46],
  ];
  const at_ = (row: number, side: number): Vec3 => {
    const angle = -(side / 36) * 2 * Math.PI;
    return [Math.cos(angle) * outline[row][0], outline[row][1], Math.sin(angle) * outline[row][0]];
  };
  const rows = builder.sheet(outline.length, 36, at_, () => 'bronze', true);
  builder.face(rows[0], 'bronze');
  builder.face([...rows[outline.length - 1]].reverse(), 'bronze');
  return builder.done();
}

export function carried(asset: AddAsset): Station {
  const objects = [
    makeObject('hull-carried', 'Hull, carried', 'mesh', {
      parent: 'boats',
      mesh: asset('Small hull', makeHull(56, 34)),
      channels: at([-2.4, 0.25, 4.4], [0, 12, 0]),
    }),
    makeObject('hull-coarse', 'Hull, coarse', 'mesh', {
      parent: 'boats',
      mesh: asset('Coarse hull', makeCoarseHull()),
      channels: at([-2.4, 0.25, 4.4], [0, 12, 0]),
      visible: false,
    }),
    makeObject('bell', 'Bell', 'mesh', { parent: 'quay', mesh: asset('Bell', makeBell()), channels: at([0.45, 1.25, 0.25]) }),
  ];
  const graphs = [
    graph(
      'carried',
      'Carried along',
      [
        node('coarse-hull', 'scene-mesh', [0, 0], { settings: { object: 'hull-coarse' } }),
        node('coarse-bend', 'bend', [210, 0], {
          title: 'Bends the coarse hull',
          settings: { axis: 'x', towards: 'first' },
          inputs: { angle: { expression: '26 * sin(seconds * 1.5)' } },
        }),
        node('coarse-twist', 'twist', [420, 0], {
          settings: { axis: 'x' },
          inputs: { angle: { expression: '18 * sin(seconds * 1.1)' } },
        }),
        node('fine-hull', 'scene-mesh', [210, 260], { settings: { object: 'hull-carried' } }),
        node('fine-bumps', 'swell-by-noise', [420, 260], {
          title: 'Barnacles',
          inputs: { amount: 0.03, frequency: 9, octaves: 2 },
        }),
        node('bound', 'surface-bind', [640, 120], { inputs: { faces: 6 } }),
        node('show-hull', 'show-mesh', [850, 140], {
          settings: { object: 'hull-carried', name: 'hull-carried' },
        }),
        node('the-bell', 'scene-mesh', [210, 640], { settings: { object: 'bell' } }),
        node('cage-box', 'make-box', [0, 560], {
          title: 'Cage',
          inputs: { size: [0.6, 0.6, 0.6], x: 2, y: 3, z: 2 },
        }),
        node('cage-place', 'transform', [0, 790], {
          title: 'Round the bell',
          inputs: { translate: [0.45, 1.5, -2.05] },
        }),
        node('cage-bend', 'bend', [420, 560], {
          title: 'Swings the cage',
          settings: { axis: 'y' },
          inputs: { angle: { expression: '38 * sin(seconds * 2)' } },
        }),
        node('in-cage', 'cage', [640, 600]),
        node('show-bell', 'show-mesh', [850, 620], { settings: { object: 'bell', name: 'bell' } }),
      ],
      [
        ['coarse-hull.mesh', 'coarse-bend.mesh'],
        ['coarse-bend.mesh', 'coarse-twist.mesh'],
        ['fine-hull.mesh', 'fine-bumps.mesh'],
        ['fine-bumps.mesh', 'bound.mesh'],
        ['coarse-twist.mesh', 'bound.driver'],
        ['coarse-hull.mesh', 'bound.rest'],
        ['bound.mesh', 'show-hull.mesh'],
        ['cage-box.mesh', 'cage-place.mesh'],
        ['cage-place.mesh', 'cage-bend.mesh'],
        ['the-bell.mesh', 'in-cage.mesh'],
        ['cage-bend.mesh', 'in-cage.cage'],
        ['cage-place.mesh', 'in-cage.rest'],
        ['in-cage.mesh', 'show-bell.mesh'],
      ],
      [
        section(
          'bind-note',
          'A hull carried by a coarse one',
          'Fifty-six points are bent; the barnacled hull, bound to the nearest faces at rest, follows.',
          'moss',
          ['coarse-hull', 'coarse-bend', 'coarse-twist', 'fine-hull', 'fine-bumps', 'bound', 'show-hull'],
        ),
        section(
          'cage-note',
          'A bell in a cage',
          'The closed box is bent; every point of the bell has weights to all of its points, found once.',
          'slate',
          ['the-bell', 'cage-box', 'cage-place', 'cage-bend', 'in-cage', 'show-bell'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
