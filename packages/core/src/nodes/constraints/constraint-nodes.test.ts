import { CATALOGUE } from '../index.ts';
import { describe, expect, test } from 'vitest';
import { Evaluator } from '../../graph/evaluate/evaluator.ts';
import { problemWords } from '../../graph/node/problems.ts';
import { restProblems } from '../../graph/readouts/rest-check.ts';
import { takeSnapshot } from '../../edits/take-snapshot.ts';
import { identity, multiply, positionOf, product, transformPoint, type Matrix } from '../../maths/matrix.ts';
import { compose } from '../../maths/factors.ts';
import { type ObjectRecord, type CommonFields } from '../../project/kinds/index.ts';
import { type GraphRecord, type Project } from '../../project/schema.ts';
import { makeKey, trackOf } from '../../scene/keys.ts';
import { switchWithoutPop } from '../../edits/switch.ts';
import { parentMatrix, worldMatrix } from '../../scene/world.ts';
import { objectsById } from '../../scene/objects.ts';
import { graph, meshOf, node, project } from '../../testing/build.ts';
import { at, CREW, HOOK, LANTERN, locator, MAST, near, run, single } from '../../testing/quay.ts';

const change = (p: Project, id: string, to: Partial<CommonFields>): Project => ({
  ...p,
  objects: p.objects.map((o) => (o.id === id ? { ...o, ...to } : o)),
});
const withSetting = (p: Project, id: string, settings: object): Project => ({
  ...p,
  graphs: p.graphs.map((g): GraphRecord => ({
    ...g,
    nodes: g.nodes.map((n) => (n.id === id ? { ...n, settings: { ...n.settings, ...settings } } : n)),
  })),
});

test('numbers that are not finite leave a driven channel as it is, and say so', () => {
  const p = project(
    [
      graph(
        [
          node('n', 'number', { inputs: { value: { expression: '1 / (frame - 5)' } } }),
          node('drive', 'drive-object', { settings: { object: 'mast', is: 'channels', translate: 'y' } }),
        ],
        ['n.number > drive.translate'],
      ),
    ],
    [0, 0, 0],
    [MAST],
  );
  const good = run(p, [], 6);
  near(positionOf(good.world('mast')), [8, 1, 1]);
  expect(good.words).toEqual([]);
  const bad = run(p, [], 5);
  near(positionOf(bad.world('mast')), [8, 3, 1]);
  expect(bad.words.join(' ')).toMatch(/not (a )?finite|not a number|infinite/i);
});

describe('Drive Object', () => {
  const drive = (is: string) =>
    project(
      [
        graph(
          [
            node('m', 'build-matrix', { inputs: { translate: [0, 2, 0], rotate: [0, 90, 0] } }),
            node('drive', 'drive-object', { settings: { object: 'lantern', is } }),
          ],
          ['m.matrix > drive.matrix'],
        ),
      ],
      [0, 0, 0],
      [CREW, LANTERN],
    );
  const M = compose([0, 2, 0], [0, Math.PI / 2, 0], 'xyz', [1, 1, 1]);

  test('a carrier, a change of the world, or a place: each as DECISIONS says, with channels free', () => {
    for (const rotated of [0, 20]) {
      const channels = at([0.5, 4, 0], [rotated, 0, 0]);
      const carried = change(drive('carrier'), 'lantern', { channels });
      const objects = objectsById(carried.objects);
      const lantern = objects.get('lantern') as ObjectRecord;
      const plain = worldMatrix(objects, 'lantern');
      const P = parentMatrix(objects, lantern);
      const L = multiply(identity(), new Float64Array(inverse(P)), plain);
      near(run(carried, []).world('lantern'), product(P, M, L));
      near(run(change(drive('world-change'), 'lantern', { channels }), []).world('lantern'), multiply(identity(), M, plain));
    }
    near(run(drive('target-world'), []).world('lantern'), M);
  });

  test('channels are driven by number, others stay free; two writers are named', () => {
    const p = project(
      [
        graph(
          [
            node('n', 'number', { inputs: { value: 7 } }),
            node('drive', 'drive-object', { settings: { object: 'lantern', is: 'channels', translate: 'y', own: 'glow' } }),
            node('second', 'drive-object', { settings: { object: 'lantern', is: 'channels', scale: 'all' } }),
          ],
          ['n.number > drive.translate', 'n.number > drive.own'],
        ),
      ],
      [0, 0, 0],
      [{ ...LANTERN, parent: null, custom: [{ id: 'glow', name: 'glow', value: 0, default: 0, min: 0, max: 10, unit: '' }] }],
    );
    const { world, words, evaluation } = run(p, []);
    expect(words).toEqual([]);
    near(positionOf(world('lantern')), [0.5, 7, 0]);
    expect(evaluation.driven('lantern')?.channels).toEqual({
      'translate.y': 7,
      glow: 7,
      'scale.x': 1,
      'scale.y': 1,
      'scale.z': 1,
    });
    const both = run(withSetting(p, 'second', { translate: 'all', scale: 'none' }), []);
    expect(both.words[0]).toBe('"move y" of "Lantern" is also driven by "Drive Object". Leave one of them out.');
  });

  test('a dial of the object drives its own channel; a follows b follows a is a loop that is named', () => {
    const dial = project(
      [
        graph(
          [
            node('read', 'read-channel', { settings: { object: 'lantern', channel: 'glow' } }),
            node('drive', 'drive-object', { settings: { object: 'lantern', is: 'channels', rotate: 'y' } }),
          ],
          ['read.value > drive.rotate'],
        ),
      ],
      [0, 0, 0],
      [{ ...LANTERN, parent: null, custom: [{ id: 'glow', name: 'glow', value: 30, default: 0, min: 0, max: 90, unit: '°' }] }],
    );
    expect(run(dial, []).evaluation.driven('lantern')?.channels).toEqual({ 'rotate.y': 30 });
    const circle = project(
      [
        graph(
          [
            locator('hook'),
            locator('mast'),
            node('d1', 'drive-object', { settings: { object: 'mast' } }),
            node('d2', 'drive-object', { settings: { object: 'hook' } }),
          ],
          ['hook.matrix > d1.matrix', 'mast.matrix > d2.matrix'],
        ),
      ],
      [0, 0, 0],
      [HOOK, MAST, CREW, LANTERN],
    );
    const { words, world } = run(circle, []);
    expect(words.find((w) => w.startsWith('This is part of a loop'))).toMatch(
      /Mast \(carrier\) → Mast \(world\).*Crane hook \(world\)/,
    );
    near(positionOf(world('lantern')), positionOf(worldMatrix(objectsById(circle.objects), 'lantern')));
  });
});

test('multiplied in the wrong order, it says how far the object jumps at rest, and which order keeps it', () => {
  const wires = (first: string, second: string) => [
    'hook.rest > back.matrix',
    `${first} > both.a`,
    `${second} > both.b`,
    'both.matrix > drive.matrix',
  ];
  const by = (first: string, second: string) =>
    project(
      [
        graph(
          [
            locator('hook'),
            node('back', 'invert-matrix'),
            node('both', 'multiply-matrices'),
            node('drive', 'drive-object', { settings: { object: 'mast', is: 'world-change' } }),
          ],
          wires(first, second),
        ),
      ],
      [0, 0, 0],
      [{ ...HOOK, rest: at([0, 2, 0], [0, 70, 0]) }, MAST],
    );
  expect(restProblems(new Evaluator(CATALOGUE), by('back.matrix', 'hook.matrix')).size).toBe(0);
  const wrong = restProblems(new Evaluator(CATALOGUE), by('hook.rest', 'hook.matrix')).get('drive');
  expect(wrong?.code).toBe('moves-at-rest');
  expect(wrong && problemWords(wrong)).toMatch(/With everything at rest this puts "Mast" [0-9.]+ m from where it rests/);
  const turned = project(
    [
      graph(
        [
          node('a', 'build-matrix', { inputs: { translate: [1, 0, 0] } }),
          node('b', 'build-matrix', { inputs: { rotate: [0, 90, 0] } }),
          node('c', 'build-matrix', { inputs: { translate: [-1, 0, 0], rotate: [0, -90, 0] } }),
          node('both', 'multiply-matrices', { settings: { rows: 3 } }),
          node('drive', 'drive-object', { settings: { object: 'mast' } }),
        ],
        ['a.matrix > both.a', 'c.matrix > both.b', 'b.matrix > both.c', 'both.matrix > drive.matrix'],
      ),
    ],
    [0, 0, 0],
    [MAST],
  );
  const order = restProblems(new Evaluator(CATALOGUE), turned).get('both');
  expect(order && problemWords(order)).toContain('In the order "Build Matrix", then');
});

describe('constraints with a snapshot', () => {
  const made = (type: string, settings: object, inputs: Record<string, number> = {}) => {
    const p = project(
      [
        graph(
          [
            locator('hook'),
            locator('mast'),
            node('c', type, { settings: { object: 'lantern', ...settings }, inputs }),
            node('drive', 'drive-object', { settings: { object: 'lantern' } }),
          ],
          type === 'follow'
            ? ['hook.matrix > c.a', 'c.carrier > drive.matrix']
            : ['hook.matrix > c.a', 'mast.matrix > c.b', 'c.carrier > drive.matrix'],
        ),
      ],
      [0, 0, 0],
      [HOOK, MAST, CREW, LANTERN],
    );
    expect(run(p, []).words).toContain('It does not know yet where everything stood. Press "Take snapshot now" in the settings.');
    const snapshot = takeSnapshot(new Evaluator(CATALOGUE), p, 1, 'c');
    expect(snapshot?.drivers.length).toBe(type === 'follow' ? 1 : 2);
    return withSetting(p, 'c', { snapshot });
  };
  const plain = () => worldMatrix(objectsById([HOOK, MAST, CREW, LANTERN]), 'lantern');

  test('making one never moves the object; the driver takes it along; its channels stay free', () => {
    for (const [type, settings, inputs] of [
      ['follow', {}, {}],
      ['hand-over', {}, { dial: 0.4 }],
      ['between', { aims: true }, { weight: 0.3 }],
      ['aim-at', { up: 'target' }, {}],
    ] as const) {
      const p = made(type, settings, inputs);
      near(run(p, []).world('lantern'), plain());
      const moved = change(p, 'hook', { channels: at([1, 7, 2], [0, 80, 10]) });
      const there = run(moved, []);
      expect(there.words).toEqual([]);
      expect(
        Math.hypot(...positionOf(there.world('lantern')).map((v, i) => v - plain()[12 + i])) > 0.1 || type === 'aim-at',
      ).toBe(true);
      // Taken again while it is at work, the object stays where it is now.
      const again = withSetting(moved, 'c', {
        snapshot: takeSnapshot(new Evaluator(CATALOGUE), moved, 1, 'c'),
      });
      near(run(again, []).world('lantern'), there.world('lantern'), 8);
    }
  });

  test('weights that sum to 0 leave the object where it stood, whatever its drivers do, and say so', () => {
    const zero = /All weights are 0, so the object stays where it was/;
    const p = made('hand-over', { by: 'weights' }, { 'weight-a': 0, 'weight-b': 0 });
    const away = change(p, 'hook', { channels: at([1, 7, 2], [0, 80, 10]) });
    for (const q of [p, away]) {
      const { words, world } = run(q, []);
      expect(words).toEqual([expect.stringMatching(zero)]);
      near(world('lantern'), plain());
    }
    const third = {
      from: { node: 'hook', port: 'matrix' },
      to: { node: 'c', port: 'c' },
      id: 'third',
      pins: [],
    };
    const of = (weight: number) => {
      const two = made('between', {});
      const three = {
        ...two,
        graphs: two.graphs.map((g) => ({
          ...g,
          wires: [...g.wires, third],
          nodes: g.nodes.map((n) =>
            n.id === 'c'
              ? {
                  ...n,
                  settings: { ...n.settings, drivers: 3 },
                  inputs: { 'weight-a': weight, 'weight-b': weight, 'weight-c': weight },
                }
              : n,
          ),
        })),
      };
      const taken = withSetting(three, 'c', {
        snapshot: takeSnapshot(new Evaluator(CATALOGUE), three, 1, 'c'),
      });
      return run(change(taken, 'hook', { channels: at([0, 8, 0]) }), []);
    };
    expect(of(0).words).toEqual([expect.stringMatching(zero)]);
    near(of(0).world('lantern'), plain());
    // Any other sum is taken as shares: two thirds of three metres.
    expect(of(0.2).words).toEqual([]);
    near(
      positionOf(of(0.2).world('lantern')),
      positionOf(plain()).map((v, i) => v + (i === 1 ? 2 : 0)),
    );
  });

  test('the lantern keeps its offset to the hook at 0 and to the mast at 1, moved by channels on the way', () => {
    const p = made('hand-over', {});
    const D0 = (id: string) => worldMatrix(objectsById([HOOK, MAST]), id);
    const moved = change(change(p, 'hook', { channels: at([3, 6, 0], [0, -40, 0]) }), 'mast', {
      channels: at([9, 3, 4], [0, 90, 25]),
    });
    const nudged = change(moved, 'lantern', { channels: at([0.5, 4.25, 0.1], [0, 15, 0]) });
    const loose = worldMatrix(objectsById(nudged.objects), 'lantern');
    for (const [dial, id] of [
      [0, 'hook'],
      [1, 'mast'],
    ] as const) {
      const turned = {
        ...nudged,
        graphs: nudged.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => (n.id === 'c' ? { ...n, inputs: { dial } } : n)) })),
      };
      const D = worldMatrix(objectsById(nudged.objects), id);
      const expected = product(D, Float64Array.from(inverse(D0(id))), loose);
      near(run(turned, []).world('lantern'), expected, 8);
    }
  });

  test('a switch whose pose channels cannot hold gets an offset matrix, and does not move the object by a hair', async () => {
    const dial = { id: 'to', name: 'to', value: 0, default: 0, min: 0, max: 1, unit: '' };
    const asked = made('hand-over', {});
    const p = {
      ...change(change(asked, 'lantern', { custom: [dial] }), 'mast', { channels: at([9, 3, 4], [0, 40, 25], [1, 3, 0.5]) }),
      graphs: asked.graphs.map((g) => ({
        ...g,
        nodes: [...g.nodes, node('read', 'read-channel', { settings: { object: 'lantern', channel: 'to' } })],
        wires: [...g.wires, { id: 'dial', from: { node: 'read', port: 'value' }, to: { node: 'c', port: 'dial' }, pins: [] }],
      })),
    };
    const worldAt = (q: Project, frame: number) => run(q, [], frame).world('lantern');
    const worlds = (q: Project, frames: readonly number[]) =>
      Promise.resolve(Float64Array.from(frames.flatMap((f) => [...worldAt(q, f)])));
    const there = await switchWithoutPop(CATALOGUE, p, 'lantern', 'to', 1, 20, worlds);
    expect(there?.residual).toBe(0);
    const again = await switchWithoutPop(CATALOGUE, there!.project, 'lantern', 'to', 0, 40, worlds);
    for (const frame of [1, 19, 20, 39, 40, 60]) near(worldAt(again!.project, frame), worldAt(p, frame), 9);
    expect(again!.project.graphs[0].nodes.find((n) => n.id === 'c')?.settings.offsets).toMatchObject({
      matrices: [{ length: 16 }, { length: 16 }],
    });
    // It was a switch: what the mast does from frame 20 to 39 takes the lantern along.
    const moved = change(again!.project, 'mast', { channels: at([9, 5, 4], [0, 40, 25], [1, 3, 0.5]) });
    near(
      positionOf(worldAt(moved, 30)),
      positionOf(worldAt(p, 30)).map((v, i) => v + [0, 2, 0][i]),
      8,
    );
    near(worldAt(moved, 50), worldAt(p, 50), 9);
  });

  test('a parent of no size, and a driver that is gone, are said in a sentence, and the object stays at rest', () => {
    const p = made('follow', {});
    const flat = run(change(p, 'crew', { channels: at([1, 0, 0], [0, 0, 0], [1, 0, 1]) }), []);
    expect(flat.words[0]).toMatch(/cannot be inverted/);
    // A driver of no size has no turn that could be mixed with another's.
    const handed = (dial: number) =>
      change(made('hand-over', {}, { dial }), 'mast', { channels: at([8, 3, 1], [10, 0, 20], [1, 0, 1]) });
    const mixed = run(handed(0.5), []);
    expect(mixed.words[0]).toMatch(/cannot be inverted .* so the object stays at rest/);
    near(mixed.world('lantern'), plain());
    expect(run(handed(0), []).words).toEqual([]);
    const gone = { ...p, objects: p.objects.filter((o) => o.id !== 'hook') };
    const { words, world } = run(gone, []);
    expect(words[0]).toBe('The object chosen in "Locator" is no longer in the scene. Choose another in the settings.');
    near(world('lantern'), plain());
  });
});

describe('time', () => {
  test('At Frame gives a driver as it was six frames ago, with everything behind it', () => {
    const moving = {
      ...HOOK,
      animated: {
        'translate.x': { keys: trackOf([makeKey(1, 0, { shape: 'straight' }), makeKey(25, 24, { shape: 'straight' })]) },
      },
    };
    const p = project(
      [
        graph(
          [
            locator('hook'),
            node('lag', 'at-frame', { settings: { frames: 6 } }),
            node('drive', 'drive-object', { settings: { object: 'mast', is: 'target-world' } }),
          ],
          ['hook.matrix > lag.value', 'lag.value > drive.matrix'],
        ),
      ],
      [0, 0, 0],
      [moving, MAST],
    );
    const evaluator = new Evaluator(CATALOGUE);
    const x = (frame: number) => positionOf(run(p, [], frame, evaluator).world('mast'))[0];
    expect(x(13)).toBeCloseTo(6, 9);
    expect(x(2)).toBeCloseTo(0, 9);
    expect(x(13)).toBeCloseTo(6, 9);
    expect(positionOf(run(p, [], 13, evaluator).world('hook'))[0]).toBeCloseTo(12, 9);
  });

  test('what reads itself at another frame is a loop, named as any other', () => {
    const lag = (settings: Record<string, unknown>) => node('lag', 'at-frame', { settings: { what: 'matrix', ...settings } });
    const driven = node('drive', 'drive-object', { settings: { object: 'hook', is: 'target-world' } });
    for (const settings of [{ frames: 6 }, { frames: -1 }, { frames: 0 }, { when: 'at', frames: 3 }]) {
      const itself = run(
        project(
          [graph([locator('hook'), lag(settings), driven], ['hook.matrix > lag.value', 'lag.value > drive.matrix'])],
          [0, 0, 0],
          [HOOK],
        ),
        ['lag.value'],
      );
      expect(
        itself.words.some((w) => /^This is part of a loop: .*Crane hook/.test(w)),
        itself.words[0],
      ).toBe(true);
      near(itself.world('hook'), run(project([], [0, 0, 0], [HOOK]), []).world('hook'));
      const round = run(
        project([
          graph(
            [lag(settings), node('back', 'invert-matrix'), node('on', 'invert-matrix')],
            ['lag.value > back.matrix', 'back.matrix > lag.value', 'back.matrix > on.matrix'],
          ),
        ]),
        ['on.matrix', 'lag.value'],
      );
      expect(round.words.filter((w) => w.startsWith('This is part of a loop: ')).length).toBe(2);
      expect(round.words.some((w) => /^Waits for/.test(w))).toBe(true);
    }
  });

  test('frames behind frames behind frames are bounded', () => {
    // Each pair adds what is behind it to the same some frames earlier: so many frames as subsets of the pairs.
    const pairs = (many: number) => {
      const nodes = [
        node('time', 'number', { inputs: { value: { expression: 'frame' } } }),
        ...Array.from({ length: many }, (_, i) => [
          node(`lag${i}`, 'at-frame', { settings: { what: 'number', frames: 2 ** i } }),
          node(`sum${i}`, 'arithmetic'),
        ]).flat(),
      ];
      const wires = Array.from({ length: many }, (_, i) => {
        const from = i === 0 ? 'time.number' : `sum${i - 1}.result`;
        return [`${from} > lag${i}.value`, `${from} > sum${i}.a`, `lag${i}.value > sum${i}.b`];
      }).flat();
      return run(project([graph(nodes, wires)]), [`sum${many - 1}.result`], 100);
    };
    const { values, words } = pairs(6);
    expect(words).toEqual([]);
    // Of 64 frames, 100 less every number from 0 to 63.
    expect(single(values[0])).toEqual([64 * 100 - (63 * 64) / 2]);
    expect(pairs(20).words.some((w) => /needs more than 500 other frames at once/.test(w))).toBe(true);
  });

  test('keys in an input and in a channel are worked out at the frame', () => {
    const keys = {
      keys: trackOf([makeKey(1, 1, { shape: 'straight' }), makeKey(11, 2, { shape: 'straight' })]),
    };
    const p = project([graph([node('n', 'number', { inputs: { value: keys } })], [])]);
    expect(single(run(p, ['n.number'], 6).values[0])).toEqual([1.5]);
  });
});

test('Ride Surface stays on its face of a twisting mesh and never slides', () => {
  const nodes = [
    node('in', 'scene-mesh', { settings: { object: 'fish' } }),
    node('remember', 'remember-rest'),
    node('twist', 'twist', { inputs: { angle: { expression: 'frame * 5' } } }),
    node('ride', 'ride-surface', { inputs: { place: [0.9, 0.3, 0.4] } }),
  ];
  const p = project([graph(nodes, ['in.mesh > remember.mesh', 'remember.mesh > twist.mesh', 'twist.mesh > ride.mesh'])]);
  const evaluator = new Evaluator(CATALOGUE);
  const places = [0, 6, 12].map(
    (frame) => run(p, ['ride.matrix', 'ride.change', 'ride.face', 'twist.mesh'], frame, evaluator).values,
  );
  near(single(places[0][1]), identity());
  const first = single(places[0][0]).slice(12, 15) as [number, number, number];
  for (const [matrix, changeOf, face, mesh] of places) {
    expect(single(face)).toEqual(single(places[0][2]));
    near(transformPoint(Float64Array.from(single(changeOf)), first), single(matrix).slice(12, 15));
    // On the plane of its face: its normal is the frame's y axis, and the place lies in it.
    const m = meshOf(mesh);
    const corner = m.topology.cornerPoints[m.topology.faceStarts[single(face)[0]]] * 3;
    expect(Math.hypot(...[0, 1, 2].map((i) => single(matrix)[12 + i] - m.positions[corner + i]))).toBeLessThan(0.6);
  }
});

/** An inverse by gl-matrix-free means: the adjugate is what `invert` uses, so here rigid matrices are transposed. */
function inverse(m: Readonly<Matrix>): number[] {
  const out = Array.from(identity());
  for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[c * 4 + r] = m[r * 4 + c];
  for (let r = 0; r < 3; r++) out[12 + r] = -(out[r] * m[12] + out[4 + r] * m[13] + out[8 + r] * m[14]);
  return out;
}
