import { expect, test } from 'vitest';
import type { Curves } from '../../curves/curves.ts';
import type { Value } from '../../graph/node/values.ts';
import { columnOf, graph, meshOf, node, project } from '../../testing/build.ts';
import { near, run, single } from '../../testing/quay.ts';
import { volumeOf } from '../../testing/surface.ts';

const curvesIn = (v: Value | undefined) => (v as { curves: Curves }).curves;

test('a spiral winds about its axis by the closed form', () => {
  for (const [k, axis] of ['x', 'y', 'z'].entries()) {
    const { values } = run(
      project([
        graph(
          [
            node('spiral', 'make-spiral', {
              settings: { axis },
              inputs: { radius: 1, radiusEnd: 0.25, height: 3, turns: 2.5, points: 8 },
            }),
          ],
          [],
        ),
      ]),
      ['spiral.curves'],
    );
    const { positions } = curvesIn(values[0]);
    const count = positions.length / 3;
    expect(count).toBe(21);
    for (let i = 0; i < count; i++) {
      const t = i / (count - 1);
      const at = positions.slice(i * 3, i * 3 + 3);
      const [c, s] = [at[(k + 2) % 3], at[(k + 1) % 3]];
      expect(at[k]).toBeCloseTo(3 * t, 5);
      expect(c).toBeCloseTo((1 - 0.75 * t) * Math.cos(5 * Math.PI * t), 5);
      expect(s).toBeCloseTo((1 - 0.75 * t) * Math.sin(5 * Math.PI * t), 5);
    }
  }
});

test('a swept section, round or drawn in any plane, holds its area times the length', () => {
  const line = node('line', 'make-line', { inputs: { from: [0, 0, 0], to: [0, 3, 4], points: 6 } });
  const sweep = (settings: object, inputs: object, more: ReturnType<typeof node>[] = [], wires: string[] = []) => {
    const nodes = [line, ...more, node('sweep', 'sweep-profile', { settings: settings as never, inputs: inputs as never })];
    const { values, words } = run(project([graph(nodes, ['line.curves > sweep.curves', ...wires])]), ['sweep.mesh']);
    expect(words).toEqual([]);
    return volumeOf(meshOf(values[0]));
  };
  // A regular polygon of n sides in a circle of radius r.
  const polygon = (n: number, r: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
  expect(sweep({}, { radius: 0.2, sides: 9 })).toBeCloseTo(polygon(9, 0.2) * 5, 5);
  // A ring drawn about each axis lies in the plane square to it; the radius is its factor (0.05 leaves it as it is).
  const areas = (['y', 'z', 'x'] as const).map((axis, i) => {
    const ring = node('ring', 'make-ring', { settings: { axis }, inputs: { radius: 0.3, points: 6 } });
    return sweep({ plane: ['xz', 'xy', 'zy'][i] }, { radius: 0.1 }, [ring], ['ring.curves > sweep.profile']) / 5;
  });
  for (const area of areas) expect(area / (Math.PI * 0.6 * 0.6)).toBeCloseTo(1, 2);
});

test('a thing travels along a circle: upright, with x or z along it; beyond the end it stays or begins again', () => {
  const follow = (aim: string, fraction: number, wrap = true, roll = 0) => {
    const nodes = [
      node('ring', 'make-ring', { settings: { axis: 'y' }, inputs: { radius: 2, points: 16 } }),
      node('go', 'follow-curve', { settings: { aim, wrap }, inputs: { fraction, roll } }),
    ];
    return single(run(project([graph(nodes, ['ring.curves > go.curves'])]), ['go.matrix']).values[0]);
  };
  const plain = follow('none', 0.3);
  near(plain.slice(0, 12), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
  expect(Math.hypot(plain[12], plain[14])).toBeCloseTo(2, 3);
  const along = follow('x', 0.3);
  const z = follow('z', 0.3);
  near(along.slice(12, 15), plain.slice(12, 15));
  near(z.slice(8, 11), along.slice(0, 3));
  // The tangent is square to the way from the middle, and both frames are right-handed.
  expect(along[0] * along[12] + along[2] * along[14]).toBeCloseTo(0, 3);
  for (const m of [along, z]) {
    const cross = [m[1] * m[6] - m[2] * m[5], m[2] * m[4] - m[0] * m[6], m[0] * m[5] - m[1] * m[4]];
    near(cross, m.slice(8, 11), 6);
  }
  // A roll of 90° turns the second axis into the third.
  near(follow('x', 0.3, true, 90).slice(4, 7), along.slice(8, 11), 6);
  near(follow('x', 1.3), along, 6);
  near(follow('x', -0.7), along, 6);
  near(follow('none', 1.3, false), follow('none', 1, false));
});

test('Curve Point and Follow Curve give one place in all outputs, at the ends and beyond', () => {
  const line = node('line', 'make-line', { inputs: { from: [0, 0, 0], to: [2, 0, 0], points: 3 } });
  const ring = node('ring', 'make-ring', { settings: { axis: 'y' }, inputs: { radius: 2, points: 16 } });
  const at = (curve: typeof line, fraction: number, wrap: boolean, by = 'fraction') => {
    const nodes = [
      curve,
      node('at', 'curve-point', { settings: { wrap, by }, inputs: { at: fraction } }),
      node('go', 'follow-curve', { settings: { wrap }, inputs: { fraction } }),
    ];
    const { values, words } = run(project([graph(nodes, [`${curve.id}.curves > at.curves`, `${curve.id}.curves > go.curves`])]), [
      'at.position',
      'at.matrix',
      'at.tangent',
      'at.normal',
      'go.matrix',
    ]);
    expect(words).toEqual([]);
    const [position, matrix, tangent, normal, go] = values.map(single);
    near(position, matrix.slice(12, 15), 5);
    near(tangent, matrix.slice(0, 3), 5);
    near(normal, matrix.slice(4, 7), 5);
    if (by === 'fraction') near(go, matrix, 5);
    return position;
  };
  for (const [fraction, again, stay] of [
    [0, 0, 0],
    [0.25, 0.5, 0.5],
    [1, 2, 2],
    [1.25, 0.5, 2],
    [2, 2, 2],
    [-0.25, 1.5, 0],
  ]) {
    near(at(line, fraction, true), [again, 0, 0], 6);
    near(at(line, fraction, false), [stay, 0, 0], 6);
    near(at(line, fraction * 2, true, 'length'), [again, 0, 0], 6);
  }
  // On a closed one the end is the start, whichever is chosen.
  for (const wrap of [true, false]) near(at(ring, 1, wrap), at(ring, 0, wrap), 5);
  near(at(ring, 1.3, true), at(ring, 0.3, true), 5);
});

test('half a turn that could go either way is told; a width that does nothing beside a rest is told', () => {
  // Up, over and down again in one plane.
  const arch = node('arch', 'make-ring', { settings: { axis: 'z' }, inputs: { radius: 1, points: 12 } });
  const words = (frames: string, up: string) =>
    run(project([graph([arch, node('sweep', 'sweep-profile', { settings: { frames, up } })], ['arch.curves > sweep.curves'])]), [
      'sweep.mesh',
    ]).words;
  expect(words('up', 'y')).toEqual([expect.stringMatching(/could as well be the other way/)]);
  expect(words('up', 'z')).toEqual([]);
  expect(words('least', 'y')).toEqual([]);
  const width = { points: [0, 1].map((at) => ({ at, value: at, in: [-0.3, 0], out: [0.3, 0], shape: 'curve' })), invert: false };
  const lay = (rest: boolean) => {
    const nodes = [
      node('line', 'make-line', {}),
      node('ball', 'make-sphere', {}),
      node('lay', 'lay-along-curve', { settings: { width: width as never } }),
    ];
    const wires = ['line.curves > lay.curves', 'ball.mesh > lay.mesh', ...(rest ? ['line.curves > lay.rest'] : [])];
    const { values, words: said } = run(project([graph(nodes, wires)]), ['lay.mesh', 'ball.mesh']);
    if (rest) near(meshOf(values[0]).positions, meshOf(values[1]).positions, 5);
    return said;
  };
  expect(lay(true)).toEqual([expect.stringMatching(/only the change of the curve is applied/)]);
  expect(lay(false)).toEqual([]);
});

test('along a curve is measured for each point; of what is not finite, nothing; without a curve, a sentence', () => {
  const nodes = [
    node('line', 'make-line', { inputs: { from: [0, 0, 0], to: [4, 0, 0], points: 3 } }),
    node('grid', 'make-grid', { inputs: { width: 4, depth: 2, cellsX: 4, cellsZ: 1 } }),
    node('move', 'transform', { inputs: { translate: [2, 0, 0] } }),
    node('at', 'point-values'),
    node('on', 'measure-along-curve'),
  ];
  const wires = ['line.curves > on.curves', 'grid.mesh > move.mesh', 'move.mesh > at.mesh', 'at.positions > on.positions'];
  const { values, words } = run(project([graph(nodes, wires)]), [
    'on.length',
    'on.fraction',
    'on.distance',
    'at.positions',
    'on.spline',
  ]);
  expect(words).toEqual([]);
  const [length, fraction, distance, from, spline] = values.map((v) => columnOf(v).data);
  length.forEach((l, i) => {
    expect(l).toBeCloseTo(from[i * 3], 6);
    expect(fraction[i]).toBeCloseTo(from[i * 3] / 4, 6);
    expect(distance[i]).toBeCloseTo(1, 6);
    expect(spline[i]).toBe(0);
  });
  const alone = (wired: string[], position: readonly number[]) =>
    run(project([graph([nodes[0], node('on', 'measure-along-curve', { inputs: { positions: position as never } })], wired)]), [
      'on.position',
      'on.tangent',
    ]);
  const one = alone(['line.curves > on.curves'], [3, 1, 0]);
  near(single(one.values[0]), [3, 0, 0], 6);
  near(single(one.values[1]), [1, 0, 0], 6);
  expect(alone([], [3, 1, 0]).words.join()).not.toBe('');
  // A curve that comes and goes with the frame is told where it is not; one without a length is a place, and says so.
  const through = (to: unknown, frame: number) =>
    run(
      project([
        graph([node('line', 'make-line', { inputs: { from: [0, 0, 0], to: to as never, points: 3 } }), ...nodes.slice(1)], wires),
      ]),
      ['on.length', 'on.distance'],
      frame,
    );
  const torn = [{ expression: 'sqrt(4 - frame)' }, 0, 0];
  expect(through(torn, 3).words).toEqual([]);
  expect(through(torn, 9).words.join(' ')).toContain('"length" is not a finite number');
  expect(columnOf(through(torn, 9).values[0]).data.every(Number.isNaN)).toBe(true);
  const flat = through([0, 0, 0], 1);
  expect(flat.words.join(' ')).toContain('Measure Along Curve');
  const reach = columnOf(flat.values[1]).data;
  columnOf(flat.values[0]).data.forEach((l, i) => {
    expect(l).toBe(0);
    expect(reach[i]).toBeCloseTo(Math.hypot(from[i * 3], from[i * 3 + 1], from[i * 3 + 2]), 6);
  });
});
