import {
  makeObject,
  makeProject,
  meshId,
  moduleKey,
  takeIn,
  usedKey,
  type AssetRecord,
  type GraphRecord,
  type Mesh,
  type NodeRecord,
  type Project,
} from '@umberfish/core';
import { boatman } from './boatman.ts';
import { heron } from './heron.ts';
import { bottle } from './bottle.ts';
import { carried } from './carried.ts';
import { clump } from './clump.ts';
import { crane } from './crane.ts';
import { handedOutQuay } from './hand-out.ts';
import { kelp } from './kelp.ts';
import { mooring } from './mooring.ts';
import { moulting } from './moulting.ts';
import { nettedFloat } from './netted-float.ts';
import { oneFalloff } from './one-falloff.ts';
import { props } from './props.ts';
import { swim } from './swim.ts';
import { withSnapshots } from './snapshots.ts';
import { yoke } from './yoke.ts';
import { leadWeightGraph, makeLeadWeight } from './lead-weight.ts';
import { at, graph, node, section } from './records.ts';
import { makeStarters } from './starters.ts';
import { tearsGraph } from './tears.ts';
import { makeHull } from './hull.ts';
import { makeBuoy, makeLantern, makeQuayWall } from './harbour.ts';
import { makePufferfish } from './pufferfish.ts';

/** The demo: document and meshes. */
export interface Demo {
  readonly project: Project;
  readonly assets: ReadonlyMap<string, Mesh>;
}

/**
 * Lantern Quay: the pufferfish that swells where the locator is, the harbour water that breathes, and two twisting
 * hulls: barnacles from noise at the rest stick to one and swim over the other. A lead weight of eight points shows what
 * attributes are, and another graph where the hull tears. Nine more corners are about curves, nearness, falloffs and
 * copies, and three about pivots, constraints and keys, a file each.
 */
export function makeLanternQuay(): Demo {
  const assets = new Map<string, Mesh>();
  const records: AssetRecord[] = [];
  const asset = (name: string, mesh: Mesh): string => {
    const id = meshId(mesh);
    if (assets.has(id)) return id;
    assets.set(id, mesh);
    records.push({
      id,
      name,
      points: mesh.topology.pointCount,
      faces: mesh.topology.faceCount,
      origin: 'made for Lantern Quay, metres, y up',
    });
    return id;
  };
  const objects = [
    makeObject('puppets', 'Puppets', 'group'),
    makeObject('pufferfish', 'Pufferfish', 'mesh', {
      parent: 'puppets',
      mesh: asset('Pufferfish', makePufferfish()),
      channels: at([0, 1.05, 0.6], [0, -38, 6]),
    }),
    makeObject('swell-here', 'Swell here', 'locator', {
      parent: 'puppets',
      channels: at([0.02, 1.72, 0.82]),
    }),
    makeObject('harbour', 'Harbour', 'group'),
    makeObject('water', 'Water', 'mesh', { parent: 'harbour', colour: [0.07, 0.14, 0.145] }),
    makeObject('quay', 'Quay wall', 'mesh', {
      parent: 'harbour',
      mesh: asset('Quay wall', makeQuayWall()),
      channels: at([0, 0, -2.3]),
    }),
    makeObject('lantern', 'Lantern', 'mesh', {
      parent: 'quay',
      mesh: asset('Lantern', makeLantern()),
      channels: at([-2.15, 1.15, -0.32]),
    }),
    makeObject('buoy', 'Buoy', 'mesh', {
      parent: 'harbour',
      mesh: asset('Buoy', makeBuoy()),
      channels: at([1.95, 0.05, -0.9], [8, 30, -10]),
    }),
  ];
  objects.push(
    makeObject('lead-weight', 'Lead weight', 'mesh', {
      parent: 'quay',
      mesh: asset('Lead weight', makeLeadWeight()),
      channels: at([1.5, 1.15, -0.3], [0, 14, 0]),
    }),
  );
  const hull = asset('Hull', makeHull());
  objects.push(
    makeObject('boats', 'Boats', 'group'),
    makeObject('hull-stuck', 'Hull, stuck', 'mesh', {
      parent: 'boats',
      mesh: hull,
      channels: at([-2.6, 0.03, 1.5], [0, 24, 0]),
    }),
    makeObject('hull-swimming', 'Hull, swimming', 'mesh', {
      parent: 'boats',
      mesh: hull,
      channels: at([2.7, 0.03, 1.7], [0, 152, 0]),
    }),
  );
  const swell = graph(
    'swell',
    'Swell',
    [
      node('fish', 'scene-mesh', [0, 0], { settings: { object: 'pufferfish' } }),
      node('values', 'point-values', [196, 0]),
      node('locator', 'scene-locator', [0, 170], { settings: { object: 'swell-here' } }),
      node('distance', 'measure', [196, 190], { probes: ['result'], title: 'Distance' }),
      node('ratio', 'arithmetic', [392, 170], {
        settings: { operation: 'divide' },
        inputs: { b: 0.62 },
        title: 'By radius',
      }),
      node('shape', 'response', [392, 330], {
        settings: {
          response: {
            points: [
              { at: 0, value: 1, in: [-0.2, 0], out: [0.34, 0], shape: 'curve' },
              { at: 1, value: 0, in: [-0.42, 0], out: [0.2, 0], shape: 'curve' },
            ],
            invert: false,
          },
        },
      }),
      node('offset', 'arithmetic', [588, 100], {
        settings: { operation: 'multiply', operands: '3' },
        inputs: { c: 0.2 },
        title: 'Along normals',
      }),
      node('move', 'move-points', [784, 0]),
      node('show', 'show-mesh', [784, 190], { settings: { object: 'pufferfish', name: 'pufferfish' } }),
    ],
    [
      ['fish.mesh', 'values.mesh'],
      ['values.positions', 'distance.a'],
      ['locator.position', 'distance.b'],
      ['distance.result', 'ratio.a'],
      ['ratio.result', 'shape.value'],
      ['values.normals', 'offset.a'],
      ['shape.result', 'offset.b'],
      ['fish.mesh', 'move.mesh'],
      ['offset.result', 'move.offset'],
      ['move.mesh', 'show.mesh'],
    ],
  );
  const water = graph(
    'water-graph',
    'Harbour water',
    [
      node('grid', 'make-grid', [0, 0], {
        inputs: { width: 12, depth: 8, cellsX: 160, cellsZ: 110 },
        title: 'Water grid',
      }),
      node('grid-values', 'point-values', [196, 180]),
      node('breath', 'number', [196, 380], {
        inputs: { value: { expression: '0.8 + 0.4 * sin(seconds / 3)' } },
        title: 'Breath',
      }),
      node('waves', 'noise', [392, 230], {
        inputs: { octaves: 3, gain: 0.42, seed: 4 },
        title: 'Waves',
        probes: ['result'],
      }),
      node('lift', 'arithmetic', [588, 170], {
        settings: { operation: 'multiply', operands: '3' },
        inputs: { c: 0.14 },
        title: 'Lift along normals',
      }),
      node('move-water', 'move-points', [784, 40]),
      node('show-water', 'show-mesh', [784, 230], { settings: { object: 'water', name: 'water' } }),
    ],
    [
      ['grid.mesh', 'grid-values.mesh'],
      ['grid-values.positions', 'waves.position'],
      ['breath.number', 'waves.frequency'],
      ['grid-values.normals', 'lift.a'],
      ['waves.result', 'lift.b'],
      ['grid.mesh', 'move-water.mesh'],
      ['lift.result', 'move-water.offset'],
      ['move-water.mesh', 'show-water.mesh'],
    ],
  );
  const boat = (side: 'stuck' | 'swimming', y: number): [NodeRecord[], (readonly [string, string])[]] => {
    const id = (n: string) => `${n}-${side}`;
    const stuck = side === 'stuck';
    const nodes = [
      node(id('hull'), 'scene-mesh', [0, y], { settings: { object: `hull-${side}` } }),
      node(id('rest'), 'remember-rest', [0, y + 130]),
      node(id('twist'), 'twist', [196, y + 40], {
        settings: { axis: 'x' },
        inputs: { angle: { expression: '24 * sin(seconds * 1.6)' } },
      }),
      node(id('skin'), 'point-values', [392, y]),
      ...(stuck ? [node(id('where'), 'read-attribute', [392, y + 170], { settings: { name: 'restPosition' } })] : []),
      node(id('bumps'), 'noise', [588, y], {
        inputs: { frequency: 9, octaves: 2, seed: 8 },
        title: stuck ? 'Noise at rest: stays' : 'Noise at positions: swims',
      }),
      node(id('only-high'), 'remap', [588, y + 250], {
        inputs: { fromLow: 0.28, fromHigh: 0.62 },
        title: 'Only the high ones',
      }),
      node(id('grow'), 'arithmetic', [784, y + 90], {
        settings: { operation: 'multiply', operands: '3' },
        inputs: { c: 0.05 },
        title: 'Along normals',
      }),
      node(id('move'), 'move-points', [980, y]),
      node(id('show'), 'show-mesh', [980, y + 190], {
        settings: { object: `hull-${side}`, name: `hull-${side}` },
      }),
    ];
    const wires = [
      ['hull.mesh', 'rest.mesh'],
      ['rest.mesh', 'twist.mesh'],
      ['twist.mesh', 'skin.mesh'],
      ...(stuck
        ? [
            ['twist.mesh', 'where.mesh'],
            ['where.values', 'bumps.position'],
          ]
        : [['skin.positions', 'bumps.position']]),
      ['bumps.result', 'only-high.value'],
      ['skin.normals', 'grow.a'],
      ['only-high.result', 'grow.b'],
      ['twist.mesh', 'move.mesh'],
      ['grow.result', 'move.offset'],
      ['move.mesh', 'show.mesh'],
    ].map(([from, to]) => [from, to].map((end) => end.replace('.', `-${side}.`)) as unknown as readonly [string, string]);
    return [nodes, wires];
  };
  const [stuckNodes, stuckWires] = boat('stuck', 0);
  const [swimmingNodes, swimmingWires] = boat('swimming', 590);
  const barnacles = graph(
    'barnacles',
    'Barnacles',
    [...stuckNodes, ...swimmingNodes],
    [...stuckWires, ...swimmingWires],
    [
      section(
        'stuck',
        'Barnacles that stick',
        'The noise is read at restPosition, where each point was before the twist: the same point always finds the same noise, so its barnacle stays on it.',
        'moss',
        stuckNodes.map((n) => n.id),
      ),
      section(
        'swimming',
        'Barnacles that swim',
        'The noise is read at the positions, which move through it as the hull twists: the bumps wander over the planks. Play, and compare with the other hull.',
        'clay',
        swimmingNodes.map((n) => n.id),
      ),
    ],
  );
  const stations = [
    swim(asset),
    bottle(),
    mooring(asset),
    kelp(asset),
    oneFalloff(asset),
    moulting(),
    nettedFloat(),
    clump(),
    carried(asset),
    crane(asset),
    boatman(asset),
    heron(asset),
    props(asset),
    yoke(asset),
  ];
  const project: Project = {
    ...makeProject('lantern-quay', 'Lantern Quay'),
    objects: [...objects, ...stations.flatMap((s) => s.objects)],
    graphs: [swell, water, barnacles, leadWeightGraph(), tearsGraph(), ...stations.flatMap((s) => s.graphs)].map(inItsFolder),
    assets: records,
  };
  return { project: handedOutQuay(withSnapshots(withModules(project), assets)), assets };
}

/** Folders that the graphs are listed in. */
const FOLDERS: Readonly<Record<string, readonly string[]>> = {
  Fish: ['swell', 'swim', 'kelp', 'loosen'],
  Harbour: ['water-graph', 'barnacles', 'lead', 'tears', 'profile', 'mooring', 'one-falloff', 'net', 'clump'],
  'Props and how they move': [
    ...['carried', 'crane-aims', 'handed-over', 'fender-between', 'winch', 'by-hand', 'mirrored', 'lagging', 'gull-flies'],
    ...['riding', 'pivots'],
  ],
  'Chains and skin': ['heron-wades', 'heron-skin-graph', 'boatman-takes', 'cable-reaches'],
};

function inItsFolder(graph: GraphRecord): GraphRecord {
  const folder = Object.keys(FOLDERS).find((name) => FOLDERS[name].includes(graph.id));
  return folder === undefined ? graph : { ...graph, folder };
}

/** The project with the modules that its graphs use. */
function withModules(project: Project): Project {
  const used = new Set(project.graphs.flatMap((g) => g.nodes.flatMap((n) => usedKey(n) ?? [])));
  const files = makeStarters().filter((f) => used.has(moduleKey(f.module)));
  return files.reduce((p, file) => takeIn(p, file).project, project);
}
