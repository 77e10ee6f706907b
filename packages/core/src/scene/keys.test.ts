import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Key } from '../project/fields.ts';
import { makeObject } from '../project/kinds/index.ts';
import { channelValue, objectsAt } from './channels.ts';
import { makeKey, movedKeys, smoothedKeys, stretchedKeys, trackAt, trackOf, withKey, withoutKeys } from './keys.ts';

const straight = (frame: number, value: number): Key => makeKey(frame, value, { shape: 'straight' });

describe('keys', () => {
  test('straight, step and curve between keys: closed forms', () => {
    expect(trackAt(trackOf([straight(0, 2), straight(10, 12)]), 2.5)).toBeCloseTo(4.5, 12);
    expect(trackAt(trackOf([makeKey(0, 2, { shape: 'step' }), straight(10, 12)]), 9.99)).toBe(2);
    // Level handles a third of the way: the cubic 3t² − 2t³.
    const eased = trackOf([makeKey(0, 0, { out: [10 / 3, 0] }), makeKey(10, 1, { in: [-10 / 3, 0] })]);
    for (const t of [0.1, 0.37, 0.5, 0.9]) expect(trackAt(eased, t * 10)).toBeCloseTo(3 * t * t - 2 * t ** 3, 8);
  });

  test('time never runs backwards, however long the handles are', () => {
    const track = trackOf([makeKey(0, 0, { out: [80, 5] }), makeKey(10, 1, { in: [-90, 3] })]);
    let last = trackAt(track, 0);
    for (let f = 0; f <= 10; f += 0.01) {
      const v = trackAt(track, f);
      expect(Number.isFinite(v)).toBe(true);
      expect(Math.abs(v - last)).toBeLessThan(1);
      last = v;
    }
  });

  test('stretched keys are the same curve, wider, higher, upside down or backwards', () => {
    const track = smoothedKeys(
      trackOf([makeKey(0, 1), makeKey(4, 5), makeKey(10, 2, { out: [2, 3], tied: false }), makeKey(16, 4)]),
      [0, 4],
    );
    const frames = track.keys.map((k) => k.frame);
    for (const [time, value] of [
      [1.5, 1],
      [2, -0.5],
      [-1, 3],
    ]) {
      const about = { frame: 4, value: 5 };
      const other = stretchedKeys(track, frames, about, { time, value });
      for (let f = 0; f <= 16; f += 0.7)
        expect(trackAt(other, 4 + (f - 4) * time)).toBeCloseTo(5 + (trackAt(track, f) - 5) * value, 9);
    }
    // Only some: the others stay.
    expect(stretchedKeys(track, [10, 16], { frame: 10, value: 0 }, { time: 2, value: 1 }).keys.map((k) => k.frame)).toEqual([
      0, 4, 10, 22,
    ]);
    expect(() => stretchedKeys(track, frames, { frame: 0, value: 0 }, { time: 0, value: 1 })).toThrow(RangeError);
  });

  test('outside its keys a track holds, cycles, cycles on, or goes straight on', () => {
    const keys = [straight(10, 1), straight(20, 3)];
    expect(trackAt(trackOf(keys), 35)).toBe(3);
    expect(trackAt(trackOf(keys, { after: 'cycle' }), 35)).toBeCloseTo(2, 12);
    expect(trackAt(trackOf(keys, { after: 'cycle-on' }), 35)).toBeCloseTo(6, 12);
    expect(trackAt(trackOf(keys, { after: 'straight' }), 35)).toBeCloseTo(6, 12);
    expect(trackAt(trackOf(keys, { before: 'cycle' }), 5)).toBeCloseTo(2, 12);
    expect(trackAt(trackOf(keys, { before: 'cycle-on' }), 5)).toBeCloseTo(0, 12);
    expect(trackAt(trackOf(keys, { before: 'straight' }), 5)).toBeCloseTo(0, 12);
    expect(trackAt(trackOf([straight(4, 7)], { before: 'cycle', after: 'straight' }), 9)).toBe(7);
  });

  test('a new key goes where it is put and never makes the curve overshoot its neighbours', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 2, maxLength: 8 }),
        fc.infiniteStream(fc.double({ min: -5, max: 5, noNaN: true })),
        (frames, values) => {
          let track = withKey(undefined, frames[0], values.next().value as number);
          for (const f of frames.slice(1)) track = withKey(track, f, values.next().value as number);
          track = smoothedKeys(track, frames);
          track.keys.forEach((k, i) => {
            expect(trackAt(track, k.frame)).toBeCloseTo(k.value, 9);
            const next = track.keys[i + 1];
            if (!next) return;
            const [low, high] = [Math.min(k.value, next.value), Math.max(k.value, next.value)];
            for (let t = 0; t < 1; t += 0.1) {
              const v = trackAt(track, k.frame + (next.frame - k.frame) * t);
              expect(v).toBeGreaterThanOrEqual(low - 1e-7);
              expect(v).toBeLessThanOrEqual(high + 1e-7);
            }
          });
        },
      ),
    );
  });

  test('keys are moved, copied, scaled and deleted; two at one frame become the one given last', () => {
    const track = trackOf([straight(1, 1), straight(5, 2), straight(9, 3)]);
    const moved = movedKeys(track, [1], (k) => ({ frame: k.frame + 4, value: k.value }));
    expect(moved.keys.map((k) => [k.frame, k.value])).toEqual([
      [5, 1],
      [9, 3],
    ]);
    const copied = movedKeys(track, [1, 5], (k) => ({ frame: k.frame + 20, value: k.value }), true);
    expect(copied.keys.map((k) => k.frame)).toEqual([1, 5, 9, 21, 25]);
    const scaled = movedKeys(track, [1, 5, 9], (k) => ({ frame: 1 + (k.frame - 1) * 2, value: -k.value }));
    expect(scaled.keys.map((k) => [k.frame, k.value])).toEqual([
      [1, -1],
      [9, -2],
      [17, -3],
    ]);
    expect(withoutKeys(track, [1, 5, 9])).toBeUndefined();
    expect(() => trackOf([])).toThrow(RangeError);
  });

  test('a hundred thousand keys are found by halving', () => {
    const track = trackOf(Array.from({ length: 100_000 }, (_, i) => straight(i, i % 7)));
    expect(trackAt(track, 77_777.5)).toBeCloseTo(((77_777 % 7) + (77_778 % 7)) / 2, 9);
  });

  test('objects have their keys, expressions and own channels at a frame; one that fails keeps its number', () => {
    const object = makeObject('o', 'Lantern', 'prop', {
      custom: [{ id: 'dial', name: 'hand-over', value: 0.25, default: 0, min: 0, max: 1, unit: '' }],
      animated: {
        'translate.x': { keys: trackOf([straight(1, 0), straight(11, 5)]) },
        'rotate.z': { expression: 'frame * 2' },
        'scale.y': { expression: '1 +' },
        dial: { keys: trackOf([straight(1, 0), straight(11, 1)]) },
      },
    });
    const at = objectsAt({ objects: [object], frameRate: 24, range: { first: 1, last: 120 } }, 6).get('o');
    expect(at && ['translate.x', 'rotate.z', 'scale.y', 'dial'].map((c) => channelValue(at, c))).toEqual([2.5, 12, 1, 0.5]);
  });
});
