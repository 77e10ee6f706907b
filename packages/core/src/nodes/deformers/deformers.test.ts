import { CATALOGUE } from '../index.ts';
import { expect, test } from 'vitest';
import { makeGrid } from '../../geometry/primitives.ts';
import { makeBox, makeTube } from '../../geometry/solids.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { graph, meshOf, node, project, runNode, type NodeParts } from '../../testing/build.ts';
import { Evaluator } from '../../graph/evaluate/evaluator.ts';

/** Simple deformers against what they are by definition. */

const rod = makeBox([0.2, 4, 0.2], [1, 40, 1]);
const run = (type: string, parts: NodeParts, mesh: Mesh = rod) =>
  meshOf(runNode(type, parts, ['mesh'], mesh).values[0]).positions;
const at = (p: ArrayLike<number>, i: number) => [p[i * 3], p[i * 3 + 1], p[i * 3 + 2]];
const count = rod.topology.pointCount;

test('a bend of a quarter turn puts every point on its circle', () => {
  const out = run('bend', { inputs: { angle: 90 }, settings: { axis: 'y', towards: 'first' } });
  const radius = 4 / (Math.PI / 2);
  for (let i = 0; i < count; i++) {
    const [, h, d] = at(rod.positions, i);
    const [x, y, z] = at(out, i);
    // From y towards z: the centre of the circle is at y = -2, z = radius.
    expect(Math.hypot(y + 2, z - radius)).toBeCloseTo(radius - d, 4);
    expect(Math.atan2(y + 2, radius - z)).toBeCloseTo((h + 2) / radius, 4);
    expect(x).toBeCloseTo(rod.positions[i * 3], 6);
  }
});

test('a taper sizes cross-sections straight from one end to the other', () => {
  const out = run('taper', { inputs: { start: 1, end: 0.5 } });
  for (let i = 0; i < count; i++) {
    const [x, y] = at(rod.positions, i);
    expect(out[i * 3]).toBeCloseTo(x * (1 - 0.5 * ((y + 2) / 4)), 5);
    expect(out[i * 3 + 1]).toBeCloseTo(y, 6);
  }
});

test('a bulge is as high as it says in the middle and ends at its radius; rings travel at their speed', () => {
  const flat: NodeParts['settings'] = {
    response: { points: [0, 1].map((t) => ({ at: t, value: 1 - t, in: [0, 0], out: [0, 0], shape: 'straight' })), invert: false },
  };
  const up = (type: string, inputs: NodeParts['inputs'], settings = {}) => {
    const evaluator = new Evaluator(CATALOGUE);
    const nodes = [
      node('grid', 'make-grid', { inputs: { width: 4, depth: 4, cellsX: 40, cellsZ: 40 } }),
      node('it', type, { inputs, settings }),
    ];
    const ref = { node: 'it', port: 'mesh' };
    return meshOf(
      evaluator.evaluate({ project: project([graph(nodes, ['grid.mesh > it.mesh'])]), frame: 1, wanted: [ref] }).value(ref),
    ).positions;
  };
  const bump = up('bulge', { radius: 1, height: 0.3 }, flat);
  const wave = up('ring-waves', { height: 0.2, wavelength: 0.8, speed: 0.5, reach: 1.5, time: 0.7 });
  for (let i = 0; i < bump.length; i += 3) {
    const d = Math.hypot(bump[i], bump[i + 2]);
    expect(bump[i + 1]).toBeCloseTo(0.3 * Math.max(0, 1 - d), 5);
    const left = Math.max(0, 1 - d / 1.5) ** 2;
    expect(wave[i + 1]).toBeCloseTo(0.2 * left * Math.cos(((2 * Math.PI) / 0.8) * (d - 0.35)), 5);
  }
});

test('where a deformer reaches is a falloff: full in the middle, nothing from its end on, nothing without a size', () => {
  const weights = (type: string, inputs: NodeParts['inputs']) => {
    const evaluator = new Evaluator(CATALOGUE);
    const nodes = [
      node('line', 'make-grid', { inputs: { width: 4, depth: 0.1, cellsX: 40, cellsZ: 1 } }),
      node('it', type, { inputs }),
      node('weigh', 'weigh-points'),
    ];
    const wires = ['line.mesh > it.mesh', 'line.mesh > weigh.geometry', 'it.within > weigh.falloff'];
    const ref = { node: 'weigh', port: 'weights' };
    const value = evaluator.evaluate({ project: project([graph(nodes, wires)]), frame: 1, wanted: [ref] }).value(ref);
    return value?.form === 'column' ? value.data : new Float32Array();
  };
  const places = makeGrid([4, 0.1], [40, 1]).positions;
  for (const [type, port] of [
    ['bulge', 'radius'],
    ['ring-waves', 'reach'],
  ]) {
    const found = weights(type, { centre: [0.5, 0, 0], [port]: 1.2 });
    expect(found.length).toBe(places.length / 3);
    found.forEach((w, i) => {
      const d = Math.hypot(places[i * 3] - 0.5, places[i * 3 + 1], places[i * 3 + 2]);
      expect(w).toBeCloseTo(Math.max(0, 1 - d / 1.2), 5);
    });
    for (const size of [0, -1]) expect(weights(type, { [port]: size }).every((w) => w === 0)).toBe(true);
  }
});

/** A tube shaped by a line that leaves the axis from 0.2 to 0.6. */
function profiled(settings: NodeParts['settings']): ArrayLike<number> {
  const evaluator = new Evaluator(CATALOGUE);
  const nodes = [
    node('tube', 'make-tube', { inputs: { radius: 0.5, height: 2, rings: 10, sides: 12 } }),
    node('line', 'make-line', { inputs: { from: [0.2, 0, 0], to: [0.6, 2, 0] } }),
    node('it', 'profile-shape', { settings }),
  ];
  const wires = ['tube.mesh > it.mesh', 'line.curves > it.curves'];
  const ref = { node: 'it', port: 'mesh' };
  return meshOf(evaluator.evaluate({ project: project([graph(nodes, wires)]), frame: 1, wanted: [ref] }).value(ref)).positions;
}

test('Profile Shape gives rings the distance of the curve, flipped from its other end, on one axis only', () => {
  const tube = makeTube(0.5, 2, 10, 12, true).positions;
  const plain = profiled({});
  const flipped = profiled({ flip: true });
  const first = profiled({ across: 'first' });
  for (let i = 0; i < tube.length; i += 3) {
    const t = tube[i + 1] / 2;
    expect(Math.hypot(plain[i], plain[i + 2])).toBeCloseTo(0.2 + 0.4 * t, 4);
    expect(Math.hypot(flipped[i], flipped[i + 2])).toBeCloseTo(0.6 - 0.4 * t, 4);
    // Round y, the first axis across is z.
    expect(first[i]).toBeCloseTo(tube[i], 6);
    expect(first[i + 2]).toBeCloseTo((tube[i + 2] / 0.5) * (0.2 + 0.4 * t), 4);
  }
});

test('a thing that follows a ring is on it, its x along it, square and of size 1; Curve Point agrees', () => {
  const evaluator = new Evaluator(CATALOGUE);
  const nodes = [
    node('ring', 'make-ring', { inputs: { radius: 2, points: 8 } }),
    node('go', 'follow-curve', { inputs: { fraction: 1.3 } }),
    node('point', 'curve-point', { inputs: { at: 0.3 } }),
  ];
  const wires = ['ring.curves > go.curves', 'ring.curves > point.curves'];
  const refs = [
    ['go', 'matrix'],
    ['point', 'position'],
    ['point', 'tangent'],
  ].map(([n, port]) => ({ node: n, port }));
  const evaluation = evaluator.evaluate({ project: project([graph(nodes, wires)]), frame: 1, wanted: refs });
  const [m, position, tangent] = refs.map((r) => {
    const v = evaluation.value(r);
    return v?.form === 'single' ? Array.from(v.data) : [];
  });
  const column = (c: number) => m.slice(c * 4, c * 4 + 3);
  const dot = (a: number[], b: number[]) => a.reduce((s, v, i) => s + v * b[i], 0);
  expect(Math.hypot(m[12], m[14])).toBeCloseTo(2, 4);
  for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) expect(dot(column(a), column(b))).toBeCloseTo(a === b ? 1 : 0, 6);
  expect(dot(column(0), m.slice(12, 15))).toBeCloseTo(0, 3);
  position.forEach((v, i) => expect(v).toBeCloseTo(m[12 + i], 5));
  tangent.forEach((v, i) => expect(v).toBeCloseTo(m[i], 5));
});
