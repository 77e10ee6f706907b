import type { Vec3 } from '../maths/vector.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import { channelName } from '../scene/channels.ts';
import { keysIn } from '../scene/keys.ts';

/*
 * A handle takes an object to a place, whatever has to change for it. What it may write is less: the axes that it moved,
 * and of those only the ones that somebody may set by hand (DECISIONS 46).
 */

/** What a handle has been moved by, from the moment it was taken hold of. */
export interface HandleDrag {
  /** Channels when it was taken hold of. */
  readonly begin: Readonly<Record<string, number>>;
  /** Channels that it has moved since; one that comes back to where it was is written back. */
  readonly moved: Set<string>;
}

/** What keeps a channel from being set by hand. */
export interface ChannelGuards {
  /** Channels that a graph drives. */
  readonly driven: Readonly<Record<string, unknown>>;
  /** Channels that are handed out, where only those may be changed. */
  readonly open?: readonly string[] | undefined;
}

export interface HandleWrites {
  readonly values: Readonly<Record<string, number>>;
  /** Channels that would have had to move and stay, and why, in words. */
  readonly held: readonly { readonly channel: string; readonly why: string }[];
}

/** Digits that channels are written with: 0.0001°, 0.01 mm. */
const digitsOf = (channel: string): number => (channel.startsWith('rotate') ? 4 : 5);
const rounded = (channel: string, value: number): number => Number(value.toFixed(digitsOf(channel))) + 0;

/**
 * What a handle writes of the channels that would put an object where the handle is: those that differ from when it was
 * taken hold of, or did before. Locked, driven and expression channels, and those not handed out, stay and are told.
 * @param now the channels with which the object would stand there
 */
export function handleWrites(
  object: ObjectRecord,
  drag: HandleDrag,
  now: Readonly<Record<string, number>>,
  { driven, open }: ChannelGuards,
): HandleWrites {
  const values: Record<string, number> = {};
  const held: { channel: string; why: string }[] = [];
  for (const [channel, value] of Object.entries(now)) {
    const to = rounded(channel, value);
    if (to !== rounded(channel, drag.begin[channel] ?? NaN)) drag.moved.add(channel);
    if (!drag.moved.has(channel)) continue;
    const why = whyHeld(object, channel, driven, open);
    if (why) held.push({ channel, why });
    else values[channel] = to;
  }
  return { values, held };
}

/**
 * Three typed numbers after a handle has moved: axes that it did not move stay as they are typed, to the last digit.
 * @param begin what the handle stood for when it was taken hold of, @param now what it stands for
 */
export const movedAxes = (typed: Vec3, begin: Vec3, now: Vec3, digits: number): Vec3 =>
  typed.map((v, axis) => {
    const to = Number(now[axis].toFixed(digits)) + 0;
    return to === Number(begin[axis].toFixed(digits)) + 0 ? v : to;
  }) as unknown as Vec3;

function whyHeld(
  object: ObjectRecord,
  channel: string,
  driven: Readonly<Record<string, unknown>>,
  open: readonly string[] | undefined,
): string | undefined {
  if (channel in driven) return 'a graph drives it';
  if (object.locked.includes(channel)) return 'it is locked';
  if (object.animated[channel] && !keysIn(object.animated[channel])) return 'it has an expression';
  return open && !open.includes(channel) ? 'it is not handed out' : undefined;
}

/** Which axes stay, in a sentence: «Move x stays: it has an expression. Move y and Move z stay: they are locked.» */
export function heldWords(object: ObjectRecord, held: HandleWrites['held']): string {
  const byWhy = new Map<string, string[]>();
  for (const { channel, why } of held) byWhy.set(why, [...(byWhy.get(why) ?? []), channelName(object, channel)]);
  return [...byWhy]
    .map(([why, names]) => {
      if (names.length === 1) return begun(`${names[0]} stays: ${why}.`);
      const many = why
        .replace(/^it is/, 'they are')
        .replace(/^it has/, 'they have')
        .replace(/ it$/, ' them');
      return begun(`${names.slice(0, -1).join(', ')} and ${names[names.length - 1]} stay: ${many}.`);
    })
    .join(' ');
}

const begun = (sentence: string): string => `${sentence[0].toUpperCase()}${sentence.slice(1)}`;
