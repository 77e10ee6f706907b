import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { writeChannels } from '../edits/channel-edits.ts';
import { channelsMatrix } from '../scene/world.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { PoseValues } from '../project/animation.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { makeProject, type Project } from '../project/schema.ts';
import { PLACE_CHANNELS, objectsAt } from '../scene/channels.ts';
import { keysIn, makeKey, trackOf } from '../scene/keys.ts';
import { setInput } from '../edits/document.ts';
import { multiply, type Matrix } from '../maths/matrix.ts';
import { ROTATION_ORDERS, quaternionFromEuler, type RotationOrder } from '../maths/rotation.ts';
import { graph, node, project } from '../testing/build.ts';
import { at } from '../testing/quay.ts';
import { betweenKeys } from './between-keys.ts';
import { blendPoses } from './blend-poses.ts';
import { mirrorPose, nameAcross } from './mirror-pose.ts';
import { changePose, forgetPose, keepPose } from './pose-edits.ts';
import { fittingPose, readPose, writePose } from './pose-values.ts';
import { reachOf, reachWithin } from './reach.ts';

const DEGREES = Math.PI / 180;
const angle = fc.double({ min: -720, max: 720, noNaN: true });
const metre = fc.double({ min: -50, max: 50, noNaN: true });
const triple = <T>(of: fc.Arbitrary<T>) => fc.tuple(of, of, of);
const order = fc.constantFrom(...ROTATION_ORDERS);

/** A rig of objects by name, with all nine channels. */
const rig = (...objects: ObjectRecord[]): Project => ({ ...makeProject('p', 'P'), objects });
const turned = (o: RotationOrder) => rig(makeObject('fin', 'Fin', 'locator', { channels: { ...at([0, 0, 0]), order: o } }));
const values = (t: readonly number[], r: readonly number[], s: readonly number[] = [1, 1, 1]): Record<string, number> =>
  Object.fromEntries([...t, ...r, ...s].map((v, i) => [PLACE_CHANNELS[i], v]));
const pose = (fin: Record<string, number>): PoseValues => ({ objects: { fin }, dials: {} });
const turnOf = (v: Record<string, number>, o: RotationOrder) =>
  quaternionFromEuler([v['rotate.x'] * DEGREES, v['rotate.y'] * DEGREES, v['rotate.z'] * DEGREES], o);
/** The angle between two rotations, radians. */
const apart = (a: ReturnType<typeof turnOf>, b: ReturnType<typeof turnOf>) =>
  2 * Math.acos(Math.min(1, Math.abs(a.reduce((s, v, i) => s + v * b[i], 0))));
const matrixOf = (v: Record<string, number>, o: RotationOrder, pivot: readonly [number, number, number] = [0, 0, 0]): Matrix =>
  channelsMatrix(
    {
      translate: [v['translate.x'], v['translate.y'], v['translate.z']],
      rotate: [v['rotate.x'], v['rotate.y'], v['rotate.z']],
      order: o,
      scale: [v['scale.x'], v['scale.y'], v['scale.z']],
    },
    pivot,
  );

describe('from a pose to another', () => {
  test('at 0 the first and at 1 the second, to the bit; numbers go straight, beyond the ends too', () => {
    fc.assert(
      fc.property(triple(metre), triple(angle), triple(metre), triple(angle), order, (t0, r0, t1, r1, o) => {
        const [a, b] = [pose(values(t0, r0)), pose(values(t1, r1))];
        expect(blendPoses(turned(o), a, b, 0)).toBe(a);
        expect(blendPoses(turned(o), a, b, 1)).toBe(b);
        const beyond = blendPoses(turned(o), a, b, 1.5).objects.fin;
        for (const axis of ['x', 'y', 'z']) {
          const c = `translate.${axis}`;
          expect(beyond[c]).toBeCloseTo(a.objects.fin[c] + 1.5 * (b.objects.fin[c] - a.objects.fin[c]), 9);
        }
      }),
    );
  });

  test('turns go the short way: at a share of it they are that share of the angle away, in one plane', () => {
    fc.assert(
      fc.property(triple(angle), triple(angle), order, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (r0, r1, o, amount) => {
        const [a, b] = [values([0, 0, 0], r0), values([0, 0, 0], r1)];
        const whole = apart(turnOf(a, o), turnOf(b, o));
        // Half a turn apart there are two short ways.
        fc.pre(whole < Math.PI - 0.01);
        const on = blendPoses(turned(o), pose(a), pose(b), amount).objects.fin;
        expect(apart(turnOf(a, o), turnOf(on, o))).toBeCloseTo(whole * amount, 4);
        expect(apart(turnOf(on, o), turnOf(b, o))).toBeCloseTo(whole * (1 - amount), 4);
      }),
    );
  });

  test('about one axis the number goes straight; past half a turn it goes back the other way', () => {
    const half = (from: number, to: number) =>
      blendPoses(turned('xyz'), pose(values([0, 0, 0], [0, from, 0])), pose(values([0, 0, 0], [0, to, 0])), 0.5).objects.fin;
    expect(half(10, 50)['rotate.y']).toBe(30);
    expect((((half(0, 350)['rotate.y'] % 360) + 540) % 360) - 180).toBeCloseTo(-5, 9);
    // A part of a turn cannot be blended as a rotation: it goes straight.
    const part = { objects: { fin: { 'rotate.x': 300 } }, dials: {} };
    const start = { objects: { fin: { 'rotate.x': 0 } }, dials: {} };
    expect(blendPoses(turned('xyz'), start, part, 0.5).objects.fin).toEqual({ 'rotate.x': 150 });
  });

  test('what only the second has is left out until it is reached; yes and no change over in the middle', () => {
    const from = { objects: {}, dials: { n: { on: false, at: [0, 0, 0] as const, size: 1 } } };
    const to = { objects: { fin: { 'scale.x': 2 } }, dials: { n: { on: true, at: [2, 4, 6] as const, size: 3, gone: 1 } } };
    const half = blendPoses(turned('xyz'), from, to, 0.5);
    expect(half).toEqual({ objects: { fin: {} }, dials: { n: { on: true, at: [1, 2, 3], size: 2 } } });
    expect(blendPoses(turned('xyz'), from, to, 0.25).dials.n.on).toBe(false);
  });
});

describe('mirrored', () => {
  const SIDES = makeProject('p', 'P').sides;
  const pair = (o: RotationOrder) =>
    rig(
      makeObject('l', 'left fin', 'locator', { channels: { ...at([0, 0, 0]), order: o } }),
      makeObject('r', 'right fin', 'locator', { channels: { ...at([0, 0, 0]), order: o } }),
      makeObject('m', 'Spine', 'locator', { channels: { ...at([0, 0, 0]), order: o } }),
    );

  test('it is S · M · S, pivot and all, and twice is as before', () => {
    fc.assert(
      fc.property(
        triple(metre),
        triple(angle),
        triple(metre),
        order,
        fc.constantFrom('x', 'y', 'z' as const),
        triple(metre),
        (t, r, s, o, axis, pivot) => {
          const p = pair(o);
          const before = {
            objects: {
              l: values(t, r, s),
              m: values(
                r.map((v) => v / 90),
                t,
              ),
            },
            dials: {},
          };
          const once = mirrorPose(p, before, axis as 'x', SIDES);
          expect(once.problems).toEqual([]);
          expect(Object.keys(once.values.objects).sort()).toEqual(['m', 'r']);
          const twice = mirrorPose(p, once.values, axis as 'x', SIDES).values.objects;
          // 0 and −0 are the same number.
          for (const id of ['l', 'm'] as const)
            for (const [c, v] of Object.entries(before.objects[id])) expect(twice[id][c] === v).toBe(true);
          const mirror = new Float64Array(16);
          for (let i = 0; i < 4; i++) mirror[i * 5] = 'xyz'[i] === axis ? -1 : 1;
          const across = multiply(
            new Float64Array(16),
            multiply(new Float64Array(16), mirror, matrixOf(before.objects.l, o, pivot)),
            mirror,
          );
          const partners = pivot.map((v, i) => ('xyz'[i] === axis ? -v : v)) as unknown as [number, number, number];
          const found = matrixOf(once.values.objects.r, o, partners);
          const size = Math.max(1, ...Array.from(across, Math.abs));
          across.forEach((v, i) => expect(Math.abs(found[i] - v) / size).toBeLessThan(1e-12));
        },
      ),
    );
  });

  test('partners that turn in another order get the same turn; a part of one, or other rests, are told', () => {
    const other = (rest: readonly [number, number, number]) =>
      rig(
        makeObject('l', 'left fin', 'locator', { channels: at([-1, 0, 0]) }),
        makeObject('r', 'right fin', 'locator', { channels: { ...at([rest[0], rest[1], rest[2]]), order: 'zyx' } }),
      );
    const p = other([1, 0, 0]);
    const all = { objects: { l: values([-1, 2, 3], [20, 30, 40]) }, dials: {} };
    const { values: found, problems } = mirrorPose(p, all, 'x', SIDES);
    expect(problems).toEqual([]);
    expect(apart(turnOf(found.objects.r, 'zyx'), turnOf(values([0, 0, 0], [20, -30, -40]), 'xyz'))).toBeCloseTo(0, 6);
    expect(found.objects.r['rotate.x']).not.toBeCloseTo(20, 1);
    const part = mirrorPose(p, { objects: { l: { 'translate.x': 1, 'rotate.y': 30 } }, dials: {} }, 'x', SIDES);
    expect(part.values.objects.r).toEqual({ 'translate.x': -1 });
    expect(part.problems[0]).toMatch(/turns in another order than "left fin"/);
    expect(mirrorPose(other([1, 0.5, 0]), all, 'x', SIDES).problems[0]).toMatch(/is no mirror image of "left fin" at rest/);
  });

  test('words of sides stand by themselves in names, in any place; the first pair that fits counts', () => {
    const sides = [...SIDES, { left: 'L', right: 'R' }];
    expect(nameAcross('left fin', sides)).toBe('right fin');
    expect(nameAcross('finRight', sides)).toBe('finLeft');
    expect(nameAcross('fin_L_tip', sides)).toBe('fin_R_tip');
    expect(nameAcross('fin R', sides)).toBe('fin L');
    for (const none of ['Spine', 'leftover', 'bright', 'Lantern', 'aLfa', 'REST'])
      expect(nameAcross(none, sides)).toBeUndefined();
  });

  test('several that are called like the partner are told, and none is taken', () => {
    const p = rig(...['l', 'r1', 'r2'].map((id) => makeObject(id, id === 'l' ? 'left fin' : 'right fin', 'locator')));
    const { values: found, problems } = mirrorPose(p, { objects: { l: { 'translate.x': 1 } }, dials: {} }, 'x', SIDES);
    expect(found.objects).toEqual({});
    expect(problems).toEqual(['"left fin" has no partner: there are several called "right fin".']);
  });

  test('one without a partner is told and left out; dials go across by their names', () => {
    const dial = (id: string, name: string) => ({ id, name, value: 0, default: 0, min: 0, max: 1, unit: '' });
    const p = rig(
      makeObject('lone', 'left ear', 'locator'),
      makeObject('m', 'Face', 'locator', { custom: [dial('a', 'left brow'), dial('b', 'right brow'), dial('c', 'left lid')] }),
    );
    const { values, problems } = mirrorPose(
      p,
      { objects: { lone: { 'translate.x': 1 }, m: { a: 0.25, b: 0.5, c: 0.75 } }, dials: {} },
      'x',
      p.sides,
    );
    expect(values.objects).toEqual({ m: { a: 0.5, b: 0.25, c: 0.75 } });
    expect(problems).toEqual(['"left ear" has no partner: there is no "right ear".']);
  });
});

/** A fish with a dial of a card, and a locator. */
const withDial = () =>
  project([
    graph(
      [
        node('read', 'scene-mesh', { settings: { object: 'fish' } }),
        node('bump', 'bulge', { inputs: { height: 0.4, centre: [0, 1, 0] } }),
        node('show', 'show-mesh', { settings: { object: 'fish' } }),
      ],
      ['read.mesh > bump.mesh', 'bump.mesh > show.mesh'],
    ),
  ]);
const handing = (p: Project): Project => ({
  ...p,
  handOut: {
    pages: [
      {
        id: 'a',
        name: 'Body',
        parts: [
          { kind: 'object', object: 'here', channels: [...PLACE_CHANNELS], name: '' },
          { kind: 'dials', node: 'bump', dials: ['height', 'centre'], name: 'Bump' },
        ],
      },
    ],
  },
});

describe('kept and put back', () => {
  test('what is read is what is written, to the bit, typed and keyed; what stays gets no key', () => {
    const p = handing(withDial());
    const reach = reachOf(CATALOGUE, p);
    const before = readPose(CATALOGUE, p, 5, reach);
    expect(before.dials).toEqual({ bump: { height: 0.4, centre: [0, 1, 0] } });
    const other: PoseValues = {
      objects: { here: { ...before.objects.here, 'translate.y': 1 / 3, 'rotate.z': 12.3456789012345 } },
      dials: { bump: { height: 0.1 + 0.2, centre: [0.7, 1, -2] } },
    };
    for (const autoKey of [false, true]) {
      const posed = writePose(CATALOGUE, other, 5, autoKey)(p);
      expect(readPose(CATALOGUE, posed, 5, reach)).toEqual(other);
      const here = posed.objects.find((o) => o.id === 'here')!;
      expect(Object.keys(here.animated).sort()).toEqual(autoKey ? ['rotate.z', 'translate.y'] : []);
      const { inputs } = posed.graphs[0].nodes[1];
      expect(keysIn(inputs.height) !== undefined).toBe(autoKey);
      expect(keysIn((inputs.centre as readonly unknown[])[1])).toBeUndefined();
      expect(writePose(CATALOGUE, before, 5, autoKey)(posed)).not.toBe(posed);
      expect(readPose(CATALOGUE, writePose(CATALOGUE, before, 5, autoKey)(posed), 5, reach)).toEqual(before);
    }
    expect(writePose(CATALOGUE, before, 5, true)(p)).toBe(p);
  });

  test('a pose of another rig, of what is locked or not handed out: what fits is taken, the rest is told', () => {
    const p = handing(withDial());
    const given: PoseValues = {
      objects: { here: { 'translate.x': 1, tail: 2 }, fish: { 'translate.x': 3 }, squid: { 'translate.x': 4 } },
      dials: { bump: { height: 2, centre: 5, radius: 1 }, gone: { height: 1 } },
    };
    const { values: fits, problems } = fittingPose(CATALOGUE, p, given, reachOf(CATALOGUE, p));
    expect(fits).toEqual({ objects: { here: { 'translate.x': 1 } }, dials: { bump: { height: 2 } } });
    expect(problems).toEqual([
      '4 of its numbers belong to what is not in this project.',
      '2 of its numbers belong to what is locked or not handed out.',
    ]);
  });

  test('beyond a pose counts stay whole, and nothing passes a range that cannot be passed', () => {
    const one = Array.from({ length: 16 }, (_, i) => (i % 5 === 0 ? 1 : 0));
    const hand = node('hand', 'hand-over', { settings: { object: 'here', offsets: { matrices: [one, one] } } });
    const p: Project = {
      ...project([graph([hand, node('ball', 'make-sphere')], [])]),
      handOut: {
        pages: [
          {
            id: 'a',
            name: 'A',
            parts: [
              { kind: 'dials', node: 'ball', dials: ['rings'], name: '' },
              { kind: 'dials', node: 'hand', dials: ['segment'], name: '' },
            ],
          },
        ],
      },
    };
    const put = (id: string, port: string, value: number) => {
      const posed = writePose(CATALOGUE, { objects: {}, dials: { [id]: { [port]: value } } }, 1, false)(p);
      return readPose(CATALOGUE, posed, 1, reachOf(CATALOGUE, p)).dials[id][port];
    };
    expect(put('ball', 'rings', 12.4)).toBe(12);
    expect([-50, 1.4, 1e9].map((v) => put('hand', 'segment', v))).toEqual([0, 1, 2]);
  });

  test('poses are named by the next free number, changed and forgotten', () => {
    const p = keepPose({ objects: {}, dials: {} }, null)(keepPose({ objects: {}, dials: {} }, null, 'Pose 2')(withDial()));
    expect(p.poses.map((x) => x.name)).toEqual(['Pose 2', 'Pose 1']);
    const [first, second] = p.poses;
    const renamed = changePose(second.id, { name: 'Startled' })(p);
    expect(renamed.poses.map((x) => x.name)).toEqual(['Pose 2', 'Startled']);
    expect(forgetPose(first.id)(renamed).poses).toEqual([renamed.poses[1]]);
  });
});

describe('between two keys', () => {
  const keyed = () => {
    let p = handing(withDial());
    const key = (frame: number, v: Record<string, number>) => (p = writeChannels('here', v, frame, true)(p));
    key(10, { 'translate.x': 1, 'rotate.x': 10, 'rotate.y': 80, 'rotate.z': 5 });
    key(30, { 'translate.x': 5, 'rotate.x': 120, 'rotate.y': -30, 'rotate.z': 45 });
    return p;
  };
  test('at 0 the key before, at 1 the one after, to the bit; half way the mean, turns the short way', () => {
    const p = keyed();
    const reach = reachOf(CATALOGUE, p);
    const between = (favour: number) => betweenKeys(CATALOGUE, p, 17, reach, favour).objects.here;
    expect(between(0)).toEqual({ 'translate.x': 1, 'rotate.x': 10, 'rotate.y': 80, 'rotate.z': 5 });
    expect(between(1)).toEqual({ 'translate.x': 5, 'rotate.x': 120, 'rotate.y': -30, 'rotate.z': 45 });
    expect(between(0.5)['translate.x']).toBe(3);
    const [a, half, b] = [0, 0.5, 1].map((f) => turnOf(between(f), 'xyz'));
    expect(apart(a, half)).toBeCloseTo(apart(half, b), 6);
    // As a key where one stands.
    const set = writePose(CATALOGUE, betweenKeys(CATALOGUE, p, 17, reach, 0.25), 17, false)(p);
    expect(objectsAt(set, 17).get('here')!.channels.translate[0]).toBe(2);
    expect(objectsAt(set, 10).get('here')!.channels.translate[0]).toBe(1);
  });

  test('a key that jumps is gone towards as the way to it arrives; of three numbers only those with keys go along', () => {
    const jump = trackOf([makeKey(0, 0), makeKey(10, 8, { arrives: 4 })]);
    const p = { ...handing(withDial()) };
    const objects = p.objects.map((o) => (o.id === 'here' ? { ...o, animated: { 'translate.x': { keys: jump } } } : o));
    const centre = [
      1,
      { keys: trackOf([makeKey(2, 3), makeKey(6, 5)]) },
      { keys: trackOf([makeKey(4, 0), makeKey(8, 2)]) },
    ] as const;
    const q = setInput('graph', 'bump', 'centre', centre)({ ...p, objects });
    const between = (frame: number, favour: number) => betweenKeys(CATALOGUE, q, frame, reachOf(CATALOGUE, q), favour);
    expect([0, 0.5, 1].map((f) => between(5, f).objects.here['translate.x'])).toEqual([0, 2, 4]);
    // Both have keys around frame 5, each at frames of its own.
    expect(between(5, 0.5).dials.bump.centre).toEqual([1, 4, 1]);
    // Before the third has one, it is left as it is there.
    expect(between(3, 1).dials.bump.centre).toEqual([1, 5, 0]);
  });

  test('what has no keys on both sides is left out: before the first, after the last, without keys, of others', () => {
    const p = keyed();
    const reach = reachOf(CATALOGUE, p);
    for (const frame of [10, 5, 30, 31]) {
      const { objects, dials } = betweenKeys(CATALOGUE, p, frame, reach, 0.5);
      expect([objects, dials]).toEqual([{}, {}]);
    }
    const ofFish = reachWithin(CATALOGUE, p, reach, ['fish']);
    expect(betweenKeys(CATALOGUE, p, 17, ofFish, 0.5).objects).toEqual({});
    expect([...ofFish.dials.keys()]).toEqual(['bump']);
  });

  test('dials of cards too, three numbers with keys in one of them', () => {
    let p = handing(withDial());
    for (const [frame, height, y] of [
      [1, 0, 2],
      [9, 4, 6],
    ])
      p = writePose(CATALOGUE, { objects: {}, dials: { bump: { height, centre: [0, y, 0] } } }, frame, true)(p);
    expect(betweenKeys(CATALOGUE, p, 3, reachOf(CATALOGUE, p), 0.75).dials).toEqual({
      bump: { height: 3, centre: [0, 5, 0] },
    });
  });
});
