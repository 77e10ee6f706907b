import { CATALOGUE } from './index.ts';
import { describe, expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { makeMesh } from '../geometry/mesh.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { problemWords } from '../graph/node/problems.ts';
import { type CurveRecord } from '../project/fields.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { columnOf, graph, meshOf, node, project } from '../testing/build.ts';
import { controlPoint } from '../curves/edit-record.ts';
import { grouped } from '../words.ts';

/** Nodes of curves, nearness, falloffs and copies, through the evaluator. */

const ball = makeSphere(1, 12, 16);
const line: CurveRecord = {
  splines: [
    {
      type: 'poly',
      closed: false,
      points: [
        [0, 0, 0],
        [4, 0, 0],
      ].map((p) => controlPoint(p as [number, number, number])),
    },
  ],
};
const channels = (translate: [number, number, number], scale: [number, number, number] = [1, 1, 1]) => ({
  translate,
  rotate: [0, 0, 0] as const,
  order: 'xyz' as const,
  scale,
});

/** Evaluates outputs of a graph over the ball `fish`, the locator `here` and whatever else is in the scene. */
function run(nodes: Parameters<typeof graph>[0], wires: string[], wanted: string[], extra: ObjectRecord[] = [], mesh = ball) {
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('mesh', mesh);
  const p: Project = project([graph(nodes, wires)], [0, 0, 0], extra);
  const refs = wanted.map((w) => ({ node: w.split('.')[0], port: w.split('.')[1] }));
  const evaluation = evaluator.evaluate({ project: p, frame: 1, wanted: refs });
  const words = [...evaluation.reports.values()].flatMap((r) => r.problems.map(problemWords));
  return { values: refs.map((r) => evaluation.value(r)), words, evaluation };
}

const IN = node('in', 'scene-mesh', { settings: { object: 'fish' } });
const curveObject = (curve: CurveRecord | null) => makeObject('line', 'Line', 'curve', curve ? { curve } : {});
const CURVE = node('curve', 'scene-curve', { settings: { object: 'line' } });

describe('a falloff in the place of a weight', () => {
  const wires = ['in.mesh > move.mesh', 'fall.falloff > move.weight', 'in.mesh > weigh.geometry', 'fall.falloff > weigh.falloff'];
  const nodes = [
    IN,
    node('fall', 'shape-falloff', { settings: { object: 'here' }, inputs: { inner: 0, outer: 1.2 } }),
    node('move', 'move-points', { inputs: { offset: [0, 1, 0] } }),
    node('weigh', 'weigh-points'),
  ];

  test('weighs the points that come in, in a fused node as in any other', () => {
    const { values, words } = run(nodes, wires, ['move.mesh', 'weigh.weights']);
    const weights = columnOf(values[1]).data;
    const { positions } = meshOf(values[0]);
    weights.forEach((w, i) => expect(positions[i * 3 + 1]).toBeCloseTo(ball.positions[i * 3 + 1] + w, 5));
    expect(Math.max(...weights)).toBeGreaterThan(0.05);
    expect(words).toEqual([]);
  });

  test('is bound to copies, edges and groups alike', () => {
    const group = makeObject('crates', 'Crates', 'group', { channels: channels([0, 0, 0]) });
    const crates = [0, 0.5, 3].map((x, i) =>
      makeObject(`c${i}`, `C${i}`, 'mesh', { parent: 'crates', mesh: 'mesh', channels: channels([x, 0, 0]) }),
    );
    const { values, words } = run(
      [
        node('fall', 'shape-falloff', { inputs: { inner: 1, outer: 2 } }),
        node('drive', 'drive-group', { settings: { object: 'crates' }, inputs: { move: [0, 2, 0] } }),
        node('read', 'scene-group', { settings: { object: 'crates' } }),
        node('places', 'point-values'),
      ],
      ['fall.falloff > drive.weight', 'read.copies > places.mesh'],
      ['places.positions'],
      [group, ...crates],
    );
    const p = columnOf(values[0]);
    expect(p.on).toBe('copy');
    expect([p.data[1], p.data[4], p.data[7]]).toEqual([2, 2, 0]);
    expect(words).toEqual([]);
  });
});

test('copies become points where a node needs them, and its card says so', () => {
  const { values, words } = run(
    [
      IN,
      node('dot', 'make-sphere', { inputs: { radius: 0.1, rings: 4, segments: 5 } }),
      node('place', 'place-copies'),
      node('smooth', 'smooth'),
      node('edit', 'edit-copies', { inputs: { scale: 2, colour: [1, 0, 0] } }),
      node('where', 'point-values'),
    ],
    [
      'in.mesh > place.points',
      'dot.mesh > place.a',
      'place.copies > edit.copies',
      'edit.copies > smooth.mesh',
      'edit.copies > where.mesh',
    ],
    ['smooth.mesh', 'where.positions'],
  );
  const count = ball.topology.pointCount;
  expect(meshOf(values[0]).topology.pointCount).toBe(count * 17);
  expect(columnOf(values[1]).data).toEqual(ball.positions);
  expect(words).toEqual([`This node needs points, so ${count} copies were made ${grouped(count * 17)} points.`]);
});

test('nearest: on faces, edges and points, signed, within a radius, of one place or a column', () => {
  const query = (on: string, within = 0) => node('near', 'nearest', { settings: { on, normals: 'face' }, inputs: { within } });
  const values = (n: ReturnType<typeof query>, port: string) =>
    run(
      [IN, node('at', 'vector', { inputs: { value: [3, 0, 0] } }), n],
      ['in.mesh > near.target', 'at.vector > near.positions'],
      [`near.${port}`],
    ).values[0];
  const number = (v: ReturnType<typeof values>) => (v?.form === 'single' ? v.data[0] : NaN);
  expect(number(values(query('points'), 'distance'))).toBeCloseTo(2, 6);
  expect(number(values(query('faces'), 'signed'))).toBeCloseTo(2, 6);
  expect(number(values(query('faces', 1), 'index'))).toBe(-1);
  expect(number(values(query('edges'), 'distance'))).toBeCloseTo(2, 6);
  const own = run(
    [IN, node('v', 'point-values'), query('faces')],
    ['in.mesh > near.target', 'in.mesh > v.mesh', 'v.positions > near.positions'],
    ['near.distance'],
  ).values[0];
  expect(Math.max(...columnOf(own).data)).toBeLessThan(1e-6);
});

test('a curve settles on a surface at its clearance, and a rope swept along it is closed', () => {
  const { values } = run(
    [
      IN,
      node('ring', 'make-ring', { inputs: { radius: 3, points: 12 } }),
      node('settle', 'settle-on-surface', { inputs: { clearance: 0.25 } }),
      node('sweep', 'sweep-profile', { inputs: { strands: 3, turns: 5.3 } }),
    ],
    ['ring.curves > settle.geometry', 'in.mesh > settle.target', 'settle.geometry > sweep.curves'],
    ['settle.geometry', 'sweep.mesh'],
  );
  const curves = values[0]?.form === 'curves' ? values[0].curves : undefined;
  for (let i = 0; i < 12; i++) {
    const [x, y, z] = curves!.positions.slice(i * 3, i * 3 + 3);
    expect(Math.hypot(x, y, z)).toBeCloseTo(1.25, 1);
  }
  expect(meshOf(values[1]).topology.faceCount).toBe(3 * 8 * 12 * 16);
});

describe('bad input is one sentence at the node, and the rest goes on', () => {
  const open = makeMesh(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), Int32Array.of(0, 3), Int32Array.of(0, 1, 2));
  const loose = makeMesh(Float32Array.of(0, 0, 0, 1, 0, 0), Int32Array.of(0), new Int32Array(0));
  const HERE0 = makeObject('flat', 'Flat', 'locator', { channels: channels([0, 0, 0], [1, 0, 1]) });
  const V = node('v', 'vector');
  const cases: [string, Parameters<typeof graph>[0], string[], string, ObjectRecord[], typeof ball, RegExp][] = [
    [
      'inside of an open mesh',
      [IN, node('x', 'scatter-points', { settings: { where: 'inside' } })],
      ['in.mesh > x.mesh'],
      'x.mesh',
      [],
      open,
      /is open somewhere/,
    ],
    [
      'signed distance to an open mesh',
      [IN, V, node('x', 'nearest')],
      ['in.mesh > x.target', 'v.vector > x.positions'],
      'x.signed',
      [],
      open,
      /is open somewhere/,
    ],
    [
      'an empty group',
      [node('x', 'scene-group', { settings: { object: 'g' } })],
      [],
      'x.mesh',
      [makeObject('g', 'Rafts', 'group')],
      ball,
      /"Rafts" has nothing under it/,
    ],
    [
      'a curve of one point',
      [IN, CURVE, node('x', 'lay-along-curve')],
      ['in.mesh > x.mesh', 'curve.curves > x.curves'],
      'x.mesh',
      [curveObject({ splines: [{ ...line.splines[0], points: [line.splines[0].points[0]] }] })],
      ball,
      /needs a curve with a length/,
    ],
    ['a curve without points', [CURVE], [], 'curve.curves', [curveObject(null)], ball, /"Line" has no curve/],
    [
      'near to nothing',
      [IN, V, node('x', 'nearest')],
      ['in.mesh > x.target', 'v.vector > x.positions'],
      'x.distance',
      [],
      loose,
      /nothing to be near to/,
    ],
    [
      'a radius of 0',
      [CURVE, node('x', 'sweep-profile', { inputs: { radius: 0 } })],
      ['curve.curves > x.curves'],
      'x.mesh',
      [curveObject(line)],
      ball,
      /no thickness/,
    ],
    [
      'no radius above 0',
      [IN, node('x', 'skin-over-points', { inputs: { radius: -1 } })],
      ['in.mesh > x.points'],
      'x.mesh',
      [],
      ball,
      /No radius is above 0/,
    ],
    [
      'a locator without a size',
      [IN, node('x', 'shape-falloff', { settings: { object: 'flat' } })],
      [],
      'x.falloff',
      [HERE0],
      ball,
      /size of 0/,
    ],
    [
      'a million copies and one',
      [node('grid', 'make-grid', { inputs: { cellsX: 1100, cellsZ: 1000 } }), node('x', 'place-copies')],
      ['grid.mesh > x.points', 'grid.mesh > x.a'],
      'x.copies',
      [],
      ball,
      /the most is 1\u202f000\u202f000/,
    ],
    [
      'an open cage',
      [IN, node('grid', 'make-grid'), node('x', 'cage')],
      ['in.mesh > x.mesh', 'grid.mesh > x.cage', 'grid.mesh > x.rest'],
      'x.mesh',
      [],
      ball,
      /is open somewhere/,
    ],
    [
      'edges of loose points',
      [IN, node('x', 'edges-to-curves')],
      ['in.mesh > x.mesh'],
      'x.curves',
      [],
      loose,
      /has points but no edges/,
    ],
    [
      'a spacing of 0',
      [CURVE, node('x', 'respace-curve', { settings: { by: 'spacing' }, inputs: { spacing: 0 } })],
      ['curve.curves > x.curves'],
      'x.curves',
      [curveObject(line)],
      ball,
      /Give it more than 0/,
    ],
    [
      'turns that do not close',
      [node('ring', 'make-ring'), node('x', 'sweep-profile', { inputs: { turns: 2.4 } })],
      ['ring.curves > x.curves'],
      'x.mesh',
      [],
      ball,
      /only after whole turns/,
    ],
  ];
  for (const [name, nodes, wires, wanted, extra, mesh, words] of cases) {
    test(name, () => {
      const found = run(nodes, wires, [wanted], extra, mesh).words;
      expect(found).toHaveLength(1);
      expect(found[0]).toMatch(words);
    });
  }
});
