import { makeBox, makeObject, type Vec3 } from '@umberfish/core';
import { at, graph, node, section } from './records.ts';
import type { AddAsset, Station } from './station.ts';

/** One falloff, bound to a locator that is moved, turned and sized unevenly, for everything at this corner. */
export function oneFalloff(asset: AddAsset): Station {
  const crate = asset('Crate', makeBox([0.26, 0.26, 0.26], [1, 1, 1]));
  const block = asset('Block', makeBox([0.7, 0.5, 0.7], [3, 2, 3]));
  const crates = Array.from({ length: 25 }, (_, i): Vec3 => [(i % 5) * 0.34 - 0.68, 0.13, Math.floor(i / 5) * 0.34 - 0.68]);
  const objects = [
    makeObject('pontoon', 'Pontoon', 'group', { channels: at([0, 0, 5.2]) }),
    makeObject('falloff-here', 'Falloff here', 'locator', {
      parent: 'pontoon',
      channels: at([0.15, 0.2, -0.1], [0, 32, 8], [1.7, 0.9, 0.75]),
    }),
    makeObject('falloff-less', 'Less here', 'locator', {
      parent: 'pontoon',
      channels: at([-0.7, 0.2, 0.45], [0, 0, 0], [0.6, 0.6, 0.6]),
    }),
    makeObject('crates', 'Crates', 'group', { parent: 'pontoon', channels: at([0, 0, 0]) }),
    ...crates.map((p, i) =>
      makeObject(`crate-${i + 1}`, `Crate ${i + 1}`, 'mesh', {
        parent: 'crates',
        mesh: crate,
        colour: [0.42, 0.26 + 0.012 * (i % 4), 0.12],
        channels: at(p, [0, ((i * 37) % 11) - 5, 0]),
      }),
    ),
    makeObject('mat', 'Mat', 'mesh', { parent: 'pontoon', colour: [0.3, 0.2, 0.13] }),
    makeObject('block', 'Block', 'mesh', {
      parent: 'pontoon',
      mesh: block,
      colour: [0.35, 0.3, 0.26],
      channels: at([1.75, 0.3, 0.1]),
    }),
  ];
  const graphs = [
    graph(
      'one-falloff',
      'One falloff',
      [
        node('here', 'shape-falloff', [0, 120], {
          title: 'At the locator',
          inputs: { inner: 0.2 },
          settings: { object: 'falloff-here' },
        }),
        node('less', 'shape-falloff', [0, 420], {
          title: 'Less here',
          inputs: { inner: 0.1 },
          settings: { object: 'falloff-less' },
        }),
        node('mixed', 'mix-falloffs', [220, 180], {
          settings: { way1: 'subtract' },
          inputs: { strength1: 0.8 },
        }),
        node('lift-crates', 'drive-group', [470, -20], {
          title: 'Lifts the crates',
          settings: { object: 'crates' },
          inputs: { move: [0, 0.6, 0], turn: [0, 60, 0] },
        }),
        node('mat-grid', 'make-grid', [0, 690], {
          inputs: { width: 2.4, depth: 2.4, cellsX: 48, cellsZ: 48 },
        }),
        node('mat-place', 'transform', [220, 560], {
          inputs: { translate: [0, 0.02, 5.2] },
          title: 'Under the crates',
        }),
        node('mat-push', 'swell-out', [470, 230], { title: 'Pushes the mat', inputs: { amount: 0.16 } }),
        node('mat-colour', 'colour-by', [690, 230], { title: 'Colours it' }),
        node('show-mat', 'show-mesh', [900, 250], { settings: { object: 'mat', name: 'mat' } }),
        node('the-block', 'scene-mesh', [220, 800], { settings: { object: 'block' } }),
        node('block-smooth', 'subdivide', [470, 560], {
          title: 'Sharp where it is full',
          inputs: { levels: 3 },
        }),
        node('show-block', 'show-mesh', [690, 580], { settings: { object: 'block', name: 'block' } }),
        node('nail-mesh', 'make-sphere', [690, 960], { inputs: { radius: 0.03, rings: 6, segments: 10 } }),
        node('nails', 'scatter-points', [690, 740], { inputs: { count: 160, spacing: 0.08 } }),
        node('nail-copies', 'place-copies', [910, 760], {
          title: 'Sizes the copies',
          settings: { align: 'normal' },
        }),
        node('show-nails', 'show-mesh', [1120, 780], { settings: { name: 'nails' } }),
      ],
      [
        ['here.falloff', 'mixed.base'],
        ['less.falloff', 'mixed.falloff1'],
        ['mixed.falloff', 'lift-crates.weight'],
        ['mat-grid.mesh', 'mat-place.mesh'],
        ['mat-place.mesh', 'mat-push.mesh'],
        ['mixed.falloff', 'mat-push.weight'],
        ['mat-push.mesh', 'mat-colour.mesh'],
        ['mixed.falloff', 'mat-colour.value'],
        ['mat-colour.mesh', 'show-mat.mesh'],
        ['the-block.mesh', 'block-smooth.mesh'],
        ['mixed.falloff', 'block-smooth.crease'],
        ['block-smooth.mesh', 'show-block.mesh'],
        ['mat-push.mesh', 'nails.mesh', [650, 700]],
        ['nails.mesh', 'nail-copies.points'],
        ['nail-mesh.mesh', 'nail-copies.a'],
        ['nails.normals', 'nail-copies.direction'],
        ['mixed.falloff', 'nail-copies.scale', [440, 1160], [890, 1160]],
        ['nail-copies.copies', 'show-nails.mesh'],
      ],
      [
        section(
          'falloff-note',
          'One falloff, many uses',
          'A sphere at a locator that is moved, turned and sized unevenly, less another one. The same wire lifts 25 crates, pushes and colours the mat, sharpens the block and sizes the nails. Pick a falloff card to see its boundary; press P on it to paint it on everything.',
          'clay',
          ['here', 'less', 'mixed'],
        ),
      ],
    ),
  ];
  return { objects, graphs };
}
