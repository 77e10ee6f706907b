import { CATALOGUE } from '../index.ts';
import { describe, expect, test } from 'vitest';
import { Evaluator } from '../../graph/evaluate/evaluator.ts';
import { channelsOver, sampleObjects, worldsAt } from '../../graph/evaluate/sample-objects.ts';
import { takeSnapshot } from '../../edits/take-snapshot.ts';
import { identity, isMirroring, product, type Matrix } from '../../maths/matrix.ts';
import { compose, decompose } from '../../maths/factors.ts';
import { randomFrom } from '../../maths/random.ts';
import { ROTATION_ORDERS } from '../../maths/rotation.ts';
import type { Vec3 } from '../../maths/vector.ts';
import { type Channels } from '../../project/fields.ts';
import { makeObject, type ObjectRecord } from '../../project/kinds/index.ts';
import { type Project } from '../../project/schema.ts';
import { unrolled } from '../../scene/keep-pose.ts';
import { makeKey, trackOf } from '../../scene/keys.ts';
import { graph, node, project } from '../../testing/build.ts';
import { at, locator, near, run, single } from '../../testing/quay.ts';

const triple = (random: () => number, reach: number) =>
  [0, 1, 2].map(() => (random() * 2 - 1) * reach) as unknown as [number, number, number];
const RADIANS = Math.PI / 180;
const column = (m: ArrayLike<number>, c: number) => [m[c * 4], m[c * 4 + 1], m[c * 4 + 2]];
const unit = (v: readonly number[]) => v.map((x) => x / Math.hypot(...v));
const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

describe('a snapshot that is taken again', () => {
  const scene = (random: () => number, type: string, settings: object, inputs: object): Project => {
    const channels = (): Channels => ({
      ...at(triple(random, 5), triple(random, 180)),
      order: ROTATION_ORDERS[Math.floor(random() * 6)],
    });
    const objects = [
      makeObject('hook', 'Hook', 'locator', { channels: channels() }),
      makeObject('mast', 'Mast', 'locator', { channels: channels() }),
      makeObject('crew', 'Crew', 'group', { channels: { ...channels(), scale: [1.5, 0.7, 1] } }),
      makeObject('lantern', 'Lantern', 'prop', {
        parent: 'crew',
        channels: channels(),
        pivot: triple(random, 1),
      }),
    ];
    const nodes = [
      locator('hook'),
      locator('mast'),
      node('c', type, { settings: { object: 'lantern', ...settings }, inputs: inputs as never }),
      node('drive', 'drive-object', { settings: { object: 'lantern' } }),
    ];
    const two = ['hook.matrix > c.a', 'mast.matrix > c.b', 'c.carrier > drive.matrix'];
    const one = two.filter((w) => !w.startsWith('mast'));
    const wires = type === 'follow' || (type === 'aim-at' && (settings as { up?: string }).up !== 'target') ? one : two;
    return project([graph(nodes, wires)], [0, 0, 0], objects);
  };
  const with_ = (p: Project, snapshot: unknown): Project => ({
    ...p,
    graphs: p.graphs.map((g) => ({
      ...g,
      nodes: g.nodes.map((n) => (n.id === 'c' ? { ...n, settings: { ...n.settings, snapshot: snapshot as never } } : n)),
    })),
  });
  const taken = (p: Project) => with_(p, takeSnapshot(new Evaluator(CATALOGUE), p, 1, 'c'));
  const moved = (p: Project, random: () => number): Project => ({
    ...p,
    objects: p.objects.map((o) =>
      o.id === 'hook' || o.id === 'mast' ? { ...o, channels: at(triple(random, 6), triple(random, 180)) } : o,
    ),
  });
  const offset = {
    matrices: [Array.from(compose([0.4, -1, 2], [0.3, 1, -0.6], 'xyz', [1.2, 0.8, 1], [0.3, 0, 0.1]))],
  };

  for (const [name, type, settings, inputs] of [
    ['Aim At with a roll', 'aim-at', {}, { roll: 70 }],
    ['Aim At with a roll and an up target', 'aim-at', { up: 'target' }, { roll: -130 }],
    ['Aim At with a roll and least turn', 'aim-at', { up: 'none' }, { roll: 25 }],
    ['Hand-Over with an offset', 'hand-over', { offsets: offset }, { dial: 0.35, segment: 1 }],
    ['Hand-Over', 'hand-over', {}, { dial: 0.6 }],
    ['Between', 'between', { aims: true }, { weight: 0.3 }],
    ['Follow', 'follow', {}, {}],
  ] as const)
    test(`${name}: making it, and taking it again and again, never moves the object`, () => {
      for (let seed = 1; seed <= 20; seed++) {
        const random = randomFrom(seed);
        const p = scene(random, type, settings, inputs);
        const free = scene(randomFrom(seed), 'follow', {}, {}).objects;
        const plain = worldsAt(new Evaluator(CATALOGUE), { ...p, objects: free, graphs: [] }, ['lantern'], 1)[0];
        let q = taken(p);
        near(run(q, []).world('lantern'), plain, 7);
        for (let again = 0; again < 3; again++) {
          q = moved(q, random);
          const there = run(q, []).world('lantern');
          q = taken(q);
          near(run(q, []).world('lantern'), there, 7);
          // And it goes on working from there: twice is as once.
          near(run(taken(q), []).world('lantern'), there, 7);
        }
      }
    });

  test('after it, a roll is still the roll: turned back to 0 it is undone about the line to the target', () => {
    const p = taken(scene(randomFrom(4), 'aim-at', {}, { roll: 40 }));
    const rolled = run(p, []).world('lantern');
    const again = taken(p);
    const unrolled0 = (q: Project) => ({
      ...q,
      graphs: q.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => (n.id === 'c' ? { ...n, inputs: { roll: 0 } } : n)) })),
    });
    near(run(unrolled0(again), []).world('lantern'), run(unrolled0(p), []).world('lantern'), 7);
    near(run(again, []).world('lantern'), rolled, 7);
  });
});

describe('aiming a matrix', () => {
  test('its drawn axis points at the target and the other up, mirrored and sheared or not; size and place stay', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = randomFrom(seed);
      const signs = [0, 1, 2].map(() => (random() < 0.5 ? -1 : 1));
      const m = compose(
        triple(random, 5),
        triple(random, 3),
        'xyz',
        triple(random, 1.5).map((v, i) => signs[i] * (0.3 + Math.abs(v))) as unknown as Vec3,
        seed % 2 ? triple(random, 0.8) : [0, 0, 0],
      );
      const target = triple(random, 8);
      const [aimAxis, upAxis] = [
        ['z', 'y'],
        ['-x', 'z'],
        ['y', '-x'],
        ['-z', '-y'],
      ][seed % 4];
      const p = project([
        graph(
          [
            node('m', 'multiply-matrices'),
            node('t', 'build-matrix', { inputs: { translate: target as unknown as [number, number, number] } }),
            node('aim', 'aim-at', { settings: { for: 'matrix', aimAxis, upAxis } }),
          ],
          ['m.matrix > aim.from', 't.matrix > aim.a'],
        ),
      ]);
      // The matrix comes from an object's carrier, which can be any.
      const at0 = makeObject('any', 'Any', 'locator', { carrier: Array.from(m) });
      const q = {
        ...p,
        objects: [...p.objects, at0],
        graphs: p.graphs.map((g) => ({
          ...g,
          nodes: g.nodes.map((n) => (n.id === 'm' ? locator('any') : n)),
          wires: g.wires.map((w) => (w.from.node === 'm' ? { ...w, from: { node: 'any', port: 'matrix' } } : w)),
        })),
      };
      const { values, words } = run(q, ['aim.matrix']);
      expect(words).toEqual([]);
      const out = single(values[0]);
      const axis = (name: string) => column(out, 'xyz'.indexOf(name[name.length - 1])).map((v) => (name[0] === '-' ? -v : v));
      const way = unit(target.map((v, i) => v - m[12 + i]));
      near(unit(axis(aimAxis)), way, 7);
      // Up as far as the direction leaves it: what is square to the way points along what is left of up.
      const left = (v: readonly number[]) => unit(v.map((x, i) => x - way[i] * dot(v, way)));
      near(left(axis(upAxis)), left([0, 1, 0]), 6);
      near(out.slice(12, 15), column(m, 3), 9);
      // Turned as a whole: lengths and angles of its axes are as before, and so is which hand it has.
      for (const [a, b] of [
        [0, 0],
        [1, 1],
        [2, 2],
        [0, 1],
        [0, 2],
        [1, 2],
      ])
        expect(dot(column(out, a), column(out, b))).toBeCloseTo(dot(column(m, a), column(m, b)), 7);
      expect(isMirroring(Float64Array.from(out))).toBe(isMirroring(m));
    }
  });

  test('with least turn it turns no more than from where it pointed; at its own place it says so', () => {
    const p = (target: [number, number, number]) =>
      project([
        graph(
          [
            locator('here'),
            node('t', 'build-matrix', { inputs: { translate: target } }),
            node('aim', 'aim-at', { settings: { for: 'matrix', up: 'none' } }),
          ],
          ['here.matrix > aim.from', 't.matrix > aim.a'],
        ),
      ]);
    near(single(run(p([0, 0, 7]), ['aim.matrix']).values[0]), identity());
    const turned = single(run(p([5, 0, 5]), ['aim.matrix']).values[0]);
    near(turned, compose([0, 0, 0], [0, Math.PI / 4, 0], 'xyz', [1, 1, 1]));
    const { values, words } = run(p([0, 0, 0]), ['aim.matrix']);
    near(single(values[0]), identity());
    expect(words).toEqual([expect.stringMatching(/no direction/)]);
  });
});

describe('limits of a mirrored matrix', () => {
  const limitedBy = (m: Matrix, settings: object, inputs: object = {}) => {
    const from = makeObject('any', 'Any', 'locator', { carrier: Array.from(m) });
    const p = project(
      [
        graph(
          [locator('any'), node('l', 'limits', { settings: settings as never, inputs: inputs as never })],
          ['any.matrix > l.matrix'],
        ),
      ],
      [0, 0, 0],
      [from],
    );
    return single(run(p, ['l.matrix']).values[0]);
  };
  test('a mirror that is not turned is left alone, along any axis, with any order; a turned one is turned back', () => {
    for (const order of ROTATION_ORDERS)
      for (const size of [
        [-1, 1, 1],
        [1, -1.5, 1],
        [1, 1, -0.7],
        [-1, -1, -1],
        [1, 1, 1],
      ] as const) {
        const all = { translate: true, rotate: true, scale: true, order };
        const m = compose([0.5, 0.2, -0.3], [0, 0, 0], order, [...size], [0.2, 0, 0.1]);
        near(limitedBy(m, all), m);
        const little = compose([0, 0, 0], [0.3, -0.2, 0.4], order, [...size]);
        near(limitedBy(little, all), little);
        // 70° about y comes back to 45°.
        const far = compose([0, 0, 0], [0, 70 * RADIANS, 0], order, [...size]);
        near(limitedBy(far, all), compose([0, 0, 0], [0, 45 * RADIANS, 0], order, [...size]));
      }
    // Sizes are limited as they are without the mirror, unless the range reaches below 0.
    const large = compose([0, 0, 0], [0, 0, 0], 'xyz', [-3, 1, 1]);
    near(limitedBy(large, { translate: false, scale: true }), compose([0, 0, 0], [0, 0, 0], 'xyz', [-2, 1, 1]));
    near(
      limitedBy(large, { translate: false, scale: true }, { scaleMin: [-1, 0, 0], scaleMax: [2, 2, 2] }),
      compose([0, 0, 0], [0, 0, 0], 'xyz', [-1, 1, 1]),
    );
  });
});

describe('turns over frames', () => {
  test('do not spike where the middle one is a quarter turn exactly, in any order, either way', () => {
    for (const order of ROTATION_ORDERS)
      for (const way of [1, -1]) {
        const [first, middle, last] = [0, 1, 2].map((i) => 'xyz'.indexOf(order[i]));
        // The middle turn goes through 90° at one frame (or stays near it), the others go on.
        const track = (a: number, b: number, shape: 'straight' = 'straight') => ({
          keys: trackOf([makeKey(1, a, { shape }), makeKey(21, b, { shape })]),
        });
        const names = ['x', 'y', 'z'].map((a) => `rotate.${a}`);
        const boat: ObjectRecord = makeObject('boat', 'Boat', 'group', {
          channels: { translate: [0, 0, 0], rotate: [0, 0, 0], order, scale: [1, 1, 1] },
          animated: { [names[middle]]: track(way * 40, way * 140), [names[first]]: track(10, 60), [names[last]]: track(-30, 20) },
        });
        const p = project([], [0, 0, 0], [boat]);
        const frames = Array.from({ length: 21 }, (_, i) => i + 1);
        const [{ rows }] = sampleObjects(new Evaluator(CATALOGUE), p, ['boat'], frames).map(channelsOver);
        for (const name of names)
          for (let i = 1; i < rows.length; i++)
            expect(Math.abs(rows[i][name] - rows[i - 1][name]), `${order} ${name} ${i}`).toBeLessThan(6);
        rows.forEach((r, i) => {
          const angles = names.map((n) => r[n] * RADIANS) as unknown as Vec3;
          near(
            compose([0, 0, 0], angles, order, [1, 1, 1]).slice(0, 11),
            worldsAt(new Evaluator(CATALOGUE), p, ['boat'], i + 1)[0].slice(0, 11),
            8,
          );
        });
      }
  });

  test('near a quarter turn they make up the matrix they came from', () => {
    for (const order of ROTATION_ORDERS)
      for (const off of [0, 1e-12, 1e-9, 1e-8, 1e-7, 1e-5, 1e-3])
        for (const way of [1, -1]) {
          const angles: [number, number, number] = [0, 0, 0];
          angles['xyz'.indexOf(order[0])] = 0.7;
          angles['xyz'.indexOf(order[1])] = way * (Math.PI / 2 - off);
          angles['xyz'.indexOf(order[2])] = -1.9;
          const m = compose([0, 0, 0], angles, order, [1, 1, 1]);
          const found = decompose(m, order).anglesInRadians;
          near(compose([0, 0, 0], found, order, [1, 1, 1]), m, 8);
          const turned = unrolled(found.map((a) => a / RADIANS) as unknown as Vec3, [200, -340, 95], order);
          near(compose([0, 0, 0], turned.map((a) => a * RADIANS) as unknown as Vec3, order, [1, 1, 1]), m, 7);
        }
  });

  test('a parent that is flat for a frame keeps its children under it, where they are', () => {
    const flat = { keys: trackOf([makeKey(1, 1, { shape: 'straight' }), makeKey(5, 0, { shape: 'straight' }), makeKey(9, 1)]) };
    const raft = makeObject('raft', 'Raft', 'group', { channels: at([1, 2, 0], [0, 30, 0]), animated: { 'scale.y': flat } });
    const crate = makeObject('crate', 'Crate', 'prop', {
      parent: 'raft',
      channels: at([0, 1, 2], [10, 0, 40]),
    });
    const p = project([], [0, 0, 0], [raft, crate]);
    const frames = [1, 3, 5, 7, 9];
    const samples = sampleObjects(new Evaluator(CATALOGUE), p, ['crate'], frames);
    expect(samples.map((s) => s.parent)).toEqual([null, 'raft']);
    frames.forEach((frame, f) =>
      near(product(samples[0].matrices[f], samples[1].matrices[f]), worldsAt(new Evaluator(CATALOGUE), p, ['crate'], frame)[0]),
    );
  });
});
