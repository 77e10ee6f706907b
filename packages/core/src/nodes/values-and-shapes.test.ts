import { describe, expect, test } from 'vitest';
import { findAttribute, type Mesh } from '../geometry/mesh.ts';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { problemWords } from '../graph/node/problems.ts';
import { randomAt } from '../maths/random.ts';
import { columnOf, evaluatorOf, graph, meshOf, node, project, runNode, type NodeParts } from '../testing/build.ts';
import type { Value } from '../graph/node/values.ts';

const single = (type: string, parts: NodeParts, port = 'result'): number[] => {
  const v = runNode(type, parts, [port]).values[0];
  if (v?.form !== 'single') throw new Error('no single');
  return Array.from(v.data);
};
const near = (actual: ArrayLike<number>, expected: readonly number[]) =>
  expected.forEach((v, i) => expect(actual[i]).toBeCloseTo(v, 5));

/** Runs a chain of nodes on a mesh, each taking the mesh of the one before; gives the value of the last port. */
function chain(
  mesh: Mesh,
  nodes: [string, NodeParts][],
  port = 'mesh',
  extraWires: string[] = [],
): { value: Value | undefined; words: string } {
  const records = [
    node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
    ...nodes.map(([type, parts], i) => node(`n${i}`, type, parts)),
  ];
  const wires = nodes.map((_, i) => `${i === 0 ? 'in' : `n${i - 1}`}.mesh > n${i}.mesh`);
  const ref = { node: `n${nodes.length - 1}`, port };
  const e = evaluatorOf(mesh).evaluate({
    project: project([graph(records, [...wires, ...extraWires])]),
    frame: 12,
    wanted: [ref],
  });
  return {
    value: e.value(ref),
    words: [...e.reports.values()].flatMap((r) => r.problems.map(problemWords)).join(' '),
  };
}
const dataOf = (v: Value | undefined) => columnOf(v).data;

describe('maths', () => {
  test('Blend, Compare, Choose', () => {
    near(single('blend', { inputs: { a: 2, b: 6, amount: 0.25 } }), [3]);
    near(single('blend', { inputs: { a: [0, 1, 2], b: 4, amount: 0.5 } }), [2, 2.5, 3]);
    const compare = (test: string, a: number, b: number) => single('compare', { settings: { test }, inputs: { a, b } })[0];
    expect([
      compare('less', 1, 2),
      compare('greater', 1, 2),
      compare('equal', 1, 1.000001),
      compare('different', 1, 1.1),
    ]).toEqual([1, 0, 1, 1]);
    near(single('choose', { inputs: { condition: 1, a: 3, b: [1, 2, 3] } }), [1, 2, 3]);
    near(single('choose', { inputs: { condition: 0, a: 3, b: 4 } }), [3]);
  });

  test('Random is even, repeatable, and unrelated from index to index', () => {
    const many = Array.from({ length: 20_000 }, (_, i) => randomAt(i, 3));
    const mean = many.reduce((a, b) => a + b, 0) / many.length;
    expect(mean).toBeCloseTo(0.5, 1);
    const bins = new Array<number>(10).fill(0);
    for (const v of many) bins[Math.floor(v * 10)]++;
    expect(Math.min(...bins)).toBeGreaterThan(1800);
    const together = many.slice(1).reduce((s, v, i) => s + (v - 0.5) * (many[i] - 0.5), 0) / many.length;
    expect(Math.abs(together)).toBeLessThan(0.003);
    near(single('random', { inputs: { index: 5, low: 10, high: 20, seed: 2 } }), [10 + 10 * randomAt(5, 2)]);
    expect(new Set(single('random', { settings: { gives: 'vector' } })).size).toBe(3);
  });

  test('Wave: each shape at known phases; it runs with time', () => {
    const at = (shape: string, value: number, inputs = {}) =>
      single('wave', { settings: { shape }, inputs: { value, wavelength: 4, ...inputs } })[0];
    near([at('sine', 1), at('sine', 2), at('triangle', 1), at('triangle', 0), at('triangle', 3)], [1, 0, 1, 0, -1]);
    near([at('saw', 0), at('saw', 2), at('pulse', 1), at('pulse', 3)], [-1, 0, 1, -1]);
    // Half a second at frame 12: half a period on at one period a second.
    near([at('sine', 1, { speed: 1 }), at('sine', 1, { phase: 0.5 })], [-1, -1]);
  });
});

describe('attributes', () => {
  const grid = makeGrid([2, 2], [2, 2]);

  test('are written under a name and read back; a name that is nearly right is offered', () => {
    const written = chain(grid, [['write-attribute', { settings: { name: 'lift' }, inputs: { value: 0.5 } }]]);
    expect(Array.from(findAttribute(meshOf(written.value), 'lift', 'point')!.data)).toEqual(new Array(9).fill(0.5));
    const colour = chain(grid, [
      ['write-attribute', { settings: { name: 'colour', colour: true, on: 'face' }, inputs: { value: [1, 0.5, 0] } }],
    ]);
    expect(findAttribute(meshOf(colour.value), 'colour', 'face')).toMatchObject({
      type: 'colour',
      role: 'plain',
    });
    const read = (name: string, on = 'own') =>
      chain(
        grid,
        [
          ['write-attribute', { settings: { name: 'liftHeight' }, inputs: { value: 2 } }],
          ['read-attribute', { settings: { name, on } }],
        ],
        'values',
      );
    expect(Array.from(dataOf(read('liftHeight').value))).toEqual(new Array(9).fill(2));
    expect(Array.from(dataOf(read('liftHeight', 'face').value))).toEqual([2, 2, 2, 2]);
    expect(read('liftheight').words).toBe(
      'There is no attribute "liftheight". Did you mean "liftHeight"? There are: liftHeight (number on points).',
    );
    expect(read('').words).toContain('has no name yet');
    const dropped = chain(grid, [
      ['write-attribute', { settings: { name: 'x' } }],
      ['drop-attribute', { settings: { name: 'x' } }],
    ]);
    expect(meshOf(dropped.value).attributes).toEqual([]);
    expect(chain(grid, [['write-attribute', { settings: { name: '2 much' } }]]).words).toContain('cannot be the name');
  });

  test('values of the points go where the attribute sits; those of another mesh are refused', () => {
    const nodes = [
      node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
      node('values', 'point-values'),
      node('other', 'make-sphere'),
      node('others', 'point-values'),
      node('write', 'write-attribute', { settings: { name: 'where', on: 'face', role: 'position' } }),
      node('wrong', 'write-attribute', { settings: { name: 'where', on: 'face' } }),
    ];
    const wires = [
      'in.mesh > values.mesh',
      'other.mesh > others.mesh',
      'in.mesh > write.mesh',
      'values.positions > write.value',
      'in.mesh > wrong.mesh',
      'others.positions > wrong.value',
    ];
    const e = evaluatorOf(grid).evaluate({
      project: project([graph(nodes, wires)]),
      frame: 1,
      wanted: ['write', 'wrong'].map((n) => ({ node: n, port: 'mesh' })),
    });
    near(findAttribute(meshOf(e.value({ node: 'write', port: 'mesh' })), 'where', 'face')!.data, [-0.5, 0, -0.5]);
    expect(e.reports.get('wrong')?.problems.map(problemWords).join()).toContain('but the mesh has 4 faces');
  });

  test('rest is remembered once, stays while points move, and tells what changed', () => {
    const sphere = makeSphere(1, 12, 16);
    const size = { scale: [2, 2, 2] as never };
    const steps: [string, NodeParts][] = [
      ['remember-rest', {}],
      ['transform', { inputs: size }],
      ['remember-rest', {}],
      ['rest-change', {}],
    ];
    near(dataOf(chain(sphere, steps, 'stretch').value), new Array(20).fill(2));
    near(dataOf(chain(sphere, steps, 'area').value), new Array(20).fill(4));
    near(dataOf(chain(sphere, steps, 'distance').value), new Array(20).fill(1));
    for (const v of dataOf(chain(sphere, steps, 'along').value)) expect(v).toBeGreaterThan(0.98);
    const anew = chain(sphere, [steps[0], steps[1], ['remember-rest', { settings: { missing: false } }], steps[3]], 'distance');
    near(dataOf(anew.value), [0, 0, 0]);
    const back = chain(sphere, [steps[0], steps[1], ['ease-to-rest', { inputs: { weight: 1 } }]]);
    near(meshOf(back.value).positions, Array.from(sphere.positions));
    expect(chain(sphere, [['ease-to-rest', {}]]).words).toContain('There is no attribute "restPosition"');
    expect(meshOf(chain(sphere, [['ease-to-rest', {}]]).value).positions).toBe(sphere.positions);
  });

  test('Summarise, Pick and Smooth Values', () => {
    const values = (type: string, parts: NodeParts, port: string) => {
      const nodes = [
        node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
        node('points', 'point-values'),
        node('it', type, parts),
      ];
      const wires = [
        'in.mesh > points.mesh',
        'points.positions > it.values',
        ...(type === 'smooth-values' ? ['in.mesh > it.mesh'] : []),
      ];
      const e = evaluatorOf(grid).evaluate({
        project: project([graph(nodes, wires)]),
        frame: 1,
        wanted: [{ node: 'it', port }],
      });
      return {
        value: e.value({ node: 'it', port }),
        words: (e.reports.get('it')?.problems ?? []).map(problemWords).join(),
      };
    };
    near((values('summarise', {}, 'minimum').value as { data: Float64Array }).data, [-1, 0, -1]);
    near((values('summarise', {}, 'sum').value as { data: Float64Array }).data, [0, 0, 0]);
    const bounds = runNode('summarise', { settings: { of: 'mesh' } }, ['size', 'average'], grid).values as {
      data: Float64Array;
    }[];
    near(bounds[0].data, [2, 0, 2]);
    near(bounds[1].data, [0, 0, 0]);
    const pick = (index: number, outside: string) => values('pick', { inputs: { index }, settings: { outside } }, 'value');
    near((pick(2, 'clamp').value as { data: Float64Array }).data, [1, 0, -1]);
    near((pick(99, 'clamp').value as { data: Float64Array }).data, [1, 0, 1]);
    near((pick(-1, 'wrap').value as { data: Float64Array }).data, [1, 0, 1]);
    expect(pick(9, 'error').words).toBe('Index 9 is outside 0 to 8. Choose clamp or wrap, or another index.');
    near(
      dataOf(values('smooth-values', { inputs: { rounds: 1 }, settings: { pin: true } }, 'values').value),
      Array.from(grid.positions),
    );
  });
});

describe('deformers', () => {
  test('Twist turns the far end by its angle and the near end not at all; lengths along the axis stay', () => {
    const tower = meshOf(chain(makeGrid([2, 4], [2, 4]), [['transform', { inputs: { rotate: [90, 0, 0] as never } }]]).value);
    const turned = meshOf(chain(tower, [['twist', { inputs: { angle: 180 } }]]).value);
    for (let i = 0; i < tower.positions.length; i += 3) {
      const [x, y, z] = tower.positions.slice(i, i + 3);
      const angle = (Math.PI * (y + 2)) / 4;
      near(turned.positions.slice(i, i + 3), [
        x * Math.cos(angle) + z * Math.sin(angle),
        y,
        z * Math.cos(angle) - x * Math.sin(angle),
      ]);
    }
    expect(meshOf(chain(tower, [['twist', { inputs: { weight: 0 } }]]).value).positions).toEqual(tower.positions);
  });

  test('Smooth shrinks a ball evenly, under a weight', () => {
    const ball = makeSphere(1, 12, 18);
    const even = meshOf(chain(ball, [['smooth', { inputs: { rounds: 3 } }]]).value).positions;
    const none = meshOf(chain(ball, [['smooth', { inputs: { rounds: 3, weight: 0 } }]]).value).positions;
    expect(none).toEqual(ball.positions);
    for (let i = 0; i < even.length; i += 3) expect(Math.hypot(even[i], even[i + 1], even[i + 2])).toBeLessThan(1);
  });

  test('Merge joins what two branches made', () => {
    const both = runNode('merge', {}, ['mesh']);
    expect(both.evaluation.reports.get('it')?.problems[0].code).toBe('input-missing');
    const nodes = [node('a', 'make-grid'), node('b', 'make-sphere'), node('it', 'merge')];
    const e = evaluatorOf(makeGrid([1, 1], [1, 1])).evaluate({
      project: project([graph(nodes, ['a.mesh > it.a', 'b.mesh > it.b'])]),
      frame: 1,
      wanted: [{ node: 'it', port: 'mesh' }],
    });
    expect(meshOf(e.value({ node: 'it', port: 'mesh' })).topology.pointCount).toBe(441 + 482);
  });
});
