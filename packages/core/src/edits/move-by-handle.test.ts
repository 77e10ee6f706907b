import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { project } from '../testing/build.ts';
import { at } from '../testing/quay.ts';
import { keysIn } from '../scene/keys.ts';
import { channelValue } from '../scene/channels.ts';
import { writeChannels } from './channel-edits.ts';
import type { Vec3 } from '../maths/vector.ts';
import { handleWrites, heldWords, movedAxes } from './move-by-handle.ts';

const key = (frame: number, value: number) => ({ frame, value, in: [0, 0], out: [0, 0], shape: 'curve' }) as never;
const KEYS = { keys: { keys: [key(1, 0), key(9, 2)], before: 'hold', after: 'hold' } } as never;
const AXES = ['translate.x', 'translate.y', 'translate.z'];
const begin = { 'translate.x': 0, 'translate.y': 0, 'translate.z': 0.25 };

test('one axis dragged: an expression beside it stays, and keys beside it get none', () => {
  const buoy = makeObject('buoy', 'Buoy', 'locator', {
    channels: at([0, 0, 0.25]),
    animated: { 'translate.x': { expression: 'seconds' }, 'translate.z': KEYS },
  });
  const now = { ...begin, 'translate.y': 1.5, 'translate.x': 1e-9, 'translate.z': 0.25 - 1e-9 };
  const { values, held } = handleWrites(buoy, { begin, moved: new Set() }, now, { driven: {} });
  expect(values).toEqual({ 'translate.y': 1.5 });
  expect(held).toEqual([]);
  for (const autoKey of [false, true]) {
    const o = writeChannels('buoy', values, 4, autoKey)(project([], [0, 0, 0], [buoy])).objects.at(-1) as ObjectRecord;
    expect(o.animated['translate.x']).toBe(buoy.animated['translate.x']);
    expect(o.animated['translate.z']).toBe(buoy.animated['translate.z']);
    expect(keysIn(o.animated['translate.y']) !== undefined).toBe(autoKey);
    expect(channelValue(o, 'translate.y')).toBe(1.5);
  }
});

test('an axis that comes back in the same drag is written back', () => {
  const drag = { begin, moved: new Set<string>() };
  const buoy = makeObject('buoy', 'Buoy', 'locator', {});
  expect(handleWrites(buoy, drag, { ...begin, 'translate.x': 1 }, { driven: {} }).values).toEqual({ 'translate.x': 1 });
  expect(handleWrites(buoy, drag, { ...begin, 'translate.y': 2 }, { driven: {} }).values).toEqual({
    'translate.x': 0,
    'translate.y': 2,
  });
});

test('whatever is locked, driven, an expression or not handed out stays and is told; all else that moved is written', () => {
  const kinds = ['free', 'keys', 'expression', 'locked', 'driven', 'closed'] as const;
  const axis = fc.record({ kind: fc.constantFrom(...kinds), by: fc.constantFrom(0, 0.5, -2) });
  fc.assert(
    fc.property(fc.tuple(axis, axis, axis), (axes) => {
      const of = (kind: string) => AXES.filter((_, i) => axes[i].kind === kind);
      const object = makeObject('buoy', 'Buoy', 'locator', {
        locked: of('locked'),
        animated: Object.fromEntries([
          ...of('keys').map((c) => [c, KEYS] as const),
          ...of('expression').map((c) => [c, { expression: '1' }] as const),
        ]),
      });
      const guards = {
        driven: Object.fromEntries(of('driven').map((c) => [c, 1])),
        open: AXES.filter((c) => !of('closed').includes(c)),
      };
      const now = Object.fromEntries(AXES.map((c, i) => [c, begin[c as keyof typeof begin] + axes[i].by]));
      const { values, held } = handleWrites(object, { begin, moved: new Set() }, now, guards);
      const moved = AXES.filter((_, i) => axes[i].by !== 0);
      const may = (c: string) => ['free', 'keys'].includes(axes[AXES.indexOf(c)].kind);
      expect(Object.keys(values)).toEqual(moved.filter(may));
      expect(held.map((h) => h.channel)).toEqual(moved.filter((c) => !may(c)));
      for (const { channel } of held) expect(heldWords(object, held).toLowerCase()).toContain(`move ${channel.at(-1)}`);
    }),
  );
});

test('of three typed numbers those that a handle did not move stay to the last digit; one taken back is written back', () => {
  const typed: Vec3 = [0.123456789, -2, 1e-7];
  const begin: Vec3 = [0.12345679, -2.0000000003, 0];
  expect(movedAxes(typed, begin, [0.123456791, -1.25, -1e-9], 5)).toEqual([0.123456789, -1.25, 1e-7]);
  expect(movedAxes(typed, begin, begin, 5)).toEqual(typed);
});
