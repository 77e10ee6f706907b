import { kernelOf } from '../../graph/light/matrix-kernel.ts';
import { CATALOGUE } from '../index.ts';
import { describe, expect, test } from 'vitest';
import { Evaluator } from '../../graph/evaluate/evaluator.ts';
import { identity, multiply, multiplyPacked, product, transformPoint } from '../../maths/matrix.ts';
import { compose } from '../../maths/factors.ts';
import { makeObject, type ObjectRecord } from '../../project/kinds/index.ts';
import { randomFrom } from '../../maths/random.ts';
import { channelsMatrix, worldMatrix } from '../../scene/world.ts';
import { objectsById } from '../../scene/objects.ts';
import { graph, meshOf, node, project } from '../../testing/build.ts';
import type { MatricesValue } from '../../graph/node/values.ts';
import { multiplyMatrices } from './multiply-matrices.ts';
import { at, CREW, HOOK, locator, MAST, near, run, single } from '../../testing/quay.ts';

describe('matrix nodes', () => {
  test('built, multiplied from the child outwards, inverted, looked at from another, taken apart', () => {
    const g = graph(
      [
        node('a', 'build-matrix', { inputs: { translate: [1, 2, 3], rotate: [10, 20, 30] } }),
        node('b', 'build-matrix', { inputs: { rotate: [0, 90, 0], scale: [2, 1, 0.5], shear: [0.2, 0, 0] } }),
        node('both', 'multiply-matrices'),
        node('back', 'invert-matrix'),
        node('offset', 'offset-between'),
        node('split', 'split-matrix'),
      ],
      [
        'a.matrix > both.a',
        'b.matrix > both.b',
        'both.matrix > back.matrix',
        'both.matrix > offset.a',
        'b.matrix > offset.b',
        'b.matrix > split.matrix',
      ],
    );
    const { values } = run(project([g]), [
      'a.matrix',
      'b.matrix',
      'both.matrix',
      'back.matrix',
      'offset.matrix',
      'split.scale',
      'split.shear',
      'split.rotate',
    ]);
    const [a, b, both, back, offset, size, shear, turn] = values.map(single);
    near(both, product(Float64Array.from(b), Float64Array.from(a)));
    near(multiply(identity(), Float64Array.from(back), Float64Array.from(both)), identity());
    near(offset, a);
    near(size, [2, 1, 0.5]);
    near(shear, [0.2, 0, 0]);
    near(turn, [0, 90, 0]);
  });

  test('the short way to single matrices gives to the bit what packed ones give', () => {
    const random = randomFrom(3);
    const some = () =>
      compose(
        [random() * 9, random(), -random()],
        [random() * 6, random(), random()],
        'yzx',
        [1 + random(), 2, 1],
        [random(), 0, random()],
      );
    for (let k = 0; k < 50; k++) {
      const [a, b, c] = [some(), some(), some()];
      const packed = new Float64Array(16);
      multiplyPacked(packed, 0, b, 0, 16, a, 0, 16, 1);
      multiplyPacked(packed, 0, c, 0, 0, packed, 0, 16, 1);
      const sheet = Float64Array.from([...a, ...b, ...c, ...new Array(16).fill(0)]);
      const kernel = kernelOf(multiplyMatrices)?.({ rows: 3 }, project([]));
      expect(kernel?.run?.(sheet, 48, Int32Array.of(7, 0, 16, 32), 1, 3)).toBe(true);
      expect(sheet.subarray(48)).toEqual(packed);
    }
    // Nodes with a short way say the same as without: cost, problems and values are there for every node.
    const g = graph(
      [
        node('a', 'build-matrix', { inputs: { translate: [1, 2, 3] } }),
        node('back', 'invert-matrix'),
        node('both', 'multiply-matrices'),
      ],
      ['a.matrix > back.matrix', 'a.matrix > both.a', 'back.matrix > both.b'],
    );
    const evaluator = new Evaluator(CATALOGUE);
    const first = run(project([g]), ['both.matrix'], 1, evaluator).evaluation;
    const again = run(project([g]), ['both.matrix'], 1, evaluator).evaluation;
    expect([...first.computed]).toEqual(['a', 'back', 'both']);
    expect(first.reports.get('back')?.outputs.matrix.single).toEqual(
      Array.from(identity()).map((v, i) => v - [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 0][i]),
    );
    near(single(again.value({ node: 'both', port: 'matrix' })), identity());
  });

  test('the short way keeps outputs of one node apart, follows edits, and leaves what is not finite to the long way', () => {
    // Two outputs of one locator, a product that is driven as it is, and an inverse that time makes flat.
    const g = (size: string) =>
      graph(
        [
          locator('hook'),
          node('both', 'multiply-matrices'),
          node('back', 'invert-matrix'),
          node('drive', 'drive-object', { settings: { object: 'mast' } }),
          node('grow', 'build-matrix', { inputs: { scale: [{ expression: size }, 1, 1] } }),
          node('flat', 'invert-matrix'),
        ],
        [
          'hook.rest > both.a',
          'hook.matrix > both.b',
          'hook.rest > back.matrix',
          'both.matrix > drive.matrix',
          'grow.matrix > flat.matrix',
        ],
      );
    const hook = { ...HOOK, channels: at([1, 2, 3], [0, 20, 0]) };
    const scene = (size: string, of = hook) => project([g(size)], [0, 0, 0], [of, MAST]);
    const evaluator = new Evaluator(CATALOGUE);
    const p = scene('frame - 5');
    const now = channelsMatrix(hook.channels, hook.pivot);
    const rest = channelsMatrix(hook.rest, hook.pivot);
    const wanted = ['both.matrix', 'back.matrix', 'flat.matrix'];
    const first = run(p, wanted, 1, evaluator);
    near(single(first.values[0]), product(now, rest));
    near(product(rest, Float64Array.from(single(first.values[1]))), identity());
    near(first.evaluation.driven('mast')?.carrier ?? [], product(now, rest));
    // Frame 5: no inverse, which is said; frame 6 goes on; what was given out before is not touched.
    const flat = run(p, wanted, 5, evaluator);
    expect(flat.words.join()).toMatch(/cannot be inverted/);
    near(single(flat.values[2]), identity());
    near(single(run(p, wanted, 7, evaluator).values[2]), [0.5, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
    near(single(first.values[0]), product(now, rest));
    // An edit of the object changes what follows it and nothing else.
    const turned = { ...hook, channels: at([1, 2, 3], [0, 50, 0]) };
    const after = run(scene('frame - 5', turned), wanted, 7, evaluator);
    near(single(after.values[0]), product(channelsMatrix(turned.channels, turned.pivot), rest));
    expect([...after.evaluation.computed]).not.toContain('flat');
    // What is not finite is not put under an object, and the node says so.
    const bad = run(scene('1', { ...hook, channels: at([NaN, 0, 0]) }), wanted, 1, evaluator);
    expect(bad.evaluation.driven('mast')?.carrier).toBeUndefined();
    expect(bad.words.join()).toMatch(/finite/);
  });

  test('a flat matrix is said to be flat, and its inverse does nothing', () => {
    const g = graph(
      [node('a', 'build-matrix', { inputs: { scale: [1, 0, 1] } }), node('back', 'invert-matrix')],
      ['a.matrix > back.matrix'],
    );
    const { values, words } = run(project([g]), ['back.matrix']);
    near(single(values[0]), identity());
    expect(words).toEqual([
      'The matrix cannot be inverted (a scale of 0?), so nothing is undone. Give it a size along every axis.',
    ]);
  });

  test('blends by parts, keeps parts, changes space there and back', () => {
    const g = graph(
      [
        node('a', 'build-matrix', { inputs: { translate: [2, 0, 0] } }),
        node('b', 'build-matrix', { inputs: { translate: [0, 4, 0], rotate: [0, 0, 90] } }),
        node('mix', 'blend-matrices', { inputs: { dial: 0.5 }, settings: { translate: false } }),
        node('keep', 'keep-parts', { settings: { translate: false, rotate: true } }),
        node('v', 'vector', { inputs: { value: [1, 1, 1] } }),
        node('in', 'change-space'),
        node('out', 'change-space', { settings: { way: 'out' } }),
      ],
      [
        'a.matrix > mix.a',
        'b.matrix > mix.b',
        'a.matrix > keep.matrix',
        'b.matrix > keep.from',
        'v.vector > in.value',
        'b.matrix > in.space',
        'in.value > out.value',
        'b.matrix > out.space',
      ],
    );
    const [mix, keep, inside, out] = run(project([g]), ['mix.matrix', 'keep.matrix', 'in.value', 'out.value']).values.map(single);
    near(mix, compose([2, 0, 0], [0, 0, Math.PI / 4], 'xyz', [1, 1, 1]));
    near(keep, compose([2, 0, 0], [0, 0, Math.PI / 2], 'xyz', [1, 1, 1]));
    near(inside, [-3, -1, 1], 6);
    near(out, [1, 1, 1], 6);
  });
});

test('Keep Parts takes size with shear; Limits stop turn and size; Change Space takes meshes and matrices', () => {
  const B = { rotate: [0, 90, 0], scale: [2, 1, 0.5], shear: [0.2, 0, 0] };
  const g = graph(
    [
      node('a', 'build-matrix', { inputs: { translate: [1, 2, 3], rotate: [10, 60, 0], scale: [1, 3, 0.1] } }),
      node('b', 'build-matrix', { inputs: B as never }),
      node('keep', 'keep-parts', { settings: { translate: false, scale: true } }),
      node('split', 'split-matrix'),
      node('stop', 'limits', { settings: { translate: false, rotate: true, scale: true } }),
      node('parts', 'split-matrix'),
      node('ball', 'make-sphere'),
      node('in', 'change-space', { settings: { what: 'mesh' } }),
      node('out', 'change-space', { settings: { what: 'mesh', way: 'out' } }),
      node('of', 'change-space', { settings: { what: 'matrix' } }),
    ],
    [
      'a.matrix > keep.matrix',
      'b.matrix > keep.from',
      'keep.matrix > split.matrix',
      'a.matrix > stop.matrix',
      'stop.matrix > parts.matrix',
      'ball.mesh > in.value',
      'b.matrix > in.space',
      'in.value > out.value',
      'b.matrix > out.space',
      'a.matrix > of.value',
      'b.matrix > of.space',
    ],
  );
  const { values, words } = run(project([g]), [
    'a.matrix',
    'b.matrix',
    'split.translate',
    'split.rotate',
    'split.scale',
    'split.shear',
    'parts.translate',
    'parts.rotate',
    'parts.scale',
    'of.value',
    'ball.mesh',
    'in.value',
    'out.value',
  ]);
  expect(words).toEqual([]);
  const [a, b, move, turn, size, shear, free, stopped, sized, of] = values.slice(0, 10).map(single);
  near(move, [1, 2, 3]);
  near(turn, [10, 60, 0]);
  near(size, [2, 1, 0.5]);
  near(shear, [0.2, 0, 0]);
  near(free, [1, 2, 3]);
  near(stopped, [10, 45, 0]);
  near(sized, [1, 2, 0.5]);
  // Out of the space again, they are what they were.
  near(product(Float64Array.from(b), Float64Array.from(of)), a);
  const [ball, inside, back] = values.slice(10).map((v) => meshOf(v).positions);
  near(transformPoint(Float64Array.from(b), [inside[0], inside[1], inside[2]]), ball.slice(0, 3), 5);
  near(back, ball, 5);
});

describe('pivots', () => {
  const turn = (settings: object, inputs: Record<string, unknown> = {}, extra: ObjectRecord[] = []) => {
    const nodes = [
      node('in', 'make-grid', { inputs: { width: 2, depth: 4, cellsX: 1, cellsZ: 1 } }),
      node('move', 'transform', { inputs: { translate: [3, 1, 0] } }),
      node('turn', 'transform', {
        settings: settings as never,
        inputs: { rotate: [0, 0, 90], ...inputs } as never,
      }),
    ];
    const p = project([graph(nodes, ['in.mesh > move.mesh', 'move.mesh > turn.mesh'])], [0, 0, 0], extra);
    const { values, words } = run(p, ['move.mesh', 'turn.mesh']);
    return { before: meshOf(values[0]).positions, after: meshOf(values[1]).positions, words };
  };
  const about = (p: readonly number[], pivot: readonly number[]) => [
    pivot[0] - (p[1] - pivot[1]),
    pivot[1] + (p[0] - pivot[0]),
    p[2],
  ];

  test('every mode turns about its own place, read again from what arrives', () => {
    const cases: [object, readonly number[], Record<string, unknown>?, ObjectRecord[]?][] = [
      [{ pivot: 'origin' }, [0, 0, 0]],
      [{ pivot: 'centre' }, [3, 1, 0]],
      [{ pivot: 'base' }, [3, 1, 0]],
      [{ pivot: 'average' }, [3, 1, 0]],
      [{ pivot: 'index' }, [2, 1, -2], { pivotIndex: 0 }],
      [{ pivot: 'typed' }, [1, 2, 3], { pivotPlace: [1, 2, 3] }],
      [{ pivot: 'locator', pivotObject: 'mast' }, [8, 3, 1], {}, [MAST]],
    ];
    for (const [settings, pivot, inputs, extra] of cases) {
      const { before, after, words } = turn(settings, inputs, extra);
      expect(words).toEqual([]);
      const corner = Array.from(before.slice(0, 3));
      near(after.slice(0, 3), about(corner, pivot), 5);
    }
    expect(turn({ pivot: 'centre', readAt: 'rest' }).words[0]).toMatch(/restPosition/);
    expect(turn({ pivot: 'index' }, { pivotIndex: 99 }).words[0]).toMatch(/Index 99 is outside 0 to 3/);
  });

  test('the sequence of steps and turned axes', () => {
    const all = { translate: [1, 0, 0], scale: [2, 1, 1] };
    // Move, then turn, then size: x of the corner (2, 1) goes (3, 1) → (−1, 3) → (−2, 3).
    near(turn({ sequence: 'trs' }, all).after.slice(0, 2), [-2, 3], 5);
    near(turn({ sequence: 'srt' }, all).after.slice(0, 2), [0, 4], 5);
    // Along axes turned by 90° about z, x is y: a move by x goes up.
    near(turn({}, { rotate: [0, 0, 0], translate: [1, 0, 0], pivotTurn: [0, 0, 90] }).after.slice(0, 2), [2, 2], 5);
  });
});

test('matrices of a group go through packed and come back onto its objects', () => {
  const props = Array.from({ length: 5 }, (_, i) =>
    makeObject(`p${i}`, `P${i}`, 'prop', { parent: 'crew', channels: at([i, 0, 0], [0, i * 10, 0]) }),
  );
  const p = project(
    [
      graph(
        [
          node('group', 'scene-group', { settings: { object: 'crew' } }),
          node('up', 'build-matrix', { inputs: { translate: [0, 3, 0] } }),
          node('both', 'multiply-matrices'),
          node('drive', 'drive-group', { settings: { object: 'crew', by: 'matrices', is: 'target-world' } }),
        ],
        ['group.rests > both.a', 'up.matrix > both.b', 'both.matrix > drive.matrix'],
      ),
    ],
    [0, 0, 0],
    [CREW, ...props],
  );
  const { world, words } = run(p, ['both.matrix']);
  expect(words).toEqual([]);
  const loose = objectsById(p.objects);
  for (const o of props) {
    const rest = worldMatrix(loose, o.id);
    near(world(o.id), multiply(identity(), compose([0, 3, 0], [0, 0, 0], 'xyz', [1, 1, 1]), rest), 8);
  }
});

test('packed matrices of single use are written over, and nobody can tell', () => {
  const props = Array.from({ length: 40 }, (_, i) =>
    makeObject(`p${i}`, `P${i}`, 'prop', { parent: 'crew', channels: at([i, 1, 0], [0, i * 10, 5]) }),
  );
  const chain = ['group', 'first', 'back', 'second', 'third'];
  const p = project(
    [
      graph(
        [
          node('group', 'scene-group', { settings: { object: 'crew' } }),
          node('move', 'build-matrix', { inputs: { translate: [{ expression: 'frame' }, 2, 0], rotate: [0, 30, 0] } }),
          node('first', 'multiply-matrices'),
          node('back', 'invert-matrix'),
          node('second', 'multiply-matrices'),
          node('third', 'multiply-matrices'),
        ],
        [
          'group.rests > first.a',
          'move.matrix > first.b',
          'first.matrix > back.matrix',
          'back.matrix > second.b',
          'move.matrix > second.a',
          'second.matrix > third.a',
          'second.matrix > third.b',
        ],
      ),
    ],
    [0, 0, 0],
    [CREW, ...props],
  );
  const evaluator = new Evaluator(CATALOGUE);
  const data = (e: Evaluator, node: string, frame: number) => {
    const { evaluation } = run(p, [`${node}.matrix`], frame, e);
    expect(evaluation.reports.get('first')?.outputs.matrix).toEqual({ form: 'matrices', kind: 'matrix', count: 40 });
    return (evaluation.value({ node, port: 'matrix' }) as MatricesValue).data;
  };
  // What was asked for stays as it was while others are asked for, at this frame and at the next.
  const found = [1, 2, 1].flatMap((frame) =>
    ['third', 'first', 'second', 'back'].map((id) => ({ frame, id, data: data(evaluator, id, frame) })),
  );
  for (const { frame, id, data: mine } of found) {
    const whole = run(
      p,
      chain.slice(1).map((n) => `${n}.matrix`),
      frame,
    );
    expect(mine).toEqual((whole.evaluation.value({ node: id, port: 'matrix' }) as MatricesValue).data);
  }
  // In one array of 40 matrices, but for the product that two rows read.
  const alone = new Evaluator(CATALOGUE);
  data(alone, 'third', 1);
  expect(alone.keptBytes).toBe(3 * 40 * 128);
  alone.setBudget(0);
  expect(alone.keptBytes).toBe(0);
});
