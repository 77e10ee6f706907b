import { makeDisc, makeObject, type Mesh, type Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';
import { graph, node, section } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** A blade of kelp, 0.75 m high, wavy, its foot at the origin. */
function makeBlade(): Mesh {
  const builder = new MeshBuilder([{ name: 'kelp', baseColour: [0.12, 0.2, 0.05] }]);
  builder.beginGroup('blade');
  const rows = 9;
  const at = (row: number, column: number): Vec3 => {
    const t = row / (rows - 1);
    const wide = 0.045 * Math.sin(Math.PI * (0.12 + 0.85 * t)) ** 0.7;
    return [(column - 1) * wide, t * 0.75, 0.03 * Math.sin(t * 7 + (column - 1) * 0.6)];
  };
  builder.sheet(
    rows,
    3,
    (r, c) => at(r, c),
    () => 'kelp',
    false,
  );
  return builder.done();
}

export function kelp(asset: AddAsset): Station {
  const objects = [
    makeObject('seabed', 'Seabed', 'mesh', {
      parent: 'tank',
      mesh: asset('Seabed', makeDisc(1.9, 10, 40)),
      colour: [0.3, 0.23, 0.15],
    }),
    makeObject('blade', 'Kelp blade', 'mesh', {
      parent: 'tank',
      mesh: asset('Kelp blade', makeBlade()),
      colour: [0.13, 0.2, 0.06],
      visible: false,
    }),
  ];
  const graphs = [
    graph(
      'kelp',
      'Kelp',
      [
        node('bed', 'scene-mesh', [0, 0], { settings: { object: 'seabed' } }),
        node('kelp-blade', 'scene-mesh', [0, 170], { settings: { object: 'blade', space: 'own' } }),
        node('passing', 'scene-mesh', [0, 340], {
          settings: { object: 'umberfish', read: 'result' },
          title: 'The fish as it swims',
        }),
        node('feet', 'scatter-points', [200, 0], { inputs: { count: 420, spacing: 0.07 } }),
        node('blades', 'place-copies', [400, 0], { inputs: { random: 360, vary: 0.35 } }),
        node('stand', 'point-values', [600, 40], { title: 'Where blades stand' }),
        node('near', 'nearest', [600, 240], { title: 'How near the fish is', probes: ['distance'] }),
        node('middle', 'summarise', [200, 340], { settings: { of: 'mesh' }, title: 'Middle of the fish' }),
        node('away', 'arithmetic', [800, 60], { settings: { operation: 'subtract' }, title: 'Away from it' }),
        node('soon', 'arithmetic', [800, 600], {
          settings: { operation: 'multiply' },
          inputs: { b: 3 },
          title: 'Whole lean at 33 cm',
        }),
        node('how-much', 'remap', [800, 240], {
          inputs: { fromLow: 0.45, fromHigh: 1.15 },
          settings: { invert: true, shape: true },
          title: 'Near is 1, far is 0',
        }),
        node('by-distance', 'gradient', [800, 470], {
          settings: {
            gradient: {
              stops: [
                { at: 0, colour: [0.1, 0.17, 0.05] },
                { at: 0.55, colour: [0.45, 0.3, 0.07] },
                { at: 1, colour: [0.75, 0.22, 0.05] },
              ],
            },
          },
        }),
        node('lean', 'edit-copies', [1010, 60], {
          title: 'Lean and shrink',
          inputs: { lean: 58, scale: 0.72 },
        }),
        node('show-kelp', 'show-mesh', [1220, 80], { settings: { name: 'kelp' } }),
      ],
      [
        ['bed.mesh', 'feet.mesh'],
        ['feet.mesh', 'blades.points'],
        ['kelp-blade.mesh', 'blades.a'],
        ['blades.copies', 'stand.mesh'],
        ['stand.positions', 'near.positions'],
        ['passing.mesh', 'near.target'],
        ['stand.positions', 'away.a'],
        ['passing.mesh', 'middle.mesh'],
        ['middle.average', 'away.b'],
        ['away.result', 'soon.a'],
        ['near.distance', 'how-much.value'],
        ['how-much.result', 'by-distance.value'],
        ['blades.copies', 'lean.copies'],
        ['soon.result', 'lean.towards'],
        ['how-much.result', 'lean.weight'],
        ['by-distance.colour', 'lean.colour'],
        ['lean.copies', 'show-kelp.mesh'],
      ],
      [
        section(
          'kelp-lean',
          'Leans away as it passes',
          'Every blade asks how far the nearest place on the fish is: on its faces, edges or points. Swap the target for scattered points, also inside a mesh: the rest stays as it is. It leans away from the middle of the fish, because the nearest place jumps from side to side.',
          'moss',
          ['stand', 'near', 'away', 'how-much', 'by-distance', 'soon'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
