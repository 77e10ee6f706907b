import { makeObject, makeSphere, smoothed, withPositions, type Mesh, type Vec3 } from '@umberfish/core';
import { at, graph, node, section, spline } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** A lumpy buoy of about 0.3 m radius. */
function makeLumpyBuoy(): Mesh {
  const ball = makeSphere(0.3, 24, 36);
  const lumpy = ball.positions.slice();
  for (let i = 0; i < lumpy.length; i += 3) {
    const [x, y, z] = [lumpy[i], lumpy[i + 1], lumpy[i + 2]];
    const size = 1 + 0.07 * Math.sin(9 * x + 2) * Math.cos(8 * z) + 0.05 * Math.sin(11 * y + 6 * x);
    for (let axis = 0; axis < 3; axis++) lumpy[i + axis] *= size;
  }
  return withPositions(ball, lumpy);
}

/** A rough loop round three buoys in a row. */
const LOOP: Vec3[] = [
  [-1.02, 0, 0],
  [-0.82, 0.02, 0.34],
  [-0.6, 0, 0.4],
  [0, 0.03, 0.42],
  [0.6, 0, 0.4],
  [0.82, -0.02, 0.34],
  [1.02, 0, 0],
  [0.82, 0.02, -0.34],
  [0.6, 0, -0.4],
  [0, -0.02, -0.42],
  [-0.6, 0, -0.4],
  [-0.82, 0.03, -0.34],
];

export function mooring(asset: AddAsset): Station {
  const buoy = asset('Lumpy buoy', makeLumpyBuoy());
  const place: Vec3[] = [
    [-0.62, 0.02, 0.03],
    [0, -0.03, -0.04],
    [0.64, 0.03, 0.02],
  ];
  const objects = [
    makeObject('moorings', 'Mooring buoys', 'group', { channels: at([4.5, 0.32, 2.7], [0, -18, 0]) }),
    ...place.map((p, i) =>
      makeObject(`lumpy-${i + 1}`, `Lumpy buoy ${i + 1}`, 'mesh', {
        parent: 'moorings',
        mesh: buoy,
        colour: [
          [0.45, 0.09, 0.04],
          [0.5, 0.32, 0.1],
          [0.42, 0.12, 0.05],
        ][i] as unknown as Vec3,
        channels: at(p, [i * 40, i * 70, i * 20], [1, 1 + 0.12 * (i - 1), 1]),
      }),
    ),
    makeObject('mooring-loop', 'Mooring loop', 'curve', {
      channels: at([4.5, 0.32, 2.7], [0, -18, 0]),
      curve: { splines: [smoothed(spline('bezier', true, LOOP))] },
    }),
  ];
  const graphs = [
    graph(
      'mooring',
      'Mooring line',
      [
        node('rough', 'scene-curve', [0, 0], { settings: { object: 'mooring-loop' } }),
        node('all-buoys', 'scene-group', [0, 170], { settings: { object: 'moorings' } }),
        node('rope-radius', 'number', [0, 330], { title: 'Strand radius', inputs: { value: 0.016 } }),
        node('clear', 'arithmetic', [210, 330], {
          settings: { operation: 'multiply' },
          inputs: { b: 2.2 },
          title: 'Rope radius',
        }),
        node('settle', 'settle-on-surface', [210, 60], { title: 'Onto the buoys' }),
        node('even', 'respace-curve', [420, 60], { inputs: { count: 320 }, settings: { type: 'poly' } }),
        node('rope', 'sweep-profile', [620, 40], {
          title: 'Three strands',
          inputs: { strands: 3, turns: 26, sides: 7 },
        }),
        node('show-rope', 'show-mesh', [830, 60], { settings: { name: 'mooring-line' } }),
      ],
      [
        ['rough.curves', 'settle.geometry'],
        ['all-buoys.mesh', 'settle.target'],
        ['rope-radius.number', 'clear.a'],
        ['clear.result', 'settle.clearance'],
        ['settle.geometry', 'even.curves'],
        ['even.curves', 'rope.curves'],
        ['rope-radius.number', 'rope.radius'],
        ['rope.mesh', 'show-rope.mesh'],
      ],
      [
        section(
          'mooring-settle',
          'Stays on the buoys',
          'Every point of the loop goes to the nearest place on any of the buoys, lifted by the radius of the rope. Move, size or swap a buoy, or drag the loop: it stays on.',
          'sand',
          ['settle', 'even'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
