import { expect, test } from 'vitest';
import { Evaluator } from '../../graph/evaluate/evaluator.ts';
import type { ChainValue, Column, GeometryValue, MatricesValue, Single } from '../../graph/node/values.ts';
import { makeObject, type ObjectRecord } from '../../project/kinds/index.ts';
import type { Project } from '../../project/schema.ts';
import { makeTube } from '../../geometry/solids.ts';
import { graph, node, project } from '../../testing/build.ts';
import { at, near, run, single } from '../../testing/quay.ts';
import { CATALOGUE } from '../index.ts';

/** A heron's leg: a chain under a boat, with a lantern that hangs on the ankle. */
const JOINTS: [string, string, [number, number, number], [number, number, number]][] = [
  ['hip', 'heron', [0, 2, 0], [0, 0, 10]],
  ['knee', 'hip', [0, -1, 0.1], [5, 0, 0]],
  ['ankle', 'knee', [0, -1, -0.1], [0, 20, 0]],
  ['toe', 'ankle', [0, -0.1, 0.3], [0, 0, 0]],
];
const heron = (changes: Partial<Record<string, object>> = {}): ObjectRecord[] => [
  makeObject('boat', 'Boat', 'group', { channels: at([3, 0, 1], [0, 30, 0]) }),
  makeObject('heron', 'Heron', 'chain', { parent: 'boat', channels: at([0, 0.5, 0]) }),
  ...JOINTS.map(([id, parent, t, r]) =>
    makeObject(id, `${id[0].toUpperCase()}${id.slice(1)}`, 'joint', { parent, channels: at(t, r), rest: at(t), ...changes[id] }),
  ),
  makeObject('ring', 'Ring', 'prop', { parent: 'ankle', channels: at([0, 0.2, 0]) }),
  makeObject('goal', 'Goal', 'locator', { channels: at([3.2, 0.9, 1.4], [0, 0, 40]) }),
];
const scene = (pose: string) => node('scene', 'scene-chain', { settings: { object: 'heron', pose } });
const drive = (settings = {}) => node('drive', 'drive-chain', { settings: { object: 'heron', ...settings } });
const goal = node('goal', 'scene-locator', { settings: { object: 'goal' } });
const bend = node('bend', 'bend-chain', { settings: { tip: 'Ankle' }, inputs: { soft: 0 } });
const solved = (objects = heron(), extra: Parameters<typeof drive>[0] = {}, pose = 'channels'): Project =>
  project(
    [
      graph(
        [scene(pose), goal, bend, drive(extra)],
        ['scene.chain > bend.chain', 'goal.matrix > bend.target', 'bend.chain > drive.chain'],
      ),
    ],
    [0, 0, 0],
    objects,
  );

test('a chain that is driven by its own channels stands where it stood, and so does what hangs on it', () => {
  const still = project([graph([scene('channels'), drive()], ['scene.chain > drive.chain'])], [0, 0, 0], heron());
  const plain = run(project([], [0, 0, 0], heron()), []);
  const driven = run(still, []);
  expect(driven.words).toEqual([]);
  for (const id of ['hip', 'knee', 'ankle', 'toe', 'ring']) near(driven.world(id), plain.world(id), 12);
});

test('the ankle goes to its goal, and the ring on it goes along; channels turn joints on top of a pose from rest', () => {
  const { world, words } = run(solved(), []);
  expect(words).toEqual([]);
  near(world('ankle').slice(12, 15), [3.2, 0.9, 1.4], 9);
  const local = run(project([], [0, 0, 0], heron()), []);
  // As the ankle sees it, the ring is where it was.
  const offset = (w: (id: string) => Float64Array) => {
    const [a, r] = [w('ankle'), w('ring')];
    return [0, 1, 2].map((k) => [0, 1, 2].reduce((s, i) => s + a[k * 4 + i] * (r[12 + i] - a[12 + i]), 0));
  };
  near(offset(world), offset(local.world), 9);
  const onTop = run(solved(heron(), { own: 'on-top' }, 'rest'), []);
  // From rest the ankle is at the goal before its own channels and those above turn it on.
  expect(Math.hypot(...[0, 1, 2].map((k) => onTop.world('ankle')[12 + k] - [3.2, 0.9, 1.4][k]))).toBeGreaterThan(0.05);
  const free = heron(Object.fromEntries(JOINTS.map(([id, , t]) => [id, { channels: at(t) }])));
  near(
    run(solved(free, { own: 'on-top' }, 'rest'), [])
      .world('ankle')
      .slice(12, 15),
    [3.2, 0.9, 1.4],
    9,
  );
});

test('reading joints as they stand in the graph that drives them is a loop, told in full; by their channels it is none', () => {
  const { words } = run(solved(heron(), {}, 'posed'), []);
  expect(words.join(' ')).toContain('Heron');
  expect(words.join(' ')).toMatch(/loop|round/i);
  // A second graph may read what the first one drove.
  const p = solved();
  const second = graph(
    [
      node('seen', 'scene-chain', { settings: { object: 'heron', pose: 'posed' } }),
      node('read', 'joint', { settings: { joint: 'Ankle' } }),
    ],
    ['seen.chain > read.chain'],
    'second',
  );
  const { values, world } = run({ ...p, graphs: [...p.graphs, second] }, ['read.matrix']);
  near(single(values[0]), world('ankle'), 12);
});

test('what hangs on a joint is worked out again only when what moves that joint changes', () => {
  const evaluator = new Evaluator(CATALOGUE);
  const reader = graph([node('ring', 'scene-locator', { settings: { object: 'ring' } })], [], 'reader');
  const runs = (p: Project) => {
    const before = run({ ...p, graphs: [...p.graphs, reader] }, ['ring.matrix'], 1, evaluator);
    return before.values[0] as Single;
  };
  const p = solved();
  const first = runs(p);
  // The toe hangs below: moving it changes the incoming pose of the whole, but not where the ring is.
  const moved = { ...p, objects: p.objects.map((o) => (o.id === 'boat' ? { ...o, name: 'Other boat' } : o)) };
  expect(runs(moved).data).toEqual(first.data);
});

test('keys of joints move the pose; a joint with limits and stiffness hands them on', () => {
  const objects = heron({
    hip: {
      animated: {
        'rotate.x': { expression: '(frame - 1) * 9' },
      },
      stiffness: 0.5,
      mass: 3,
    },
  });
  const p = project([graph([scene('posed')], [])], [0, 0, 0], objects as ObjectRecord[]);
  const value = (frame: number) => (run(p, ['scene.chain'], frame).values[0] as ChainValue).chain;
  expect(value(1).posed).not.toEqual(value(6).posed);
  expect(value(1).rest).toEqual(value(6).rest);
  expect(value(1).traits[0]).toEqual({ stiffness: 0.5, mass: 3, limit: null });
});

test('joints are read in three spaces, several by a pattern, set and moved', () => {
  const read = (settings: object, inputs: string[] = [], extra: ReturnType<typeof node>[] = []) =>
    run(
      project(
        [
          graph(
            [scene('channels'), node('joint', 'joint', { settings: { ...settings } }), ...extra],
            ['scene.chain > joint.chain', ...inputs],
          ),
        ],
        [0, 0, 0],
        heron(),
      ),
      ['joint.matrix', 'joint.rest', 'joint.chain'],
    );
  const parent = read({ joint: 'Knee', space: 'parent' }).values;
  near(single(parent[0]).slice(12, 15), [0, -1, 0.1], 9);
  const own = read({ joint: 'Knee', space: 'own' }).values;
  near(single(own[0]).slice(12, 15), [0, 0, 0], 9);
  near(single(own[1]), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], 9);
  const many = read({ joint: '*e' }).values[0] as MatricesValue;
  expect(many.count).toBe(3);
  const put = read({ joint: 'Knee', does: 'set' }, ['goal.matrix > joint.matrix'], [goal]);
  near(single(put.values[0]).slice(12, 15), [3.2, 0.9, 1.4], 9);
  const chain = (put.values[2] as ChainValue).chain;
  const plain = (read({ joint: 'Knee' }).values[2] as ChainValue).chain;
  const far = (c: typeof chain) => Math.hypot(...[0, 1, 2].map((k) => c.posed[2 * 16 + 12 + k] - c.posed[16 + 12 + k]));
  expect(far(chain)).toBeCloseTo(far(plain), 9);
  expect(read({ joint: 'Wing' }).words.join()).toContain('no joint "Wing"');
});

test('poses are mixed by a dial and a mask; poses of other joints are refused', () => {
  const mix = (mask: number, dial: number) =>
    run(
      project(
        [
          graph(
            [
              scene('channels'),
              node('rest', 'scene-chain', { settings: { object: 'heron', pose: 'rest' } }),
              node('mix', 'blend-poses', { inputs: { dial, mask } }),
            ],
            ['scene.chain > mix.a', 'rest.chain > mix.b'],
          ),
        ],
        [0, 0, 0],
        heron(),
      ),
      ['mix.chain', 'scene.chain', 'rest.chain'],
    ).values.map((v) => (v as ChainValue).chain.posed);
  const [whole, now, rest] = mix(1, 1);
  near(whole, rest, 12);
  near(mix(0, 1)[0], now, 12);
  const half = mix(1, 0.5)[0];
  expect(half).not.toEqual(now);
  near(mix(0.5, 1)[0], half, 9);
});

test('a spine laid on a curve, and a curve drawn through a spine, are each other’s inverse', () => {
  const p = project(
    [
      graph(
        [
          node('line', 'make-spiral', { inputs: { turns: 1 } }),
          node('make', 'make-chain', { inputs: { count: 6 } }),
          node('curve', 'chain-to-curve', { settings: { type: 'poly' } }),
          node('lay', 'lay-chain-along-curve'),
          node('bent', 'reach', { settings: { tip: 'Joint 6' } }),
          goal,
        ],
        [
          'line.curves > make.curves',
          'make.chain > bent.chain',
          'goal.matrix > bent.target',
          'bent.chain > curve.chain',
          'make.chain > lay.chain',
          'curve.curves > lay.curves',
        ],
      ),
    ],
    [0, 0, 0],
    heron(),
  );
  const { values, words } = run(p, ['make.chain', 'bent.chain', 'lay.chain']);
  expect(words).toEqual([]);
  const [made, bentTo, laid] = values.map((v) => (v as ChainValue).chain);
  for (let j = 0; j < 6; j++) near(laid.posed.slice(j * 16 + 12, j * 16 + 15), bentTo.posed.slice(j * 16 + 12, j * 16 + 15), 4);
  // With its own rest line as the curve nothing moves (DECISIONS 35).
  const own = run(
    project(
      [
        graph(
          [
            node('line', 'make-spiral', { inputs: { turns: 1 } }),
            node('make', 'make-chain', { inputs: { count: 6 } }),
            node('curve', 'chain-to-curve', { settings: { type: 'poly' } }),
            node('lay', 'lay-chain-along-curve'),
          ],
          ['line.curves > make.curves', 'make.chain > curve.chain', 'make.chain > lay.chain', 'curve.restCurves > lay.curves'],
        ),
      ],
      [0, 0, 0],
      [],
    ),
    ['lay.chain'],
  ).values[0] as ChainValue;
  near(own.chain.posed, made.rest, 5);
});

test('damping is the same whatever frame was looked at before, and follows keys late', () => {
  const keyed = makeObject('goal', 'Goal', 'locator', {
    channels: at([0, 0, 0]),
    animated: {
      'translate.x': { expression: 'frame' },
    },
  });
  const p = project(
    [graph([goal, node('late', 'damping', { inputs: { lag: 5 } })], ['goal.matrix > late.value'])],
    [0, 0, 0],
    [keyed],
  );
  const evaluator = new Evaluator(CATALOGUE);
  const xAt = (frame: number, on = evaluator) => single(run(p, ['late.value'], frame, on).values[0])[12];
  const there = [70, 71, 72, 40, 90].map((f) => xAt(f));
  const fresh = [70, 71, 72, 40, 90].map((f) => xAt(f, new Evaluator(CATALOGUE)));
  expect(there).toEqual(fresh);
  expect(xAt(80)).toBeCloseTo(75, 4);
});

test('a value that is no number at some frames is damped over the gap, and told', () => {
  const broken = node('n', 'number', { inputs: { value: { expression: 'frame / if(frame == 40, 0 * 0 / 0, 1)' } } });
  const p = project(
    [graph([broken, node('late', 'damping', { settings: { what: 'number' } })], ['n.number > late.value'])],
    [0, 0, 0],
    [],
  );
  const at = (frame: number) => run(p, ['late.value'], frame);
  const [before, after] = [at(38), at(44)];
  expect(single(before.values[0])[0]).toBeCloseTo(34, 1);
  expect(single(after.values[0])[0]).toBeCloseTo(40, 0);
  expect(after.words.join()).toContain('1 earlier frame');
});

test('a tube is bound and bent; its weights travel as attributes', () => {
  const bind = [
    node('in', 'make-tube', { inputs: { radius: 0.2, height: 2.4, rings: 12, sides: 12 } }),
    scene('posed'),
    node('bind', 'bind-skin'),
    node('skin', 'skin'),
  ];
  const objects = heron(Object.fromEntries(JOINTS.map(([id, , t]) => [id, { channels: at(t), rest: at(t) }])));
  const wires = ['in.mesh > bind.mesh', 'scene.chain > bind.chain', 'bind.mesh > skin.mesh', 'scene.chain > skin.chain'];
  // At rest, with the chain where the tube is.
  const low = objects.map((o) =>
    o.id === 'boat'
      ? { ...o, channels: at([0, 0, 0]), rest: at([0, 0, 0]) }
      : o.id === 'heron'
        ? { ...o, channels: at([0, -1.2, 0]), rest: at([0, -1.2, 0]) }
        : o,
  );
  const made = run(project([graph(bind, wires)], [0, 0, 0], low as ObjectRecord[]), ['in.mesh', 'skin.mesh', 'bind.far']);
  const meshes = made.values.slice(0, 2).map((v) => (v as GeometryValue).mesh);
  near(meshes[1].positions, meshes[0].positions, 5);
  expect(meshes[1].attributes.filter((a) => a.name.startsWith('weight_')).length).toBeGreaterThan(1);
  expect((made.values[2] as Column).data.every((v) => v === 0)).toBe(true);
  expect(makeTube(0.2, 2, 2, 3, true).topology.faceCount).toBeGreaterThan(0);
});

test('a pattern that fits no joint is told by the nodes that take one', () => {
  const whole = node('whole', 'whole-body-reach', {
    settings: { targets: 1, joint1: 'Ankle', joints: 'Wing *' },
    inputs: { solve: 1 },
  });
  const p = project(
    [graph([scene('channels'), goal, whole], ['scene.chain > whole.chain', 'goal.matrix > whole.target1'])],
    [0, 0, 0],
    heron(),
  );
  expect(run(p, ['whole.chain']).words.join()).toContain('no joint "Wing *"');
  const none = project(
    [graph([scene('channels'), drive({ joints: 'Wing *' })], ['scene.chain > drive.chain'])],
    [0, 0, 0],
    heron(),
  );
  expect(run(none, ['drive.shown']).words.join()).toContain('no joint "Wing *"');
});

test('bones that no curve is long enough for, toes that no bend lifts out, and numbers that are none are told', () => {
  const said = (nodes: ReturnType<typeof node>[], wires: string[], port: string) => {
    const { values, words } = run(
      project([graph([scene('channels'), ...nodes], ['scene.chain > it.chain', ...wires])], [0, 0, 0], heron()),
      [port, 'scene.chain'],
    );
    return { words: words.join(), value: values[0] as ChainValue | undefined, came: values[1] as ChainValue };
  };
  const ring = node('ring', 'make-ring', { inputs: { radius: 0.1, points: 8 } });
  const lay = (inputs: object) =>
    said([ring, node('it', 'lay-chain-along-curve', { inputs: inputs as never })], ['ring.curves > it.curves'], 'it.chain');
  expect(lay({}).words).toContain('cannot keep the length');
  const broken = lay({ start: { expression: '0/0' } });
  expect(broken.words).toContain('"start" is not a finite number');
  near(broken.value?.chain.posed ?? [], broken.came.chain.posed, 12);
  const ground = node('ground', 'make-grid', { inputs: { width: 20, depth: 20 } });
  const contact = (inputs: object) =>
    said(
      [ground, node('it', 'ground-contact', { settings: { what: 'toes', contacts: 'Toe' }, inputs: inputs as never })],
      ['ground.mesh > it.ground'],
      'it.chain',
    ).words;
  expect(contact({ clearance: 5 })).toContain('1 contact stays in the ground');
  expect(contact({ direction: [0, 0, 0] })).toContain('tells no direction');
});

test('corrections come in by the angle of a joint, or by nearness to poses: all of one where the joint is turned so', () => {
  const bent = (turn: [number, number, number], settings: object, inputs: object) => {
    const objects = heron({ knee: { channels: at([0, -1, 0.1], turn) } });
    const nodes = [
      scene('channels'),
      node('box', 'make-box'),
      node('correct', 'correct-by-pose', { settings: { joint: 'Knee', ...settings }, inputs: { ...inputs } }),
    ];
    const p = project([graph(nodes, ['box.mesh > correct.mesh', 'scene.chain > correct.chain'])], [0, 0, 0], objects);
    const names = ['box.mesh', 'correct.mesh', 'correct.angle'];
    const { values, words } = run(p, names);
    const [from, to] = values.map((v) => (v as GeometryValue | undefined)?.mesh?.positions ?? []);
    const angle = values[2] ? single(values[2])[0] : NaN;
    return { moved: [0, 1, 2].map((k) => to[k] - from[k]), angle, words };
  };
  const byAngle = (degrees: number) => bent([degrees, 0, 0], { by: 'angle' }, { offset: [0.2, 0, 0], from: 10, to: 50 });
  expect(byAngle(30).angle).toBeCloseTo(30, 6);
  for (const [degrees, share] of [
    [5, 0],
    [10, 0],
    [30, 0.5],
    [50, 1],
    [80, 1],
  ])
    near(byAngle(degrees).moved, [0.2 * share, 0, 0], 5);
  const poses = { turn1: [60, 0, 0], offset1: [0.2, 0, 0], turn2: [0, 0, 70], offset2: [0, 0.4, 0] };
  const byPoses = (turn: [number, number, number]) => bent(turn, { by: 'poses', poses: 2 }, poses);
  near(byPoses([60, 0, 0]).moved, [0.2, 0, 0], 5);
  near(byPoses([0, 0, 70]).moved, [0, 0.4, 0], 5);
  near(byPoses([0, 0, 0]).moved, [0, 0, 0], 5);
  const between = byPoses([30, 0, 0]).moved;
  expect(between[0]).toBeGreaterThan(0.05);
  expect(between[0]).toBeLessThan(0.2);
  expect(Math.abs(between[1])).toBeLessThan(0.1);
  // A flat joint has no turn: nothing is corrected, and it is told.
  for (const by of ['angle', 'poses']) {
    const objects = heron({ knee: { channels: { ...at([0, -1, 0.1], [0, 0, 70]), scale: [0, 1, 1] as const } } });
    const correct = node('correct', 'correct-by-pose', {
      settings: { joint: 'Knee', by, poses: 2 },
      inputs: { ...poses, offset: [1, 0, 0] } as never,
    });
    const wires = ['box.mesh > correct.mesh', 'scene.chain > correct.chain'];
    const p = project([graph([scene('channels'), node('box', 'make-box'), correct], wires)], [0, 0, 0], objects);
    const { values, words } = run(p, [by === 'angle' ? 'correct.amount' : 'correct.amount2']);
    expect(single(values[0])[0]).toBe(0);
    expect(words.join(' ')).toContain('"Knee" has no size');
  }
  // Two poses alike cannot be told apart: the mesh goes on as it came.
  const alike = bent([20, 0, 0], { by: 'poses', poses: 2 }, { ...poses, turn2: [60, 0, 0] });
  expect(alike.words.join(' ')).toContain('cannot have two corrections at once');
});

test('a target may be an object in a setting: as by its wire, which counts before it; one that hangs on the limb is a loop, told in full', () => {
  const by = (settings: object, wires: string[] = []) =>
    run(
      project(
        [
          graph(
            [
              scene('channels'),
              goal,
              node('bend', 'bend-chain', { settings: { tip: 'Ankle', ...settings }, inputs: { soft: 0 } }),
              drive(),
            ],
            ['scene.chain > bend.chain', 'bend.chain > drive.chain', ...wires],
          ),
        ],
        [0, 0, 0],
        heron(),
      ),
      [],
    );
  const wired = by({}, ['goal.matrix > bend.target']);
  const set = by({ targetObject: 'goal' });
  expect([wired.words, set.words]).toEqual([[], []]);
  near(set.world('ankle'), wired.world('ankle'), 12);
  const both = by({ targetObject: 'boat' }, ['goal.matrix > bend.target']);
  near(both.world('ankle'), wired.world('ankle'), 12);
  // Bent towards something else, the knee is elsewhere and the ankle is not.
  const bowed = by({ targetObject: 'goal', rollObject: 'boat' });
  near(bowed.world('ankle').slice(12, 15), set.world('ankle').slice(12, 15), 9);
  expect(Math.hypot(...[12, 13, 14].map((k) => bowed.world('knee')[k] - set.world('knee')[k]))).toBeGreaterThan(0.01);
  expect(by({ targetObject: 'ring' }).words.join(' ')).toMatch(/loop|round/i);
  expect(by({ targetObject: 'nobody' }).words.length).toBeGreaterThan(0);
  expect(by({}).words.join(' ')).toContain('target');
});

test('a contact tells how deep it comes out, whatever its amount, and by default all of a foot may touch', () => {
  for (const [what, more] of [
    ['foot', { foot: 'Ankle' }],
    ['toes', { contacts: 'Toe' }],
  ] as const) {
    const at = (blend: number) => {
      const ground = node('ground', 'make-grid', { inputs: { width: 20, depth: 20 } });
      const contact = node('it', 'ground-contact', {
        settings: { what, ...more },
        inputs: { blend, clearance: 0.6, band: 0, search: 5 },
      });
      const p = project(
        [graph([scene('channels'), ground, contact], ['scene.chain > it.chain', 'ground.mesh > it.ground'])],
        [0, 0, 0],
        heron(),
      );
      const { values } = run(p, ['it.after', 'it.places', 'it.before', 'it.chain', 'scene.chain']);
      const [after, places, before] = values.map((v) => Array.from((v as Column).data ?? []));
      const [out, came] = values.slice(3).map((v) => (v as ChainValue).chain.posed);
      // Over level ground without a skin, depth is clearance less height.
      after.forEach((depth, i) => expect(depth).toBeCloseTo(0.6 - places[i * 3 + 1], 5));
      return { after, before, stays: out.every((v, i) => v === came[i]) };
    };
    const [none, half, whole] = [0, 0.5, 1].map(at);
    expect(none.stays).toBe(true);
    expect(none.after).toEqual(none.before);
    const deepest = [none, half, whole].map((c) => Math.max(...c.after));
    expect(deepest[0]).toBeGreaterThan(deepest[1] + 1e-3);
    expect(deepest[1]).toBeGreaterThan(deepest[2] + 1e-3);
    if (what === 'foot') expect(whole.after.length).toBeGreaterThan(1);
  }
});
