import { CATALOGUE } from '../nodes/index.ts';
import { describe, expect, test } from 'vitest';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { takeSnapshot } from './take-snapshot.ts';
import { positionOf } from '../maths/matrix.ts';
import { randomFrom } from '../maths/random.ts';
import { TRACK_ENDS, type Animated, type Key, type KeyTrack } from '../project/fields.ts';
import { makeObject } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { at, locator } from '../testing/quay.ts';
import { PLACE_CHANNELS } from '../scene/channels.ts';
import { arrivalOf, jumpedAt, keysIn, makeKey, movedKeys, splitAt, stretchedKeys, trackAt, trackOf } from '../scene/keys.ts';
import { switchWithoutPop } from './switch.ts';

const FIRST = -5;
const LAST = 130;
/** Any keys: curves with free handles, some too long, straight ways and steps, and any ends. */
const randomTrack = (random: () => number, reach: number, ends: readonly KeyTrack['before'][] = TRACK_ENDS): KeyTrack => {
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
  const frames = new Set(Array.from({ length: 1 + Math.floor(random() * 5) }, () => Math.round(random() * 100)));
  const order = [...frames].sort((a, b) => a - b);
  // Handles that overlap, but none so long that both of a pair would have to be cut back: a curve that stands on end tells nothing.
  const handle = (from: number, to: number | undefined) =>
    [((to ?? from) - from) * random() * 0.7, (random() * 2 - 1) * reach] as const;
  const keys = order.map((f, i) =>
    makeKey(f, (random() * 2 - 1) * reach, {
      in: handle(f, order[i - 1]),
      out: handle(f, order[i + 1]),
      shape: pick(['curve', 'curve', 'straight', 'step']),
      tied: false,
    }),
  );
  return trackOf(keys, { before: pick(ends), after: pick(ends) });
};
const eighths = (from: number, to: number) => Array.from({ length: (to - from) * 8 + 1 }, (_, i) => from + i / 8);

/** The largest difference of two tracks at some frames. */
const most = (a: KeyTrack, b: KeyTrack, frames: readonly number[]) =>
  frames.reduce((m, f) => Math.max(m, Math.abs(trackAt(a, f) - trackAt(b, f))), 0);

describe('cutting keys', () => {
  test('a key put in between changes the curve nowhere, within keys and beyond, whatever the ends', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const random = randomFrom(seed);
      const track = randomTrack(random, 5);
      const frame = Math.round(random() * 120) - 5;
      const cut = splitAt(track, frame, { first: FIRST, last: LAST });
      expect(cut.keys.some((k) => k.frame === frame)).toBe(true);
      // Where rounds meet, keys of one frame are the end of one and the beginning of the next.
      const last = track.keys[track.keys.length - 1].frame;
      const isPlain = cut.keys.length <= track.keys.length + 1;
      expect(
        most(
          cut,
          track,
          eighths(FIRST, LAST).filter((f) => isPlain || f !== last),
        ),
        `seed ${seed}`,
      ).toBeLessThan(1e-9);
    }
  });

  test('a jump leaves all before it and every later key as they were; until a frame it leaves all after that too', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const random = randomFrom(seed);
      const track = randomTrack(random, 5, ['hold', 'straight']);
      const frame = Math.round(random() * 100);
      const jumped = jumpedAt(track, frame, 9);
      expect(most(jumped, track, eighths(FIRST, frame).slice(0, -1)), `seed ${seed}`).toBeLessThan(1e-9);
      expect(trackAt(jumped, frame)).toBe(9);
      expect(trackAt(jumped, frame - 1e-9)).toBeCloseTo(trackAt(track, frame - 1e-9), 7);
      if (track.before !== 'straight' && track.after !== 'straight')
        expect(jumped.keys.filter((k) => k.frame > frame)).toEqual(track.keys.filter((k) => k.frame > frame));
      const until = frame + 1 + Math.round(random() * 20);
      const back = jumpedAt(track, frame, 9, until);
      const next = track.keys.find((k) => k.frame > frame && k.frame <= until);
      expect(most(back, track, eighths(next?.frame ?? until, LAST)), `seed ${seed}`).toBeLessThan(1e-9);
      if (!next) for (const f of eighths(frame, until)) if (f < until) expect(trackAt(back, f)).toBe(9);
    }
  });

  test('a jump goes along when keys are moved and stretched, and turns round when they are turned round', () => {
    const track = jumpedAt(trackOf([makeKey(0, 1, { shape: 'straight' }), makeKey(20, 3, { shape: 'straight' })]), 10, 7);
    expect(track.keys.map((k) => [k.frame, arrivalOf(k), k.value])).toEqual([
      [0, 1, 1],
      [10, 2, 7],
      [20, 3, 3],
    ]);
    const up = movedKeys(track, [10], (k) => ({ frame: 12, value: k.value + 1 }));
    expect(up.keys.map((k) => [k.frame, arrivalOf(k), k.value])[1]).toEqual([12, 3, 8]);
    const turned = stretchedKeys(track, [0, 10, 20], { frame: 10, value: 0 }, { time: -1, value: 1 });
    for (const f of eighths(0, 20)) if (f !== 10) expect(trackAt(turned, 20 - f)).toBeCloseTo(trackAt(track, f), 12);
  });

  test('beyond keys, straight on is the tangent, also where the handle there has no length', () => {
    // A Bézier whose end handle has no length leaves towards the other handle.
    const key = (frame: number, value: number, more: Partial<Key>) => makeKey(frame, value, { tied: false, ...more });
    const keys = [key(0, 0, { out: [0, 0] }), key(10, 4, { in: [-5, -6] })];
    const track = trackOf(keys, { before: 'straight', after: 'straight' });
    expect(trackAt(track, -10)).toBeCloseTo(-10 * ((4 - 6) / 5), 9);
    expect(trackAt(track, 20)).toBeCloseTo(4 + 10 * (6 / 5), 9);
    const end = trackOf([key(0, 0, { out: [5, 6] }), key(10, 4, { in: [0, 0] })], { before: 'hold', after: 'straight' });
    expect(trackAt(end, 20)).toBeCloseTo(4 + 10 * ((4 - 6) / 5), 9);
    const none = trackOf([key(0, 0, { out: [0, 0] }), key(10, 4, { in: [0, 0] })], { before: 'straight', after: 'straight' });
    expect([trackAt(none, -10), trackAt(none, 20)]).toEqual([-4, 8]);
    // It meets the curve without a kink.
    const slope = (trackAt(track, 1e-7) - trackAt(track, 0)) / 1e-7;
    expect((trackAt(track, 0) - trackAt(track, -1)) / 1).toBeCloseTo(slope, 2);
  });
});

describe('switching without a pop', () => {
  const DIAL = { id: 'to', name: 'to', value: 0, default: 0, min: 0, max: 1, unit: '' };
  /** A lantern handed from hook to mast, all of it moving; channels keyed, by expressions, or still. */
  const take = (random: () => number): Project => {
    const some = (reach: number): Animated | undefined => {
      const kind = random();
      // Of rounds that do not end where they begin, the one frame where they meet has two numbers; keys keep the later one.
      if (kind < 0.55) return { keys: randomTrack(random, reach, ['hold', 'straight', 'cycle-on']) };
      return kind < 0.7 ? { expression: `${reach} * sin(seconds * ${(1 + random()).toFixed(2)})` } : undefined;
    };
    const moves = (parts: readonly string[], reach: number) =>
      Object.fromEntries(
        parts.flatMap((c) => {
          const s = some(c.startsWith('rotate') ? 60 : reach);
          return s ? [[c, s] as const] : [];
        }),
      );
    const places = ['translate.x', 'translate.y', 'translate.z', 'rotate.x', 'rotate.y', 'rotate.z'];
    const dial: Record<string, Animated> =
      random() < 0.6
        ? {
            to: {
              keys: trackOf([
                makeKey(0, 0, { shape: 'step' }),
                makeKey(60 + Math.round(random() * 30), 1, { shape: random() < 0.5 ? 'step' : 'curve' }),
              ]),
            },
          }
        : {};
    const objects = [
      makeObject('hook', 'Hook', 'locator', {
        channels: at([0, 5, 0], [0, 30, 0]),
        animated: moves(places, 3),
      }),
      makeObject('mast', 'Mast', 'locator', {
        channels: at([8, 3, 1], [10, 0, 0]),
        animated: moves(places, 3),
      }),
      makeObject('lantern', 'Lantern', 'prop', {
        channels: at([0.5, 4, 0]),
        pivot: [0, 0.3, 0],
        custom: [DIAL],
        animated: { ...moves(places, 3), ...dial },
      }),
    ];
    const nodes = [
      locator('hook'),
      locator('mast'),
      node('c', 'hand-over', { settings: { object: 'lantern' } }),
      node('read', 'read-channel', { settings: { object: 'lantern', channel: 'to' } }),
      node('drive', 'drive-object', { settings: { object: 'lantern' } }),
    ];
    const wires = ['hook.matrix > c.a', 'mast.matrix > c.b', 'read.value > c.dial', 'c.carrier > drive.matrix'];
    const p = project([graph(nodes, wires)], [0, 0, 0], objects);
    const snapshot = takeSnapshot(new Evaluator(CATALOGUE), p, 1, 'c') as never;
    return {
      ...p,
      range: { first: 1, last: 120 },
      graphs: p.graphs.map((g) => ({
        ...g,
        nodes: g.nodes.map((n) => (n.id === 'c' ? { ...n, settings: { ...n.settings, snapshot } } : n)),
      })),
    };
  };
  const evaluator = new Evaluator(CATALOGUE);
  const world = (p: Project, frame: number) => worldsAt(evaluator, p, ['lantern'], frame)[0];
  const worlds = (p: Project, frames: readonly number[]) =>
    Promise.resolve(Float64Array.from(frames.flatMap((f) => [...world(p, f)])));
  const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.max(...Array.from(a, (v, i) => Math.abs(v - b[i])));

  test('40 takes: all before is as it was to 1e-9, between frames too; the pose is continuous; later keys stay', async () => {
    for (let seed = 1; seed <= 40; seed++) {
      const p = take(randomFrom(seed));
      const random = randomFrom(seed + 1000);
      const frame = 5 + Math.round(random() * 100);
      const now = Math.round(Number((await worlds(p, [frame])) !== null)) && trackNow(p, frame);
      const made = await switchWithoutPop(CATALOGUE, p, 'lantern', 'to', now < 0.5 ? 1 : 0, frame, worlds);
      expect(made?.residual).toBe(0);
      const q = made!.project;
      for (const f of [-20, 1, 2, 7.3, frame - 20, frame - 3, frame - 1.5, frame - 1, frame - 0.5, frame - 0.01])
        if (f < frame && f >= 1) expect(apart(world(p, f), world(q, f)), `${seed} at ${f} before ${frame}`).toBeLessThan(1e-9);
      expect(apart(world(p, frame), world(q, frame)), `${seed} at ${frame}`).toBeLessThan(1e-8);
      // What it comes to from before is what it goes on with.
      const jump = (r: Project) => apart(world(r, frame - 1e-7), world(r, frame));
      expect(jump(q)).toBeLessThan(jump(p) + 1e-6);
      const [was, is] = [p, q].map((r) => r.objects.find((o) => o.id === 'lantern')!);
      for (const c of [...PLACE_CHANNELS, 'to']) {
        const before = keysIn(was.animated[c]);
        if (!before || before.before !== 'hold' || before.after !== 'hold') continue;
        const later = before.keys.filter((k) => k.frame > frame);
        for (const k of later)
          expect(keysIn(is.animated[c])?.keys.find((l) => l.frame === k.frame)).toMatchObject(
            later[0] === k ? { frame: k.frame, value: k.value } : k,
          );
      }
      // It is another driver: from there the other takes it along.
      const dial = keysIn(was.animated.to)?.keys.find((k) => k.frame > frame);
      if (dial) {
        // Where the dial is keyed next, all is as it was: to the last frame.
        for (const f of [dial.frame, dial.frame + 0.5, dial.frame + 10, 120])
          expect(apart(world(p, f), world(q, f)), `${seed} later, at ${f}`).toBeLessThan(1e-9);
      }
    }
  });

  /** What the dial is at a frame. */
  function trackNow(p: Project, frame: number): number {
    const track = keysIn(p.objects.find((o) => o.id === 'lantern')?.animated.to);
    return track ? trackAt(track, frame) : 0;
  }

  test('with no other driver moving, the way there is the way it would have been', async () => {
    const random = randomFrom(7);
    const p = take(random);
    const still = { ...p, objects: p.objects.map((o) => (o.id === 'lantern' ? { ...o, animated: {} } : { ...o, animated: {} })) };
    const made = await switchWithoutPop(CATALOGUE, still, 'lantern', 'to', 1, 20, worlds);
    for (const f of [1, 19.5, 20, 21, 60, 120]) expect(apart(world(still, f), world(made!.project, f))).toBeLessThan(1e-9);
    // And then the mast takes it along.
    const moved = {
      ...made!.project,
      objects: made!.project.objects.map((o) => (o.id === 'mast' ? { ...o, channels: at([8, 5, 1], [10, 0, 0]) } : o)),
    };
    expect(positionOf(world(moved, 30))[1] - positionOf(world(still, 30))[1]).toBeCloseTo(2, 9);
    expect(positionOf(world(moved, 19))[1]).toBeCloseTo(positionOf(world(still, 19))[1], 9);
  });
});
