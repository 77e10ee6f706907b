import { tableToCsv } from '@umberfish/formats';
import { CATALOGUE } from './index.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findAttribute, makeMesh, type Mesh } from '../geometry/mesh.ts';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { pointNormals } from '../geometry/normals.ts';
import { fitOf } from '../geometry/replacing.ts';
import { moveValues } from '../geometry/spread.ts';
import { nodesActingOn } from '../graph/network/acts-on.ts';
import { compareTables } from '../graph/readouts/compare.ts';
import { problemWords } from '../graph/node/problems.ts';
import { makeTable, sortRows } from '../graph/readouts/table.ts';
import { compileGradient, readGradient, UMBER_GRADIENT } from '../maths/gradient.ts';
import { quaternionFromEuler, multiplyQuaternions } from '../maths/rotation.ts';
import { columnOf, evaluatorOf, graph, meshOf, node, project, runNode } from '../testing/build.ts';
import type { Value } from '../graph/node/values.ts';
import { makeObject } from '../project/kinds/index.ts';
import { type NodeRecord } from '../project/schema.ts';
import { growPoints, invertPoints, shrinkPoints } from '../scene/point-sets.ts';

const SOURCE = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
const names = (text: string) => ({
  names: text
    .split(' ')
    .filter(Boolean)
    .map((n) => ({ name: n.split(':')[0], type: (n.split(':')[1] ?? 'number') as 'number' })),
});
const formula = (id: string, text: string, outputs: string, inputs = '', on = 'point') =>
  node(id, 'formula', { settings: { formula: text, outputs: names(outputs), inputs: names(inputs), on } });

/** Evaluates nodes fed from the mesh; gives values by `node.port`, and all messages as words. */
function run(mesh: Mesh, nodes: NodeRecord[], wires: string[], wanted: string[], frame = 12) {
  const refs = wanted.map((w) => ({ node: w.split('.')[0], port: w.split('.')[1] }));
  const e = evaluatorOf(mesh).evaluate({
    project: project([graph([SOURCE, ...nodes], wires)]),
    frame,
    wanted: refs,
  });
  const words = [...e.reports.values()].flatMap((r) => r.problems.map(problemWords)).join(' ');
  return { values: refs.map((r) => e.value(r)), words };
}
const attribute = (v: Value | undefined, name: string, on: 'point' | 'face' | 'corner' | 'edge' = 'point') =>
  findAttribute(meshOf(v), name, on);

describe('Formula', () => {
  const mesh = makeSphere(1, 9, 12);

  test('writes what Remember Rest, Write Attribute and Move Points write', () => {
    const { values } = run(
      mesh,
      [
        formula('f', 'restPosition = position; restNormal = normal', 'restPosition:vector restNormal:vector'),
        node('rest', 'remember-rest'),
        formula('tint', 'colour = vector(1, index / count, 0)', 'colour:colour'),
        formula('column', 'result = vector(1, index / count, 0)', 'result:vector'),
        node('write', 'write-attribute', { settings: { name: 'colour', colour: true } }),
        formula('moved', 'position = position + 0.5 * normal', 'position:vector'),
        node('values', 'point-values'),
        node('half', 'arithmetic', { settings: { operation: 'multiply' }, inputs: { b: 0.5 } }),
        node('move', 'move-points'),
      ],
      [
        'in.mesh > f.mesh',
        'in.mesh > rest.mesh',
        'in.mesh > tint.mesh',
        'in.mesh > column.mesh',
        'in.mesh > write.mesh',
        'column.result > write.value',
        'in.mesh > moved.mesh',
        'in.mesh > values.mesh',
        'values.normals > half.a',
        'half.result > move.offset',
        'in.mesh > move.mesh',
      ],
      ['f.mesh', 'rest.mesh', 'tint.mesh', 'write.mesh', 'moved.mesh', 'move.mesh'],
    );
    const [f, rest, tint, write, moved, move] = values;
    expect(attribute(f, 'restPosition')).toEqual(attribute(rest, 'restPosition'));
    expect(attribute(f, 'restNormal')).toEqual(attribute(rest, 'restNormal'));
    expect(attribute(tint, 'colour')).toEqual(attribute(write, 'colour'));
    meshOf(move).positions.forEach((v, i) => expect(meshOf(moved).positions[i]).toBeCloseTo(v, 6));
    expect(meshOf(moved).topology).toBe(mesh.topology);
  });

  test('works on faces, corners and edges, with names moved there', () => {
    for (const on of ['face', 'corner', 'edge'] as const) {
      const { values } = run(
        mesh,
        [formula('f', 'mid = position; turn = index', 'mid:vector turn', '', on)],
        ['in.mesh > f.mesh'],
        ['f.mesh', 'f.mid'],
      );
      const expected = moveValues(mesh.topology, mesh.positions, 3, 'point', on);
      expect(attribute(values[0], 'mid', on)?.data).toEqual(expected);
      expect(attribute(values[0], 'turn', on)?.data[7]).toBe(7);
      expect(columnOf(values[1]).on).toBe(on);
    }
    const { values } = run(mesh, [formula('f', 'n = normal', 'n:vector', '', 'face')], ['in.mesh > f.mesh'], ['f.n']);
    const first = columnOf(values[0]).data.slice(0, 3);
    expect(Math.hypot(...first)).toBeCloseTo(1, 6);
  });

  test('takes several inputs, single or column, and is the same fused and alone', () => {
    const nodes = [
      node('values', 'point-values'),
      formula('a', 'far = length(p) * k\nside = p.x < 0', 'far side', 'p:vector k'),
      formula('b', 'far + side * sin(seconds)', 'result', 'far side'),
      node('double', 'arithmetic', { settings: { operation: 'multiply' }, inputs: { b: 2 } }),
    ];
    nodes[1] = { ...nodes[1], inputs: { k: 3 } };
    const wires = ['in.mesh > values.mesh', 'values.positions > a.p', 'a.far > b.far', 'a.side > b.side', 'b.result > double.a'];
    const p = project([graph([SOURCE, ...nodes], wires)]);
    const wanted = [{ node: 'double', port: 'result' }];
    const fused = evaluatorOf(mesh).evaluate({ project: p, frame: 30, wanted });
    const alone = evaluatorOf(mesh, { fuse: false }).evaluate({ project: p, frame: 30, wanted });
    expect(fused.reports.get('double')?.chained).toBe(2); // a does not change in time, so it keeps its columns
    expect(columnOf(fused.value(wanted[0])).data).toEqual(columnOf(alone.value(wanted[0])).data);
    const [x, y, z] = mesh.positions.subarray(15);
    const far = Math.fround(Math.fround(Math.hypot(x, y, z)) * 3);
    expect(columnOf(fused.value(wanted[0])).data[5]).toBeCloseTo(2 * (far + (x < 0 ? Math.sin(1.25) : 0)), 4);
    const single = runNode('formula', { settings: { formula: 'a * a', inputs: names('a') }, inputs: { a: 3 } }, ['result']);
    expect(single.values[0]).toMatchObject({ form: 'single', data: Float64Array.of(9) });
  });

  test('hands the mesh on and says what is wrong', () => {
    const bad = (text: string, outputs: string, on = 'point') => {
      const { values, words } = run(mesh, [formula('f', text, outputs, '', on)], ['in.mesh > f.mesh'], ['f.mesh']);
      expect(meshOf(values[0]).positions).toBe(mesh.positions);
      return words;
    };
    expect(bad('result = restPositon.x', 'result')).toContain('The formula has the unknown name "restPositon"');
    expect(bad('position = position * 2', 'position:vector', 'face')).toContain('which only points have');
    const { words } = run(mesh, [formula('f', '1 / (index - 3)', 'result')], ['in.mesh > f.mesh'], ['f.result']);
    expect(words).toContain('is not a finite number');
  });
});

test('edges asked of loose points, and attributes of the wrong numbers, are refused in a sentence', () => {
  const loose = makeMesh(new Float32Array(9), Int32Array.of(0), new Int32Array(0));
  for (const n of [
    node('f', 'formula', { settings: { formula: 'index', on: 'edge' } }),
    node('f', 'write-attribute', { settings: { name: 'a', on: 'edge' } }),
  ])
    expect(run(loose, [n], ['in.mesh > f.mesh'], ['f.mesh']).words).toContain('The mesh has points but no edges');
  const attribute = (type: 'integer' | 'number', data: Float32Array | Int32Array) => () =>
    makeMesh(new Float32Array(9), Int32Array.of(0), new Int32Array(0), {
      attributes: [{ name: 'a', on: 'point', type, role: 'plain', data }],
    });
  expect(attribute('integer', new Float32Array(3))).toThrow('"a" is integer, which is kept as int32, but float32');
  expect(attribute('number', new Float32Array(4))).toThrow('"a" has 4 numbers; number on point needs 3');
});

describe('attributes in colour and from elsewhere', () => {
  test('gradients are straight between stops and constant beyond', () => {
    const read = (at: number, gradient = UMBER_GRADIENT) => {
      const out = new Float32Array(3);
      readGradient(out, 0, compileGradient(gradient), at);
      return [...out];
    };
    expect(read(-3)).toEqual(read(0));
    expect(read(1.2)).toEqual(read(1));
    const half = read(1 / 6);
    [0.83, 0.6, 0.39].forEach((v, i) => expect(half[i]).toBeCloseTo(v, 6));
    const hard = {
      stops: [
        { at: 0.5, colour: [1, 0, 0] as const },
        { at: 0.5, colour: [0, 0, 1] as const },
      ],
    };
    expect([read(0.499, hard), read(0.5, hard)]).toEqual([
      [1, 0, 0],
      [0, 0, 1],
    ]);
    expect(read(NaN)[0]).toBeNaN();
  });

  test('Colour By paints an attribute or what is connected', () => {
    const mesh = makeGrid([2, 2], [4, 4]);
    const nodes = [
      formula('f', 'height = position.x', 'height'),
      node('paint', 'colour-by', { settings: { name: 'height' }, inputs: { from: -1, to: 1 } }),
      node('wired', 'colour-by', { inputs: { from: -1, to: 1 } }),
      node('none', 'colour-by', { settings: { name: 'heigth' } }),
    ];
    const wires = [
      'in.mesh > f.mesh',
      'f.mesh > paint.mesh',
      'in.mesh > wired.mesh',
      'f.height > wired.value',
      'f.mesh > none.mesh',
    ];
    const { values, words } = run(mesh, nodes, wires, ['paint.mesh', 'wired.mesh', 'none.mesh']);
    const paint = attribute(values[0], 'colour');
    expect(paint).toMatchObject({ type: 'colour', on: 'point' });
    expect(paint?.data).toEqual(attribute(values[1], 'colour')?.data);
    const at = (mesh.positions[0] + 1) / 2;
    const out = new Float32Array(3);
    readGradient(out, 0, compileGradient(UMBER_GRADIENT), at);
    expect([...(paint?.data.slice(0, 3) ?? [])]).toEqual([...out]);
    expect(words).toContain('Did you mean "height"?');
  });

  test('Carry Attribute by number, and from the nearest point as brute force finds it', () => {
    const mesh = makeGrid([2, 2], [3, 3]);
    const nodes = [
      formula('f', 'height = index', 'height'),
      node('carry', 'carry-attribute', { settings: { name: 'height', as: 'was' } }),
      node('flip', 'transform', { inputs: { rotate: [0, 180, 0] } }),
      node('near', 'carry-attribute', { settings: { name: 'height', by: 'nearest' } }),
    ];
    const wires = [
      'in.mesh > f.mesh',
      'in.mesh > carry.mesh',
      'f.mesh > carry.source',
      'in.mesh > flip.mesh',
      'flip.mesh > near.mesh',
      'f.mesh > near.source',
    ];
    const { values } = run(mesh, nodes, wires, ['carry.mesh', 'near.mesh', 'flip.mesh']);
    expect([...(attribute(values[0], 'was')?.data ?? [])]).toEqual(Array.from({ length: 16 }, (_, i) => i));
    expect(attribute(values[0], 'height')).toBeUndefined();
    // Turned half round, the first point finds the last.
    expect(meshOf(values[2]).positions[0]).toBeCloseTo(-mesh.positions[0], 5);
    expect(attribute(values[1], 'height')?.data[0]).toBe(15);
  });

  test('Carry Attribute from the nearest place on the surface is straight between corners', () => {
    const mesh = makeGrid([2, 2], [3, 3]);
    const nodes = [
      formula('f', 'ramp = 3 * position.x + position.z', 'ramp'),
      node('fine', 'make-grid', { inputs: { width: 1.6, depth: 1.6, columns: 11, rows: 7 } }),
      node('lift', 'transform', { inputs: { translate: [0, 0.4, 0] } }),
      node('carry', 'carry-attribute', { settings: { name: 'ramp', by: 'surface' } }),
    ];
    const wires = ['in.mesh > f.mesh', 'fine.mesh > lift.mesh', 'lift.mesh > carry.mesh', 'f.mesh > carry.source'];
    const { values, words } = run(mesh, nodes, wires, ['carry.mesh']);
    expect(words).toBe('');
    const found = meshOf(values[0]);
    const ramp = attribute(values[0], 'ramp')?.data ?? [];
    expect(ramp.length).toBeGreaterThan(50);
    for (let i = 0; i < ramp.length; i++) expect(ramp[i]).toBeCloseTo(3 * found.positions[i * 3] + found.positions[i * 3 + 2], 5);
  });

  test('Turn Angles composes rotations; adding keeps whole revolutions', () => {
    const turn = (first: number[], then: number[], settings = {}) => {
      const v = runNode('turn-angles', { inputs: { first: first as never, then: then as never }, settings }, ['angles'])
        .values[0];
      return v?.form === 'single' ? [...v.data] : [];
    };
    expect(turn([350, 0, 0], [20, 0, 0], { how: 'add' })).toEqual([370, 0, 0]);
    const back = turn([10, 20, 30], [0, 90, 0]).map((d) => (d * Math.PI) / 180) as [number, number, number];
    const expected = multiplyQuaternions(
      quaternionFromEuler([0, Math.PI / 2, 0], 'xyz'),
      quaternionFromEuler([10, 20, 30].map((d) => (d * Math.PI) / 180) as [number, number, number], 'xyz'),
    );
    const found = quaternionFromEuler(back, 'xyz');
    const same = Math.abs(found.reduce((sum, v, i) => sum + v * expected[i], 0));
    expect(same).toBeCloseTo(1, 6);
  });

  test('Hand Offsets move their points, by weight, and tell when the mesh has changed', () => {
    const mesh = makeGrid([1, 1], [1, 1]);
    const offsets = { points: 4, index: [1, 3], moves: [0, 1, 0, 0, 0, 2] };
    const hand = (extra: object) => run(mesh, [node('h', 'hand-offsets', extra)], ['in.mesh > h.mesh'], ['h.mesh']);
    const moved = meshOf(hand({ settings: { offsets }, inputs: { weight: 0.5 } }).values[0]).positions;
    expect([moved[4] - mesh.positions[4], moved[11] - mesh.positions[11], moved[0]]).toEqual([0.5, 1, mesh.positions[0]]);
    expect(hand({ settings: { offsets: { ...offsets, points: 9, index: [1, 7] } } }).words).toContain(
      'were made on a mesh of 9 points; this one has 4. 1 of them has no point any more.',
    );
  });

  test('point sets are yes-or-no attributes of the scene mesh', () => {
    const mesh = makeGrid([1, 1], [2, 2]);
    const base = project([
      graph([SOURCE, node('read', 'read-attribute', { settings: { name: 'rim' } })], ['in.mesh > read.mesh']),
    ]);
    const withSet = (points: number[]) => ({
      ...base,
      objects: base.objects.map((o) => (o.id === 'fish' ? { ...o, sets: [{ name: 'rim', points }] } : o)),
    });
    const evaluator = evaluatorOf(mesh);
    const wanted = [{ node: 'read', port: 'values' }];
    const first = columnOf(evaluator.evaluate({ project: withSet([0, 4, 99]), frame: 1, wanted }).value(wanted[0]));
    expect([...first.data]).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 0]);
    const second = columnOf(evaluator.evaluate({ project: withSet([8]), frame: 1, wanted }).value(wanted[0]));
    expect(second.data[8]).toBe(1);
    // As a weight, only its points move.
    const moving = {
      ...withSet([0, 4]),
      graphs: [
        graph(
          [
            SOURCE,
            node('read', 'read-attribute', { settings: { name: 'rim' } }),
            node('move', 'move-points', { inputs: { offset: [0, 1, 0] } }),
          ],
          ['in.mesh > read.mesh', 'in.mesh > move.mesh', 'read.values > move.weight'],
        ),
      ],
    };
    const out = { node: 'move', port: 'mesh' };
    const moved = meshOf(evaluator.evaluate({ project: moving, frame: 1, wanted: [out] }).value(out));
    const lifted = Array.from({ length: 9 }, (_, i) => moved.positions[i * 3 + 1] - mesh.positions[i * 3 + 1]);
    expect(lifted).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 0]);
  });
});

test('two tables are compared row by row; one switch leaves only what changed', () => {
  const mesh = makeGrid([1, 1], [2, 2]);
  const moved = { ...mesh, positions: mesh.positions.map((v, i) => (i === 13 ? v + 2 : v)) };
  const table = (m: Mesh) => makeTable({ form: 'geometry', kind: 'mesh', mesh: m }, 'mesh', 'm', 'point', undefined);
  const c = compareTables(table(mesh), table(moved));
  expect(c.columns.slice(0, 9).map((x) => x.part)).toEqual([
    'x A',
    'x B',
    'x B − A',
    'y A',
    'y B',
    'y B − A',
    'z A',
    'z B',
    'z B − A',
  ]);
  expect([...c.changed]).toEqual([4]);
  expect(c.columns[5].data[4]).toBe(2);
  expect(sortRows(c, 5, true)[0]).toBe(4);
  expect(tableToCsv(c, c.changed).split('\n')).toHaveLength(3);
  const grown = compareTables(table(mesh), table(makeGrid([1, 1], [3, 3])));
  expect([grown.rows, grown.unpaired]).toEqual([9, 7]);
  expect(pointNormals(mesh).length).toBe(27);
});

describe('what acts on a mesh', () => {
  test('is listed in order, across graphs, measuring left out', () => {
    const first = graph(
      [
        SOURCE,
        node('values', 'point-values'),
        node('bend', 'twist'),
        node('show', 'show-mesh', { settings: { object: 'fish' } }),
      ],
      ['in.mesh > values.mesh', 'in.mesh > bend.mesh', 'bend.mesh > show.mesh'],
      'one',
    );
    const second = graph(
      [
        node('again', 'scene-mesh', { settings: { object: 'fish', read: 'result' } }),
        node('soft', 'smooth'),
        node('show2', 'show-mesh', { settings: { object: 'other' } }),
      ],
      ['again.mesh > soft.mesh', 'soft.mesh > show2.mesh'],
      'two',
    );
    const p = project([first, second], [0, 0, 0], [makeObject('other', 'Other', 'mesh')]);
    expect(nodesActingOn(CATALOGUE, p, 'fish').map((n) => n.record.id)).toEqual(['in', 'bend', 'show']);
    expect(nodesActingOn(CATALOGUE, p, 'other').map((n) => n.record.id)).toEqual([
      'in',
      'bend',
      'show',
      'again',
      'soft',
      'show2',
    ]);
    expect(nodesActingOn(CATALOGUE, p, 'here')).toEqual([]);
  });

  test('a new version of a mesh tells whether it fits', () => {
    const mesh = makeGrid([1, 1], [2, 2]);
    const moved = { ...mesh, positions: mesh.positions.map((v, i) => (i < 3 ? v + 1 : v)) };
    expect(fitOf(mesh, moved)).toMatchObject({ sameOrder: true, moved: 1, points: { before: 9, after: 9 } });
    expect(fitOf(mesh, makeGrid([1, 1], [3, 2]))).toMatchObject({ sameOrder: false, points: { after: 12 } });
  });

  test('sets of points grow and shrink along edges', () => {
    const { topology } = makeGrid([1, 1], [4, 4]);
    const middle = growPoints(topology, [12]);
    expect(middle).toEqual([7, 11, 12, 13, 17]);
    expect(shrinkPoints(topology, middle)).toEqual([12]);
    expect(invertPoints(topology, middle)).toHaveLength(20);
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 24 })), (points) => {
        const grown = growPoints(topology, points);
        expect(
          shrinkPoints(topology, grown)
            .filter((p) => points.includes(p))
            .sort((a, b) => a - b),
        ).toEqual([...points].sort((a, b) => a - b));
      }),
    );
  });
});

test('500 frames of a 200,000-point graph stay within the budget, and what is kept plays again without computing', () => {
  const budget = 6e7;
  const evaluator = evaluatorOf(makeGrid([8, 8], [446, 446]), { cacheInBytes: budget });
  const p = project([
    graph(
      [
        SOURCE,
        node('wave', 'formula', {
          settings: { formula: 'position.y = 0.1 * sin(position.x + seconds)', outputs: names('position:vector') },
        }),
      ],
      ['in.mesh > wave.mesh'],
    ),
  ]);
  const wanted = [{ node: 'wave', port: 'mesh' }];
  let most = 0;
  for (let frame = 1; frame <= 500; frame++) {
    evaluator.evaluate({ project: p, frame, wanted });
    most = Math.max(most, evaluator.keptBytes);
  }
  expect(most).toBeLessThanOrEqual(budget);
  expect(most).toBeGreaterThan(budget / 2);
  const isKept = (frame: number, project_ = p) => evaluator.isKept({ project: project_, frame, wanted });
  expect([isKept(500), isKept(480), isKept(1)]).toEqual([true, true, false]);
  expect(evaluator.evaluate({ project: p, frame: 490, wanted }).computed).toEqual([]);
  const moved = { ...p, objects: p.objects.map((o) => (o.id === 'here' ? { ...o, name: 'There' } : o)) };
  expect(isKept(500, moved)).toBe(true);
  const edited = {
    ...p,
    graphs: p.graphs.map((g) => ({
      ...g,
      nodes: g.nodes.map((n) => (n.id === 'wave' ? { ...n, settings: { ...n.settings, formula: 'position.y = seconds' } } : n)),
    })),
  };
  expect(isKept(500, edited)).toBe(false);
  evaluator.setBudget(1e7);
  expect(evaluator.keptBytes).toBeLessThanOrEqual(1e7);
});
