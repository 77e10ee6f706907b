import { makeObject, smoothed, type SplineRecord, type Vec3 } from '@umberfish/core';
import { at, graph, node, section, spline } from './records.ts';
import type { AddAsset, Station } from './station.ts';
import { makeUmberfish } from './umberfish.ts';

/** A loop over the kelp bed, rising and sinking as it goes. */
function loop(): SplineRecord {
  const points = Array.from({ length: 8 }, (_, i): Vec3 => {
    const angle = (i / 8) * 2 * Math.PI;
    const r = i % 2 === 0 ? 1.55 : 1.15;
    return [Math.cos(angle) * r, 0.75 + 0.22 * Math.sin(angle * 2), Math.sin(angle) * r];
  });
  return smoothed(spline('bezier', true, points));
}

/** The spine of the second fish: straight at rest, drawn into an S now. */
const restSpine = (): SplineRecord =>
  smoothed(
    spline('bezier', false, [
      [-0.6, 0, 0],
      [-0.2, 0, 0],
      [0.2, 0, 0],
      [0.6, 0, 0],
    ]),
  );
const bentSpine = (): SplineRecord => {
  const bent = smoothed(
    spline('bezier', false, [
      [-0.6, 0.02, 0.06],
      [-0.2, 0.05, -0.1],
      [0.2, 0.02, 0.13],
      [0.56, 0.1, -0.16],
    ]),
  );
  return {
    ...bent,
    points: bent.points.map((p, i) => ({ ...p, roll: [0, 4, -10, -24][i], width: [1, 1.08, 0.96, 1][i] })),
  };
};

export function swim(asset: AddAsset): Station {
  const fish = asset('Umberfish', makeUmberfish());
  const objects = [
    makeObject('tank', 'Kelp bed', 'group', { channels: at([-6.4, 0, 0.2]) }),
    makeObject('umberfish', 'Umberfish', 'mesh', {
      parent: 'puppets',
      mesh: fish,
      channels: at([-6.4, 1.9, -1.9]),
    }),
    makeObject('swim-loop', 'Swim loop', 'curve', { parent: 'tank', curve: { splines: [loop()] } }),
    makeObject('young-fish', 'Young umberfish', 'mesh', {
      parent: 'puppets',
      mesh: fish,
      channels: at([-3.9, 1.15, -1.2]),
    }),
    makeObject('young-spine', 'Young spine', 'curve', {
      parent: 'puppets',
      channels: at([-3.9, 1.15, -1.2]),
      curve: { splines: [bentSpine()] },
      restCurve: { splines: [restSpine()] },
    }),
    makeObject('old-fish', 'Old umberfish', 'mesh', {
      parent: 'puppets',
      mesh: fish,
      channels: at([-4.1, 2.1, -2.6]),
    }),
    makeObject('old-spine', 'Old spine', 'curve', {
      parent: 'puppets',
      channels: at([-4.1, 2.1, -2.6]),
      curve: { splines: [restSpine()] },
    }),
  ];
  const graphs = [
    graph(
      'swim',
      'Swim',
      [
        node('swim-fish', 'scene-mesh', [0, 0], { settings: { object: 'umberfish' } }),
        node('swim-curve', 'scene-curve', [0, 170], { settings: { object: 'swim-loop' } }),
        node('swim-start', 'number', [0, 340], {
          title: 'Laps',
          inputs: { value: { expression: '-seconds / 10' } },
        }),
        node('swim-lay', 'lay-along-curve', [220, 40], {
          title: 'Along the loop',
          inputs: { rollStart: { expression: '6 * sin(seconds * 3)' }, rollEnd: { expression: '26 * sin(seconds * 3 - 1.2)' } },
          settings: { overshoot: 'wrap' },
        }),
        node('swim-show', 'show-mesh', [440, 60], { settings: { object: 'umberfish', name: 'umberfish' } }),
        node('young-mesh', 'scene-mesh', [0, 560], { settings: { object: 'young-fish' } }),
        node('young-curve', 'scene-curve', [0, 730], { settings: { object: 'young-spine' } }),
        node('young-lay', 'lay-along-curve', [220, 580], {
          title: 'Only the change',
          inputs: { rollEnd: { expression: '14 * sin(seconds * 4)' } },
          settings: { volume: true },
        }),
        node('young-show', 'show-mesh', [440, 600], {
          settings: { object: 'young-fish', name: 'young-umberfish' },
        }),
        node('old-mesh', 'scene-mesh', [0, 1120], { settings: { object: 'old-fish' } }),
        node('old-curve', 'scene-curve', [0, 1290], { settings: { object: 'old-spine' } }),
        node('old-bones', 'make-chain', [220, 1290], {
          title: 'Spine',
          inputs: { count: 8 },
          settings: { names: 'Spine' },
        }),
        node('old-sway', 'build-matrix', [220, 1460], {
          title: 'Sway',
          inputs: { rotate: [0, { expression: '16 * sin(seconds * 3)' }, 0] },
        }),
        node('old-back-sway', 'build-matrix', [440, 1460], {
          title: 'Sway of the tail',
          inputs: { rotate: [0, { expression: '-30 * sin(seconds * 3 - 0.8)' }, 0] },
        }),
        node('old-chest', 'joint', [440, 1290], { settings: { joint: 'Spine 3', does: 'offset', space: 'own' }, title: 'Chest' }),
        node('old-tail', 'joint', [660, 1290], { settings: { joint: 'Spine 6', does: 'offset', space: 'own' }, title: 'Tail' }),
        node('old-bound', 'bind-skin', [440, 1120], { inputs: { detail: 64, smooth: 4 } }),
        node('old-skin', 'skin', [880, 1140]),
        node('old-show', 'show-mesh', [1100, 1140], { settings: { object: 'old-fish', name: 'old-umberfish' } }),
      ],
      [
        ['swim-fish.mesh', 'swim-lay.mesh'],
        ['swim-curve.curves', 'swim-lay.curves'],
        ['swim-start.number', 'swim-lay.start'],
        ['swim-lay.mesh', 'swim-show.mesh'],
        ['young-mesh.mesh', 'young-lay.mesh'],
        ['young-curve.curves', 'young-lay.curves'],
        ['young-curve.restCurves', 'young-lay.rest'],
        ['young-lay.mesh', 'young-show.mesh'],
        ['old-curve.curves', 'old-bones.curves'],
        ['old-bones.chain', 'old-chest.chain'],
        ['old-sway.matrix', 'old-chest.matrix'],
        ['old-chest.chain', 'old-tail.chain'],
        ['old-back-sway.matrix', 'old-tail.matrix'],
        ['old-mesh.mesh', 'old-bound.mesh'],
        ['old-bones.chain', 'old-bound.chain'],
        ['old-bound.mesh', 'old-skin.mesh'],
        ['old-tail.chain', 'old-skin.chain'],
        ['old-skin.mesh', 'old-show.mesh'],
      ],
      [
        section(
          'swim-round',
          'Round and round',
          'The fish lies on the loop from scratch; its start is moved by an expression. On a closed curve, "Begin again" takes it past the seam.',
          'slate',
          ['swim-fish', 'swim-curve', 'swim-start', 'swim-lay', 'swim-show'],
        ),
        section(
          'swim-bend',
          'Only the change',
          'With the rest curve connected, the fish does not move until the spine is drawn away from its rest. Pick the spine in the stage and drag its points.',
          'moss',
          ['young-mesh', 'young-curve', 'young-lay', 'young-show'],
        ),
        section(
          'swim-bones',
          'A spine bound to its skin',
          'Eight joints are made along a drawn spine and the fish is bound to them, through its inside. Two of them sway, the tail a little later; each card reads and moves one joint by its name.',
          'sand',
          [
            'old-mesh',
            'old-curve',
            'old-bones',
            'old-sway',
            'old-back-sway',
            'old-chest',
            'old-tail',
            'old-bound',
            'old-skin',
            'old-show',
          ],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
