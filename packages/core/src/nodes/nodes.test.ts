import { describe, expect, test } from 'vitest';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { fractalNoise3, fractalNoise4, makeNoise } from '../maths/noise.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { node, runNode, type NodeParts } from '../testing/build.ts';
import { NODES } from './index.ts';

/** The numbers of an output of a node with typed inputs. */
function output(type: string, parts: NodeParts, port = 'result'): number[] {
  const { values, evaluation } = runNode(type, parts, [port]);
  const v = values[0];
  if (v?.form !== 'single') throw new Error(JSON.stringify([...evaluation.reports.values()]));
  return Array.from(v.data);
}
const near = (actual: number[], expected: number[]) => {
  expect(actual.length).toBe(expected.length);
  expected.forEach((v, i) => expect(actual[i]).toBeCloseTo(v, 5));
};

describe('definitions', () => {
  test('every node explains itself: ids, help, ranges, sentences', () => {
    expect(new Set(NODES.map((n) => n.id)).size).toBe(NODES.length);
    for (const d of NODES) {
      expect(d.id).toMatch(/^[a-z]+(-[a-z]+)*$/);
      expect(d.summary.endsWith('.')).toBe(true);
      const settings = settingsOf(d, node('x', d.id));
      for (const port of [...d.inputs(settings), ...d.outputs(settings)])
        expect(port.help.endsWith('.'), `${d.id}.${port.id}`).toBe(true);
      for (const s of d.settings) expect(s.help.endsWith('.'), `${d.id}.${s.id}`).toBe(true);
      expect(
        d.sentence(settings, { objectName: () => undefined, typed: () => undefined, connected: () => false }).length,
      ).toBeGreaterThan(0);
      expect(d.evaluate !== undefined || d.elements !== undefined).toBe(true);
      for (const [out, into] of Object.entries(d.passes ?? {})) {
        expect(d.outputs(settings).some((o) => o.id === out)).toBe(true);
        expect(d.inputs(settings).some((i) => i.id === into)).toBe(true);
      }
    }
  });
});

describe('maths nodes against closed forms', () => {
  test('Arithmetic: every operation, numbers and vectors, lists of operands', () => {
    const two = (operation: string, a: number, b: number) => output('arithmetic', { settings: { operation }, inputs: { a, b } });
    const pairs: [string, number][] = [
      ['add', 5.5],
      ['subtract', 0.5],
      ['multiply', 7.5],
      ['divide', 1.2],
      ['power', 3 ** 2.5],
      ['minimum', 2.5],
      ['maximum', 3],
      ['remainder', 0.5],
    ];
    for (const [operation, expected] of pairs) near(two(operation, 3, 2.5), [expected]);
    near(two('remainder', -7, 3), [2]);
    const one = (operation: string, a: number) => output('arithmetic', { settings: { operation }, inputs: { a } });
    const singles: [string, number, number][] = [
      ['negate', 2, -2],
      ['absolute', -2, 2],
      ['sign', -9, -1],
      ['floor', -1.5, -2],
      ['round', 2.6, 3],
      ['square root', 9, 3],
      ['sine', 1, Math.sin(1)],
      ['cosine', 1, Math.cos(1)],
      ['one minus', 0.25, 0.75],
    ];
    for (const [operation, a, expected] of singles) near(one(operation, a), [expected]);
    near(output('arithmetic', { settings: { operation: 'multiply' }, inputs: { a: [1, 2, 3], b: 2 } }), [2, 4, 6]);
    for (const operands of ['3', '5', '8']) {
      const inputs = Object.fromEntries(
        'abcdefgh'
          .slice(0, Number(operands))
          .split('')
          .map((l, i) => [l, i + 1]),
      );
      const list = Object.values(inputs);
      near(output('arithmetic', { settings: { operation: 'add', operands }, inputs }), [list.reduce((x, y) => x + y)]);
      near(output('arithmetic', { settings: { operation: 'subtract', operands }, inputs }), [list.reduce((x, y) => x - y)]);
      near(output('arithmetic', { settings: { operation: 'multiply', operands }, inputs }), [list.reduce((x, y) => x * y)]);
    }
    expect(two('divide', 1, 0)[0]).toBe(Infinity);
  });

  test('Measure', () => {
    const measure = (operation: string, a: number[], b: number[]) =>
      output('measure', { settings: { operation }, inputs: { a: a as never, b: b as never } });
    near(measure('distance', [1, 2, 3], [4, 6, 3]), [5]);
    near(measure('length', [2, 3, 6], [0, 0, 0]), [7]);
    near(measure('dot', [1, 2, 3], [4, 5, 6]), [32]);
    near(measure('angle', [1, 0, 0], [1, 1, 0]), [45]);
    expect(measure('angle', [1, 0, 0], [-1, 1e-4, 0])[0]).toBeCloseTo(180 - (1e-4 * 180) / Math.PI, 4);
    near(measure('angle', [0, 0, 0], [1, 0, 0]), [0]);
  });

  test('Direction', () => {
    const direction = (operation: string, a: number[], b: number[], angle = 90) =>
      output('direction', { settings: { operation }, inputs: { a: a as never, b: b as never, angle } });
    near(direction('normalize', [3, 0, 4], []), [0.6, 0, 0.8]);
    near(direction('normalize', [0, 0, 0], []), [0, 0, 0]);
    near(direction('cross', [1, 0, 0], [0, 1, 0]), [0, 0, 1]);
    near(direction('reflect', [1, -1, 0], [0, 5, 0]), [1, 1, 0]);
    near(direction('project', [1, -1, 2], [0, 3, 0]), [1, 0, 2]);
    near(direction('rotate', [1, 0, 0], [0, 0, 2]), [0, 1, 0]);
    near(direction('rotate', [1, 2, 3], [1, 1, 1], 120), [3, 1, 2]);
    near(direction('rotate', [1, 2, 3], [0, 0, 0], 120), [1, 2, 3]);
  });

  test('Split Vector, Build Vector', () => {
    near(output('split-vector', { inputs: { vector: [4, 5, 6] } }, 'z'), [6]);
    near(output('build-vector', { inputs: { x: 1, y: 2, z: 3 } }, 'vector'), [1, 2, 3]);
  });

  test('Remap: ranges, clamp, invert, shape, an empty range', () => {
    const remap = (value: number, settings: Record<string, boolean> = {}, extra: Record<string, number> = {}) =>
      output('remap', {
        settings,
        inputs: { value, fromLow: 2, fromHigh: 4, toLow: 10, toHigh: 20, ...extra },
      });
    near(remap(3), [15]);
    near(remap(9), [20]);
    near(remap(9, { clamp: false }), [45]);
    near(remap(2.5, { invert: true }), [17.5]);
    near(remap(3, { shape: true }), [15]);
    near(remap(2.2, { shape: true, invert: true }).concat(), [remap(3.8, { shape: true })[0]]);
    near(remap(5, {}, { fromHigh: 2 }), [20]);
    const empty = runNode('remap', { inputs: { fromLow: 1, fromHigh: 1 } }, ['result']);
    expect(empty.evaluation.reports.get('it')?.problems[0].code).toBe('range-empty');
  });

  test('Response: a curve, and a constant with a word about it', () => {
    near(output('response', { inputs: { value: 0.5 } }), [0.5]);
    const one = {
      points: [{ at: 0.3, value: 0.6, in: [0, 0], out: [0, 0], shape: 'curve' }],
      invert: false,
    } as never;
    const { values, evaluation } = runNode('response', { settings: { response: one } }, ['result']);
    near(Array.from((values[0] as { data: Float64Array }).data), [0.6]);
    expect(evaluation.reports.get('it')?.problems[0].code).toBe('response-constant');
  });

  test('Noise: number, vector, in time, and octaves within reason', () => {
    const inputs = {
      position: [0.3, 0.7, -1.2] as never,
      frequency: 2,
      octaves: 3,
      offset: [0.1, 0, 0] as never,
      seed: 5,
    };
    near(output('noise', { inputs }), [fractalNoise3(makeNoise(5), 0.7, 1.4, -2.4, 3, 2, 0.5)]);
    near(output('noise', { inputs: { ...inputs, time: 0.25 }, settings: { boils: true } }), [
      fractalNoise4(makeNoise(5), 0.7, 1.4, -2.4, 0.25, 3, 2, 0.5),
    ]);
    const vector = output('noise', { inputs, settings: { gives: 'vector' } });
    expect(new Set(vector).size).toBe(3);
    const many = runNode('noise', { inputs: { ...inputs, octaves: 99 } }, ['result']);
    expect(many.evaluation.reports.get('it')?.problems[0]).toMatchObject({ code: 'value-range', used: 12 });
  });
});

describe('nodes that bring in', () => {
  test('numbers, vectors, toggles and the clock, typed and by expression', () => {
    near(output('number', { inputs: { value: { expression: 'seconds * 2' } } }, 'number'), [1]);
    near(output('integer', { inputs: { value: 2.6 } }, 'integer'), [3]);
    near(output('vector', { inputs: { value: [1, { expression: 'frame' }, 3] as never } }, 'vector'), [1, 12, 3]);
    near(output('toggle', { inputs: { value: false } }, 'toggle'), [0]);
    near(output('clock', {}, 'seconds'), [0.5]);
    near(output('clock', {}, 'fraction'), [11 / 119]);
  });

  test('grids and spheres; counts that are too small are raised, too large refused', () => {
    const grid = runNode('make-grid', { inputs: { cellsX: 0, cellsZ: 2 } }, ['mesh']);
    expect((grid.values[0] as { mesh: { topology: { pointCount: number } } }).mesh.topology.pointCount).toBe(6);
    expect(grid.evaluation.reports.get('it')?.problems[0].code).toBe('value-range');
    expect(
      runNode('make-grid', { inputs: { cellsX: 99_999, cellsZ: 99_999 } }, ['mesh']).evaluation.reports.get('it')?.problems[0]
        .code,
    ).toBe('limit');
    const round = runNode('make-grid', { settings: { shape: 'round' }, inputs: { rings: 3, spokes: 8 } }, ['mesh']);
    expect((round.values[0] as { mesh: { topology: { faceCount: number } } }).mesh.topology.faceCount).toBe(24);
    const ball = runNode('make-sphere', { inputs: { radius: 2 } }, ['mesh']).values[0] as {
      mesh: { positions: Float32Array };
    };
    for (let i = 0; i < ball.mesh.positions.length; i += 3)
      expect(Math.hypot(...ball.mesh.positions.subarray(i, i + 3))).toBeCloseTo(2, 5);
  });
});

describe('nodes that read and move points', () => {
  const grid = makeGrid([2, 2], [2, 2]);
  const mesh = (type: string, parts: NodeParts) => {
    const v = runNode(type, parts, ['mesh'], grid).values[0];
    if (v?.form !== 'geometry') throw new Error('no mesh');
    return v.mesh;
  };

  test('Point Values', () => {
    const { values } = runNode('point-values', {}, ['positions', 'normals', 'indices', 'count'], grid);
    expect((values[0] as { data: Float32Array }).data).toBe(grid.positions);
    expect(Array.from((values[1] as { data: Float32Array }).data.slice(0, 3))).toEqual([0, 1, 0]);
    expect(Array.from((values[2] as { data: Int32Array }).data)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(values[3]).toMatchObject({ form: 'single', data: Float64Array.of(9) });
  });

  test('Move Points adds or sets, axis by axis, under a weight; topology is shared', () => {
    const moved = mesh('move-points', { inputs: { offset: [1, 2, 3], weight: 0.5 }, settings: { y: false } });
    expect(Array.from(moved.positions.slice(0, 3))).toEqual([-0.5, 0, 0.5]);
    expect(moved.topology).toBe(grid.topology);
    const set = mesh('move-points', { settings: { how: 'set' }, inputs: { offset: [7, 8, 9] } });
    // What was typed stands, though here a wire is what one would use.
    expect(Array.from(set.positions.slice(0, 3))).toEqual([7, 8, 9]);
  });

  test('Transform sizes, turns, then moves; half a weight is half the turn, or half way', () => {
    const turned = mesh('transform', {
      inputs: { translate: [0, 5, 0], rotate: [0, 90, 0], scale: [2, 1, 1] },
    });
    // (−1, 0, −1) → sized (−2, 0, −1) → turned about y (−1, 0, 2) → moved.
    near(Array.from(turned.positions.slice(0, 3)), [-1, 5, 2]);
    const half = mesh('transform', { inputs: { rotate: [0, 180, 0], weight: 0.5 } });
    near(Array.from(half.positions.slice(0, 3)), [-1, 0, 1]);
    const straight = mesh('transform', {
      inputs: { rotate: [0, 180, 0], weight: 0.5 },
      settings: { mix: 'straight' },
    });
    near(Array.from(straight.positions.slice(0, 3)), [0, 0, 0]);
    expect(mesh('transform', { inputs: { weight: 0 } }).positions).toEqual(grid.positions);
  });

  test('Scene Mesh stands in the world or in its own space', () => {
    const ball = makeSphere(1, 4, 6);
    const own = runNode('point-values', {}, ['positions'], ball).values[0] as { data: Float32Array };
    expect(own.data).toBe(ball.positions);
  });
});
