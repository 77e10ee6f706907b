import { largest } from '../maths/extremes.ts';
import type { Matrix } from '../maths/matrix.ts';
import { samplesNeeded } from '../maths/straight-runs.ts';
import type { Animated, Key } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import { PLACE_CHANNELS } from './channels.ts';
import { channelsFor } from './keep-pose.ts';
import { makeKey, trackOf } from './keys.ts';

/** Channels that follow matrices. */
export interface Tracks {
  readonly animated: Record<string, Animated>;
  /** The numbers of all nine channels at the first of the frames. */
  readonly values: Readonly<Record<string, number>>;
  /** What channels cannot hold (shear) at any of them, as a share; 0 when they hold all. */
  readonly residual: number;
}

/**
 * Keys of the nine channels that follow matrices an object has at frames (under what it hangs under): straight or step,
 * without those that lie on the way between others; channels that stay as they are get none. Turns never jump.
 */
export function tracksFor(
  object: ObjectRecord,
  frames: readonly number[],
  matrices: readonly Matrix[],
  shape: 'straight' | 'step' = 'straight',
): Tracks {
  let near = object.channels.rotate;
  let residual = 0;
  const rows = matrices.map((m) => {
    const { values, residual: left } = channelsFor(object, m, near);
    residual = Math.max(residual, left);
    near = [values['rotate.x'], values['rotate.y'], values['rotate.z']];
    return values;
  });
  const animated: Record<string, Animated> = {};
  for (const channel of PLACE_CHANNELS) {
    const keys = rows.map((r, i) => makeKey(frames[i], r[channel], { shape }));
    const needed = neededKeys(keys, shape);
    if (needed.some((k) => Math.abs(k.value - needed[0].value) > 1e-9)) animated[channel] = { keys: trackOf(needed) };
  }
  return { animated, values: rows[0] ?? {}, residual };
}

/** Without keys that the ones around them say already, to a billionth of the largest. */
export function neededKeys(keys: readonly Key[], shape: 'straight' | 'step'): Key[] {
  const values = keys.map((k) => k.value);
  const tolerance = 1e-9 * largest(values.map(Math.abs), 1e-9);
  if (shape === 'step') {
    let held = NaN;
    return keys.filter(({ value }, i) => {
      if (i > 0 && i < keys.length - 1 && Math.abs(value - held) <= tolerance) return false;
      held = value;
      return true;
    });
  }
  const times = keys.map((k) => k.frame);
  return samplesNeeded(times, (a, b) => [values[b] - values[a]], tolerance).map((i) => keys[i]);
}
