import { CATALOGUE } from './index.ts';
import { describe, expect, test } from 'vitest';
import { findAttribute, withAttribute, type Mesh } from '../geometry/mesh.ts';
import { makeBox } from '../geometry/solids.ts';
import { pointNormals } from '../geometry/normals.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { makeObject } from '../project/kinds/index.ts';
import { type NodeRecord } from '../project/schema.ts';
import { graph, meshOf, node, project } from '../testing/build.ts';
import { at, run, single } from '../testing/quay.ts';
import { signedPlainly, volumeOf } from '../testing/surface.ts';

const box = (id: string) => node(id, 'make-box', { inputs: { size: [2, 1, 1] } });
const value = (nodes: NodeRecord[], wires: string[], wanted: string[]) => run(project([graph(nodes, wires)]), wanted);

/** Moved points along their normals must be further out on every side. */
const grows = (mesh: Mesh) => expect(volumeOf(mesh)).toBeGreaterThan(0);

describe('what mirrors keeps its outside', () => {
  test('Transform by a negative size, whole or by a weight, in each way of mixing', () => {
    for (const [inputs, mix, turned] of [
      [{ scale: [-1, 1, 1] }, 'parameters', true],
      [{ scale: [-2, -1, -1] }, 'parameters', true],
      [{ scale: [-1, -1, 1] }, 'parameters', false],
      [{ scale: [-3, 1, 1], weight: 0.5 }, 'parameters', true],
      [{ scale: [-1, 1, 1], weight: 0.25 }, 'parameters', false],
      [{ scale: [-3, 1, 1], weight: 0.5 }, 'straight', true],
      [{ scale: [-1, 1, 1], weight: 0.25 }, 'straight', false],
      [{ rotate: [0, 180, 0], weight: 0.75 }, 'straight', false],
    ] as const) {
      const nodes = [
        box('box'),
        node('it', 'transform', { inputs: inputs as never, settings: { mix } }),
        node('swell', 'swell-out', { inputs: { distance: 0.1 } }),
      ];
      const { values, words } = value(
        nodes,
        ['box.mesh > it.mesh', 'it.mesh > swell.mesh'],
        ['box.mesh', 'it.mesh', 'swell.mesh'],
      );
      expect(words).toEqual([]);
      const [before, after, larger] = values.map(meshOf);
      expect(after.topology === before.topology, JSON.stringify(inputs)).toBe(!turned);
      grows(after);
      expect(volumeOf(larger)).toBeGreaterThan(volumeOf(after));
    }
  });

  test('Transform under a column: turned round where all of it mirrors, left where only a part does', () => {
    const names = (list: string) => ({
      names: list.split(' ').map((name) => ({ name, type: 'number' as const })),
    });
    for (const [formula, turned] of [
      ['w = 0.6 + 0.4 * (index / count)', true],
      ['w = index / count', false],
    ] as const) {
      const nodes = [
        box('box'),
        node('f', 'formula', { settings: { formula, outputs: names('w'), inputs: { names: [] }, on: 'point' } }),
        node('it', 'transform', { inputs: { scale: [-1, 1, 1] } }),
      ];
      const { values } = value(nodes, ['box.mesh > f.mesh', 'box.mesh > it.mesh', 'f.w > it.weight'], ['it.mesh', 'box.mesh']);
      expect(meshOf(values[0]).topology !== meshOf(values[1]).topology).toBe(turned);
    }
  });

  test('Change Space, an object of size −1, its rest and groups', () => {
    const flipped = makeObject('flipped', 'Flipped', 'locator', { channels: at([1, 2, 3], [10, 20, 30], [1, -1, 2]) });
    const fish = makeObject('twin', 'Twin', 'mesh', {
      mesh: 'mesh',
      channels: at([0, 0, 0], [0, 40, 0], [-1, 1, 1]),
      parent: 'pair',
    });
    const pair = makeObject('pair', 'Pair', 'group', { channels: at([3, 0, 0]) });
    const nodes = [
      box('box'),
      node('here', 'scene-locator', { settings: { object: 'flipped' } }),
      node('into', 'change-space', { settings: { what: 'mesh', way: 'in' } }),
      node('out', 'change-space', { settings: { what: 'mesh', way: 'out' } }),
      node('back', 'change-space', { settings: { what: 'mesh', way: 'out' } }),
      node('twin', 'scene-mesh', { settings: { object: 'twin' } }),
      node('own', 'scene-mesh', { settings: { object: 'twin', space: 'own' } }),
      node('all', 'scene-group', { settings: { object: 'pair' } }),
      node('points', 'copies-to-mesh'),
    ];
    const wires = [
      'box.mesh > into.value',
      'box.mesh > out.value',
      'here.matrix > into.space',
      'here.matrix > out.space',
      'into.value > back.value',
      'here.matrix > back.space',
      'all.copies > points.mesh',
    ];
    const p = project([graph(nodes, wires)], [0, 0, 0], [flipped, pair, fish]);
    const { values, words } = run(p, [
      'box.mesh',
      'into.value',
      'out.value',
      'back.value',
      'twin.mesh',
      'own.mesh',
      'all.mesh',
      'points.mesh',
    ]);
    expect(words).toEqual([]);
    const [before, into, out, back, twin, own, all, points] = values.map(meshOf);
    expect(volumeOf(into)).toBeCloseTo(1, 5);
    expect(volumeOf(out)).toBeCloseTo(4, 4);
    expect(back.topology).toBe(before.topology);
    expect(volumeOf(twin)).toBeCloseTo(volumeOf(own), 5);
    expect(volumeOf(all)).toBeCloseTo(volumeOf(own), 5);
    expect(volumeOf(points)).toBeCloseTo(volumeOf(own), 5);
  });

  test('copies of a group of results stand where the results are', () => {
    const pair = makeObject('pair', 'Pair', 'group', { channels: at([3, 0, 0]) });
    const twin = makeObject('twin', 'Twin', 'mesh', {
      mesh: 'mesh',
      channels: at([0, 1, 0], [0, 40, 0], [-1, 1, 1]),
      parent: 'pair',
    });
    const flat = makeObject('flat', 'Flat', 'mesh', {
      mesh: 'mesh',
      channels: at([2, 0, 0], [0, 0, 0], [1, 0, 1]),
      parent: 'pair',
    });
    const made = graph(
      [
        box('box'),
        node('up', 'transform', { inputs: { translate: [0, 5, 0] } }),
        node('show', 'show-mesh', { settings: { object: 'twin' } }),
        node('show2', 'show-mesh', { settings: { object: 'flat' } }),
      ],
      ['box.mesh > up.mesh', 'up.mesh > show.mesh', 'box.mesh > show2.mesh'],
    );
    const read = {
      ...graph(
        [node('all', 'scene-group', { settings: { object: 'pair', read: 'result' } }), node('points', 'copies-to-mesh')],
        ['all.copies > points.mesh'],
      ),
      id: 'read',
    };
    const { values } = run(project([made, read], [0, 0, 0], [pair, twin, flat]), ['all.mesh', 'points.mesh', 'all.copies']);
    const [all, points] = [meshOf(values[0]), meshOf(values[1])];
    expect(volumeOf(points)).toBeCloseTo(volumeOf(all), 5);
    points.positions.forEach((x, i) => expect(x).toBeCloseTo(all.positions[i], 5));
    const copies = values[2];
    if (copies?.kind !== 'copies') throw new Error('no copies');
    expect(copies.copies.matrices[13]).toBeCloseTo(1, 12);
  });

  test('copies of negative size, alone and after one another', () => {
    for (const [place, edit, many] of [
      [-1, 1, 1],
      [0.5, -1, 1],
      [-1, -1, -1],
    ] as const) {
      const nodes = [
        node('line', 'make-line', { inputs: { points: 3 } }),
        box('box'),
        node('place', 'place-copies', { inputs: { scale: place } }),
        node('edit', 'edit-copies', { inputs: { scale: edit } }),
        node('points', 'copies-to-mesh'),
      ];
      const { values } = value(
        nodes,
        ['line.curves > place.points', 'box.mesh > place.a', 'place.copies > edit.copies', 'edit.copies > points.mesh'],
        ['points.mesh', 'line.curves'],
      );
      expect(volumeOf(meshOf(values[0])), `${many}`).toBeCloseTo(3 * 2 * Math.abs(place * edit) ** 3, 4);
    }
  });

  test('Nearest, Scatter inside and columns of the mesh before know the mirrored mesh', () => {
    const nodes = [
      box('box'),
      node('values', 'point-values'),
      node('flip', 'transform', { inputs: { scale: [1, 1, -1], translate: [1, 0, 0] } }),
      node('v', 'vector', { inputs: { value: [1.2, 0.1, 0.2] } }),
      node('near', 'nearest'),
      node('fill', 'scatter-points', { inputs: { count: 50 }, settings: { where: 'inside' } }),
      node('move', 'move-points'),
    ];
    const wires = [
      'box.mesh > flip.mesh',
      'box.mesh > values.mesh',
      'v.vector > near.positions',
      'flip.mesh > near.target',
      'flip.mesh > fill.mesh',
      'flip.mesh > move.mesh',
      'values.normals > move.offset',
    ];
    const { values, words } = value(nodes, wires, ['near.signed', 'near.normal', 'fill.mesh', 'flip.mesh', 'move.mesh']);
    // The offset comes from the mesh as it was, and its points are the same: nothing to say.
    expect(words).toEqual([]);
    expect(single(values[0])[0]).toBeCloseTo(-0.3, 5);
    expect(single(values[1])[2]).toBeGreaterThan(0.3);
    const flipped = meshOf(values[3]);
    const { positions, topology } = meshOf(values[2]);
    expect(topology.pointCount).toBe(50);
    for (let i = 0; i < 50; i++)
      expect(signedPlainly(flipped, positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2])).toBeLessThan(0);
  });

  test('what rides or is bound to a surface stays on its outside, by restPosition and by a wire', () => {
    const mirror = { scale: [-1, 1, 1] as const, translate: [2, 0, 1] as const };
    for (const by of ['stored', 'wire', 'stored in between', 'remembered after'] as const) {
      const middle = by === 'stored in between' || by === 'remembered after';
      const nodes = [
        node('ball', 'make-sphere', { inputs: { radius: 1 } }),
        node('first', 'transform', { inputs: middle ? { scale: [1, -1, 1] } : {} }),
        node('rest', 'remember-rest'),
        node('flip', 'transform', {
          inputs: by === 'remembered after' ? { translate: mirror.translate } : mirror,
        }),
        node('skin', 'make-sphere', { inputs: { radius: 1.2 } }),
        node('bind', 'surface-bind'),
        node('ride', 'ride-surface', { inputs: { place: [1.1, 0.2, 0.3] } }),
      ];
      const driver = by === 'wire' ? 'first' : 'rest';
      const wires = [
        'ball.mesh > first.mesh',
        'first.mesh > rest.mesh',
        `${driver}.mesh > flip.mesh`,
        'flip.mesh > bind.driver',
        'skin.mesh > bind.mesh',
        'flip.mesh > ride.mesh',
        ...(by === 'wire' ? ['first.mesh > bind.rest', 'first.mesh > ride.rest'] : []),
      ];
      const { values, words } = value(nodes, wires, ['bind.mesh', 'ride.matrix', 'ride.change', 'flip.mesh', 'skin.mesh']);
      expect(words).toEqual([]);
      const [bound, , , flipped, skin] = values.map((v) => (v?.form === 'geometry' ? v.mesh : (v as never)));
      const m = single(values[1]);
      // y of the frame leads out of the ball.
      const centre = [2, 0, 1];
      const out = [0, 1, 2].map((k) => m[12 + k] - centre[k]);
      expect(out[0] * m[4] + out[1] * m[5] + out[2] * m[6], by).toBeGreaterThan(0.9);
      const sign = by === 'remembered after' ? 1 : -1;
      for (let i = 0; i < skin.topology.pointCount; i++) {
        const p = skin.positions.subarray(i * 3, i * 3 + 3);
        const where = bound.positions.subarray(i * 3, i * 3 + 3);
        [sign * p[0] + 2, p[1], p[2] + 1].forEach((v, k) => expect(Math.abs(where[k] - v), by).toBeLessThan(0.03));
      }
      expect(volumeOf(flipped)).toBeGreaterThan(0);
    }
  });

  test('values on corners and edges of a mirrored object follow it', () => {
    const mesh = makeBox([2, 1, 1], [1, 1, 1]);
    const uv = Array.from(mesh.topology.cornerPoints).flatMap((p) => [p, -p]);
    const tagged = withAttribute(mesh, { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: Float32Array.from(uv) });
    const evaluator = new Evaluator(CATALOGUE);
    evaluator.setAsset('mesh', tagged);
    const fish = makeObject('twin', 'Twin', 'mesh', {
      mesh: 'mesh',
      channels: at([0, 0, 0], [0, 0, 0], [1, 1, -1]),
    });
    const p = project([graph([node('twin', 'scene-mesh', { settings: { object: 'twin' } })], [])], [0, 0, 0], [fish]);
    const found = meshOf(run(p, ['twin.mesh'], 1, evaluator).values[0]);
    const data = findAttribute(found, 'uv', 'corner')?.data as Float32Array;
    found.topology.cornerPoints.forEach((point, c) => expect([data[c * 2], data[c * 2 + 1]]).toEqual([point, -point]));
    const n = pointNormals(found);
    for (let o = 0; o < n.length; o++) expect(Math.sign(n[o])).toBe(Math.sign(found.positions[o]));
  });
});
