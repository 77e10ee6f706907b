import { expect, test } from 'vitest';
import { compose } from '../maths/factors.ts';
import { type KeyTrack } from '../project/fields.ts';
import { makeObject } from '../project/kinds/index.ts';
import { trackAt } from './keys.ts';
import { tracksFor } from './tracks-for.ts';

const RADIANS = Math.PI / 180;
const buoy = makeObject('buoy', 'Buoy', 'prop', { pivot: [0, 0.5, 0] });
const keysOf = ({ animated }: ReturnType<typeof tracksFor>, channel: string): KeyTrack =>
  (animated[channel] as { keys: KeyTrack }).keys;

test('straight ways are two keys, bends keep theirs, and channels that stay have none', () => {
  const frames = [1, 2, 3, 4, 5, 6];
  const x = [0, 1, 2, 3, 1, -1];
  const tracks = tracksFor(
    buoy,
    frames,
    x.map((v) => compose([v, 2, 0], [0, 0, 0], 'xyz', [1, 1, 1])),
  );
  expect(Object.keys(tracks.animated)).toEqual(['translate.x']);
  expect(keysOf(tracks, 'translate.x').keys.map((k) => [k.frame, k.value])).toEqual([
    [1, 0],
    [4, 3],
    [6, -1],
  ]);
  frames.forEach((f, i) => expect(trackAt(keysOf(tracks, 'translate.x'), f)).toBeCloseTo(x[i], 9));
});

test('turns go on past 180° without a jump, and steps keep only what changes', () => {
  const frames = Array.from({ length: 25 }, (_, i) => i + 1);
  const turning = frames.map((f) => compose([0, 0, 0], [0, 0, (f - 1) * 30 * RADIANS], 'xyz', [1, 1, 1]));
  const turns = keysOf(tracksFor(buoy, frames, turning), 'rotate.z').keys;
  expect(turns.map((k) => k.frame)).toEqual([1, 25]);
  expect(turns[1].value).toBeCloseTo(720, 6);
  const stepping = frames.map((f) => compose([0, f < 10 ? 0 : f < 20 ? 1 : 2, 0], [0, 0, 0], 'xyz', [1, 1, 1]));
  const steps = keysOf(tracksFor(buoy, frames, stepping, 'step'), 'translate.y').keys;
  expect(steps.map((k) => k.frame).slice(0, 3)).toEqual([1, 10, 20]);
  expect(steps.every((k) => k.shape === 'step')).toBe(true);
});
