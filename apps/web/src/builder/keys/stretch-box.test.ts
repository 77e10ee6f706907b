import { makeKey, stretchedFrame, stretchedKeys, trackOf, type TrackRow } from '@umberfish/core';
import { expect, test } from 'vitest';
import { boundsOf, stretchTo } from './stretch-box.tsx';

const row = (key: string, keys: readonly (readonly [number, number])[]): TrackRow => ({
  key,
  ref: { of: 'channel', object: 'duck', channel: key },
  owner: 'Duck',
  label: key,
  unit: 'm',
  track: trackOf(keys.map(([frame, value]) => makeKey(frame, value))),
});
const rows = [
  row('x', [
    [1, 0],
    [9, 4],
  ]),
  row('y', [
    [5, -1],
    [20, 3],
  ]),
  row('z', [
    [2, 50],
    [40, 70],
  ]),
];
const chosen = new Map([
  ['x', [9]],
  ['y', [5, 20]],
]);

test('the box holds the chosen keys and nothing else; keys of one frame have none', () => {
  expect(boundsOf(rows, chosen)).toEqual({ first: 5, last: 20, low: -1, high: 4, top: 0, bottom: 1 });
  expect(boundsOf(rows, new Map([['x', [9]]]))).toBeUndefined();
  expect(boundsOf(rows, new Map())).toBeUndefined();
});

test('the side that is dragged goes along, the one opposite stays, and no key falls onto all others', () => {
  const bounds = boundsOf(rows, chosen)!;
  const moved = (side: 'first' | 'last' | 'low' | 'high', frames: number, values: number) => {
    const { about, by } = stretchTo(bounds, side, frames, values);
    const tracks = rows.map((r) => ({ ...r, track: stretchedKeys(r.track, chosen.get(r.key) ?? [], about, by) }));
    const now = new Map([...chosen].map(([k, f]) => [k, f.map((x) => stretchedFrame(x, about.frame, by.time))]));
    const { first, last, low, high } = boundsOf(tracks, now)!;
    expect(tracks[2].track).toEqual(rows[2].track);
    return [first, last, low, high];
  };
  expect(moved('first', -4, 99)).toEqual([1, 20, -1, 4]);
  expect(moved('last', 10, 99)).toEqual([5, 30, -1, 4]);
  expect(moved('low', 99, -5)).toEqual([5, 20, -6, 4]);
  expect(moved('high', 99, 5)).toEqual([5, 20, -1, 9]);
  // Past the other side they are turned round; onto it, a frame is left.
  expect(moved('last', -20, 0)).toEqual([0, 5, -1, 4]);
  expect(moved('last', -15, 0)).toEqual([5, 6, -1, 4]);
});
