import { compileResponse, respond, type CompiledResponse } from '../maths/response.ts';
import { memoize } from '../memo.ts';
import type { Key, KeyTrack } from '../project/schema.ts';

const compiled = memoize((track: KeyTrack): CompiledResponse =>
  compileResponse({ points: track.keys.map((k) => ({ ...k, at: k.frame })), invert: false }),
);

/** The value of keys at a frame: Bézier curves with monotone time (DECISIONS 25), straight lines or steps. */
export function trackAt(track: KeyTrack, frame: number): number {
  const { keys, before, after } = track;
  const first = keys[0];
  const last = keys[keys.length - 1];
  const end = frame < first.frame ? before : frame > last.frame ? after : 'hold';
  const span = last.frame - first.frame;
  if (end === 'straight') {
    const edge = frame < first.frame ? first : last;
    return edge.value + slopeAt(track, edge) * (frame - edge.frame);
  }
  if (end === 'hold' || span <= 0) return respond(compiled(track), frame);
  const rounds = Math.floor((frame - first.frame) / span);
  const inside = respond(compiled(track), frame - rounds * span);
  return end === 'cycle-on' ? inside + rounds * (last.value - first.value) : inside;
}

/** Value per frame at the first or last key, as the curve leaves it. */
function slopeAt(track: KeyTrack, edge: Key): number {
  const { keys } = track;
  if (keys.length < 2) return 0;
  const isFirst = edge === keys[0];
  const [a, b] = isFirst ? [keys[0], keys[1]] : [keys[keys.length - 2], keys[keys.length - 1]];
  if (a.shape === 'step') return 0;
  const handle = isFirst ? a.out : b.in;
  if (a.shape === 'straight' || handle[0] === 0) return (b.value - a.value) / (b.frame - a.frame);
  return handle[1] / handle[0];
}

/** The keys that a number comes from, if it comes from keys. */
export const keysIn = (source: unknown): KeyTrack | undefined =>
  typeof source === 'object' && source !== null && 'keys' in source ? (source as { keys: KeyTrack }).keys : undefined; // prettier-ignore

/** A key at a frame with level handles. */
export const makeKey = (frame: number, value: number, extras: Partial<Key> = {}): Key => ({
  frame,
  value,
  in: [-1, 0],
  out: [1, 0],
  shape: 'curve',
  tied: true,
  ...extras,
});

/**
 * Keys with their frames in order; of several at one frame the last given stays.
 * @throws RangeError without a key
 */
export function trackOf(
  keys: readonly Key[],
  ends: Partial<Pick<KeyTrack, 'before' | 'after'>> = {},
): KeyTrack {
  if (keys.length === 0) throw new RangeError('A track needs a key.');
  const at = new Map<number, Key>();
  for (const k of keys) at.set(k.frame, k);
  return {
    keys: [...at.values()].sort((a, b) => a.frame - b.frame),
    before: ends.before ?? 'hold',
    after: ends.after ?? 'hold',
  };
}

/**
 * Sets a key; one at that frame keeps its handles and shape. A new one takes the shape of the key before it, and its
 * handles and those of its neighbours are smoothed where they are tied.
 */
export function withKey(track: KeyTrack | undefined, frame: number, value: number): KeyTrack {
  if (!track) return trackOf([makeKey(frame, value)]);
  const known = track.keys.find((k) => k.frame === frame);
  if (known) {
    if (known.value === value) return track;
    return smoothedKeys(
      trackOf(
        track.keys.map((k) => (k === known ? { ...k, value } : k)),
        track,
      ),
      [frame],
    );
  }
  const shape = [...track.keys].reverse().find((k) => k.frame < frame)?.shape ?? track.keys[0].shape;
  return smoothedKeys(trackOf([...track.keys, makeKey(frame, value, { shape })], track), [frame]);
}

/** Without the keys at some frames; undefined when none is left. */
export function withoutKeys(track: KeyTrack, frames: readonly number[]): KeyTrack | undefined {
  const keys = track.keys.filter((k) => !frames.includes(k.frame));
  return keys.length > 0 ? { ...track, keys } : undefined;
}

/**
 * Moves, scales or copies keys: each chosen one goes where `to` says; what stood there is replaced.
 * @param keep leaves the chosen keys where they are too (a copy).
 */
export function movedKeys(
  track: KeyTrack,
  frames: readonly number[],
  to: (key: Key) => { frame: number; value: number },
  keep = false,
): KeyTrack {
  const chosen = track.keys.filter((k) => frames.includes(k.frame));
  const others = keep ? track.keys : track.keys.filter((k) => !frames.includes(k.frame));
  return trackOf([...others, ...chosen.map((k) => ({ ...k, ...to(k) }))], track);
}

/** The whole frame that a frame goes to when time is stretched about another. */
export const stretchedFrame = (frame: number, about: number, time: number): number =>
  Math.round(about + (frame - about) * time);

/**
 * Stretches keys about a frame and a value, handles and all: `time` −1 turns them round, `value` −1 upside down. Frames
 * are rounded. @throws RangeError when `time` is 0, since all keys would fall together
 */
export function stretchedKeys(
  track: KeyTrack,
  frames: readonly number[],
  about: { readonly frame: number; readonly value: number },
  by: { readonly time: number; readonly value: number },
): KeyTrack {
  if (by.time === 0) throw new RangeError('Keys cannot be stretched to no length.');
  const handle = (h: Key['in']) => [h[0] * by.time, h[1] * by.value] as const;
  const stretched = track.keys.flatMap((k, i): Key[] => {
    if (!frames.includes(k.frame)) return [];
    const isTurned = by.time < 0;
    return [
      {
        ...k,
        frame: stretchedFrame(k.frame, about.frame, by.time),
        value: about.value + (k.value - about.value) * by.value,
        in: handle(isTurned ? k.out : k.in),
        out: handle(isTurned ? k.in : k.out),
        // A shape belongs to the stretch after its key: turned round, to the one before.
        shape: isTurned ? (track.keys[i - 1] ?? k).shape : k.shape,
      },
    ];
  });
  return trackOf([...track.keys.filter((k) => !frames.includes(k.frame)), ...stretched], track);
}

/** Handles of keys at some frames, and of their neighbours, as smooth as can be without overshooting, where tied. */
export function smoothedKeys(track: KeyTrack, frames: readonly number[]): KeyTrack {
  const { keys } = track;
  const touched = (i: number) => frames.some((f) => [i - 1, i, i + 1].some((j) => keys[j]?.frame === f));
  return {
    ...track,
    keys: keys.map((k, i) => {
      if (!k.tied || k.shape !== 'curve' || !touched(i)) return k;
      const before = keys[i - 1] as Key | undefined;
      const after = keys[i + 1] as Key | undefined;
      const steps = [k.frame - (before?.frame ?? k.frame - 3), (after?.frame ?? k.frame + 3) - k.frame];
      const slopes = [
        before && (k.value - before.value) / steps[0],
        after && (after.value - k.value) / steps[1],
      ];
      // Level at ends and where it turns round, else the harmonic mean of both sides (Fritsch and Butland 1984).
      const [a, b] = slopes;
      const slope = a !== undefined && b !== undefined && a * b > 0 ? (2 * a * b) / (a + b) : 0;
      const [into, out] = steps.map((s) => s / 3);
      return { ...k, in: [-into, -into * slope] as const, out: [out, out * slope] as const };
    }),
  };
}
