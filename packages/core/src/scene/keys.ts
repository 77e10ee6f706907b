import { clampHandles, compileResponse, respond, type CompiledResponse } from '../maths/response.ts';
import { memoize } from '../memo.ts';
import type { Key, KeyTrack } from '../project/fields.ts';

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
    return (frame < first.frame ? arrivalOf(edge) : edge.value) + slopeAt(track, edge) * (frame - edge.frame);
  }
  if (end === 'hold' || span <= 0) return respond(compiled(track), frame);
  const rounds = Math.floor((frame - first.frame) / span);
  const inside = respond(compiled(track), frame - rounds * span);
  return end === 'cycle-on' ? inside + rounds * (last.value - first.value) : inside;
}

/** What the way to a key arrives at: its value, unless it jumps there. */
export const arrivalOf = (k: Key): number => k.arrives ?? k.value;

/**
 * Value per frame at the first or last key, as the curve leaves it: towards its handle, or where that has no length
 * towards the handle of the other key, which is then the tangent.
 */
function slopeAt(track: KeyTrack, edge: Key): number {
  const { keys } = track;
  const isFirst = edge === keys[0];
  // One that jumps is left by its own handle.
  if (edge.arrives !== undefined) {
    const [frames, value] = isFirst ? edge.in : edge.out;
    return frames !== 0 ? value / frames : 0;
  }
  if (keys.length < 2) return 0;
  const [a, b] = isFirst ? [keys[0], keys[1]] : [keys[keys.length - 2], keys[keys.length - 1]];
  if (a.shape === 'step') return 0;
  const chord = (arrivalOf(b) - a.value) / (b.frame - a.frame);
  if (a.shape === 'straight') return chord;
  const [out, into] = clampHandles({ ...a, at: a.frame }, { ...b, at: b.frame });
  const [mine, other] = isFirst ? [out, into] : [into, out];
  if (mine[0] !== 0) return mine[1] / mine[0];
  if (mine[1] !== 0) return chord;
  const [from, to] = isFirst ? [a.value, arrivalOf(b)] : [arrivalOf(b), a.value];
  const frames = (isFirst ? 1 : -1) * (b.frame - a.frame) + other[0];
  return frames !== 0 ? (to + other[1] - from) / frames : chord;
}

/** The keys that a number comes from, if it comes from keys. */
export const keysIn = (source: unknown): KeyTrack | undefined =>
  typeof source === 'object' && source !== null && 'keys' in source ? (source as { keys: KeyTrack }).keys : undefined;

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
export function trackOf(keys: readonly Key[], ends: Partial<Pick<KeyTrack, 'before' | 'after'>> = {}): KeyTrack {
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

/** The key with another number from its frame on; before it nothing changes. */
const jumping = (k: Key, value: number): Key => (value === k.value ? k : { ...k, value, arrives: arrivalOf(k), tied: false });

/**
 * The same curve with a key at a frame: the way it lies in is cut in two where it is (de Casteljau). What a track does
 * beyond its ends is drawn up to the frame; the same again and again as keys, over a range.
 */
export function splitAt(track: KeyTrack, frame: number, range: FrameRange = { first: frame, last: frame }): KeyTrack {
  const isBeyond = frame < track.keys[0].frame || frame > track.keys[track.keys.length - 1].frame;
  const whole = isBeyond ? spelledOut(track, frame, range) : track;
  const { keys } = whole;
  const i = keys.findLastIndex((k) => k.frame <= frame);
  if (keys[i]?.frame === frame) return whole;
  const value = trackAt(track, frame);
  if (i < 0 || i === keys.length - 1) {
    // Beyond the ends: level, or straight on.
    const edge = i < 0 ? keys[0] : keys[i];
    const end = i < 0 ? whole.before : whole.after;
    const slope = end === 'straight' ? slopeAt(whole, edge) : 0;
    const shape: Key['shape'] = end === 'straight' ? 'straight' : 'step';
    const made = makeKey(frame, value, { in: [-1, -slope], out: [1, slope], shape });
    const others = i < 0 ? keys : keys.map((k): Key => (k === edge ? { ...k, shape } : k));
    // What was before the first key still is: seen from there it goes on as it did.
    const first = i < 0 && end === 'straight' ? { ...made, arrives: value } : made;
    return trackOf([...others, first], whole);
  }
  const [a, b] = [keys[i], keys[i + 1]];
  if (a.shape !== 'curve') return trackOf([...keys, makeKey(frame, value, { shape: a.shape })], whole);
  const [out, into] = clampHandles({ ...a, at: a.frame }, { ...b, at: b.frame });
  const points = [
    [a.frame, a.value],
    [a.frame + out[0], a.value + out[1]],
    [b.frame + into[0], arrivalOf(b) + into[1]],
    [b.frame, arrivalOf(b)],
  ];
  const t = timeOf(
    points.map((p) => p[0]),
    frame,
  );
  const between = (p: readonly number[], q: readonly number[]) => p.map((v, k) => v + (q[k] - v) * t);
  const first = [0, 1, 2].map((k) => between(points[k], points[k + 1]));
  const second = [0, 1].map((k) => between(first[k], first[k + 1]));
  const [x, y] = between(second[0], second[1]);
  const off = (p: readonly number[], from: readonly number[]) => [p[0] - from[0], p[1] - from[1]] as const;
  const made = makeKey(frame, y, { in: off(second[0], [x, y]), out: off(second[1], [x, y]), shape: 'curve' });
  const cut = keys.map((k): Key => {
    if (k === a) return { ...k, out: off(first[0], points[0]) };
    return k === b ? { ...k, in: off(first[2], points[3]) } : k;
  });
  return trackOf([...cut, made], whole);
}

/** The parameter at which a cubic of rising numbers is at one of them, by halving. */
function timeOf(x: readonly number[], target: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 80; i++) {
    const t = (low + high) / 2;
    const e = 1 - t;
    if (e * e * e * x[0] + 3 * e * e * t * x[1] + 3 * e * t * t * x[2] + t * t * t * x[3] < target) low = t;
    else high = t;
  }
  return (low + high) / 2;
}

/** A track whose ends go straight on by handles of their own, whatever becomes of the keys next to them. */
function withOwnSlopes(track: KeyTrack): KeyTrack {
  const { keys, before, after } = track;
  const [first, last] = [keys[0], keys[keys.length - 1]];
  const own = (k: Key): Key => {
    const back = k === first && before === 'straight' ? { in: [-1, -slopeAt(track, k)] as const } : {};
    const on = k === last && after === 'straight' ? { out: [1, slopeAt(track, k)] as const } : {};
    const isEnd = 'in' in back || 'out' in on;
    return isEnd ? { ...k, ...back, ...on, arrives: arrivalOf(k), tied: false } : k;
  };
  return { ...track, keys: keys.map(own) };
}

/**
 * A track that goes on as the same again, with its rounds as keys: up to a frame, and over a range; it holds beyond. Others
 * are as they are.
 */
function spelledOut(track: KeyTrack, frame: number, range: FrameRange): KeyTrack {
  const { keys, before, after } = track;
  const [first, last] = [keys[0], keys[keys.length - 1]];
  const span = last.frame - first.frame;
  const isRound = (end: KeyTrack['before']) => end === 'cycle' || end === 'cycle-on';
  if (!isRound(before) && !isRound(after)) return track;
  const ends = { before: isRound(before) ? 'hold' : before, after: isRound(after) ? 'hold' : after } as const;
  if (!(span > 0)) return { ...track, ...ends };
  const roundOf = (f: number) => Math.floor((f - first.frame) / span);
  const from = isRound(before) ? Math.min(0, roundOf(Math.min(frame, range.first))) : 0;
  const to = isRound(after) ? Math.max(0, roundOf(Math.max(frame, range.last))) : 0;
  const all = new Map<number, Key>();
  for (let r = from; r <= to; r++) {
    const carriesOn = (r < 0 ? before : after) === 'cycle-on';
    const rise = carriesOn ? r * (last.value - first.value) : 0;
    for (const k of keys) {
      const moved = movedKey(k, { frame: k.frame + r * span, value: k.value + rise });
      // Where rounds meet, one arrives and the next goes on.
      const known = all.get(moved.frame);
      all.set(moved.frame, known ? { ...jumping(known, moved.value), out: moved.out, shape: moved.shape } : moved);
    }
  }
  return trackOf([...all.values()], ends);
}

/** Frames from first to last. */
interface FrameRange {
  readonly first: number;
  readonly last: number;
}

/**
 * A track whose number jumps to `value` at a frame. Up to it, everything is as it was, handles and all; keys after it stay
 * as they are, and from `until` on so is everything between them.
 * @param until where what was there before goes on again; left out, nowhere but at the keys that are there.
 */
export function jumpedAt(
  track: KeyTrack,
  frame: number,
  value: number,
  until?: number,
  range: FrameRange = { first: frame, last: frame },
): KeyTrack {
  // What goes round and round would have the jump in every round.
  const old = spelledOut(track, frame, range);
  const whole = withOwnSlopes(splitAt(old, frame));
  const upTo = whole.keys.filter((k) => k.frame <= frame).map((k) => (k.frame === frame ? jumping(k, value) : k));
  const rest = old.keys.filter((k) => k.frame > frame);
  // What goes on beyond a last key with nothing between it and the jump would lean on the jump.
  const later = rest.length === 1 ? withOwnSlopes(old).keys.slice(-1) : rest;
  if (until === undefined || later.some((k) => k.frame <= until)) return trackOf([...upTo, ...later], whole);
  // Held until then; there the old curve is cut, and goes on from what it was.
  const held = upTo.map((k): Key => (k.frame === frame ? { ...k, shape: 'step' } : k));
  const cut = withOwnSlopes(splitAt(old, until));
  const again = cut.keys
    .filter((k) => k.frame >= until)
    .map((k): Key => (k.frame === until ? { ...k, arrives: value, tied: false } : k));
  return trackOf([...held, ...again], { before: whole.before, after: cut.after });
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
  return trackOf([...others, ...chosen.map((k) => movedKey(k, to(k)))], track);
}

/** A key somewhere else; where it jumps, the jump goes with it. */
const movedKey = (k: Key, to: { frame: number; value: number }): Key =>
  k.arrives === undefined ? { ...k, ...to } : { ...k, ...to, arrives: k.arrives + to.value - k.value };

/** The whole frame that a frame goes to when time is stretched about another. */
export const stretchedFrame = (frame: number, about: number, time: number): number => Math.round(about + (frame - about) * time);

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
  const valueOf = (v: number) => about.value + (v - about.value) * by.value;
  const handle = (h: Key['in']) => [h[0] * by.time, h[1] * by.value] as const;
  const stretched = track.keys.flatMap((k, i): Key[] => {
    if (!frames.includes(k.frame)) return [];
    const isTurned = by.time < 0;
    return [
      {
        ...k,
        frame: stretchedFrame(k.frame, about.frame, by.time),
        value: valueOf(isTurned ? arrivalOf(k) : k.value),
        ...(k.arrives === undefined ? {} : { arrives: valueOf(isTurned ? k.value : k.arrives) }),
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
      const slopes = [before && (arrivalOf(k) - before.value) / steps[0], after && (arrivalOf(after) - k.value) / steps[1]];
      // Level at ends and where it turns round, else the harmonic mean of both sides (Fritsch and Butland 1984).
      const [a, b] = slopes;
      const slope = a !== undefined && b !== undefined && a * b > 0 ? (2 * a * b) / (a + b) : 0;
      const [into, out] = steps.map((s) => s / 3);
      return { ...k, in: [-into, -into * slope] as const, out: [out, out * slope] as const };
    }),
  };
}
