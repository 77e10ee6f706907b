import { grouped } from '../words.ts';
import { evaluateTree, parseExpression, timeScope, type ExpressionScope } from '../expression/index.ts';
import type { Animated, Channels } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { trackAt } from './keys.ts';
import { memoize } from '../memo.ts';
import type { ObjectsById } from './objects.ts';

/** Channels every object has, in the order they are shown. */
export const PLACE_CHANNELS = [
  'translate.x',
  'translate.y',
  'translate.z',
  'rotate.x',
  'rotate.y',
  'rotate.z',
  'scale.x',
  'scale.y',
  'scale.z',
] as const;
export type PlaceChannel = (typeof PLACE_CHANNELS)[number];

type Part = 'translate' | 'rotate' | 'scale';
const AXES = ['x', 'y', 'z'] as const;

/** Part and axis of one of the nine, or undefined for a custom channel. */
export function placeOfChannel(channel: string): { part: Part; axis: 0 | 1 | 2 } | undefined {
  if (!(PLACE_CHANNELS as readonly string[]).includes(channel)) return undefined;
  const [part, axis] = channel.split('.');
  return { part: part as Part, axis: AXES.indexOf(axis as 'x') as 0 | 1 | 2 };
}

/** All channels of an object: the nine, then its own. */
export const channelsOf = (object: ObjectRecord): readonly string[] => [...PLACE_CHANNELS, ...object.custom.map((c) => c.id)];

/** What a channel is called on screen. */
export function channelName(object: ObjectRecord, channel: string): string {
  const place = placeOfChannel(channel);
  if (!place) return object.custom.find((c) => c.id === channel)?.name ?? channel;
  return `${{ translate: 'move', rotate: 'turn', scale: 'size' }[place.part]} ${AXES[place.axis]}`;
}

/** The unit of a channel. */
export function channelUnit(object: ObjectRecord, channel: string): string {
  const place = placeOfChannel(channel);
  if (!place) return object.custom.find((c) => c.id === channel)?.unit ?? '';
  return { translate: 'm', rotate: '°', scale: '' }[place.part];
}

/** The number in a channel of a record as it stands: metres, degrees or a factor; undefined when there is none. */
export function channelValue(object: ObjectRecord, channel: string): number | undefined {
  const place = placeOfChannel(channel);
  if (place) return object.channels[place.part][place.axis];
  return object.custom.find((c) => c.id === channel)?.value;
}

/** What a channel is when nothing was done to it: 0, or 1 for a size, or a custom channel's default. */
export function restingValue(object: ObjectRecord, channel: string): number {
  const place = placeOfChannel(channel);
  if (place) return place.part === 'scale' ? 1 : 0;
  return object.custom.find((c) => c.id === channel)?.default ?? 0;
}

/** A record with other numbers in some channels; unknown ones are left out. */
export function withChannels(object: ObjectRecord, values: Readonly<Record<string, number>>): ObjectRecord {
  const parts: Record<Part, [number, number, number]> = {
    translate: [...object.channels.translate],
    rotate: [...object.channels.rotate],
    scale: [...object.channels.scale],
  };
  let custom = object.custom;
  for (const [channel, value] of Object.entries(values)) {
    const place = placeOfChannel(channel);
    if (place) parts[place.part][place.axis] = value;
    else custom = custom.map((c) => (c.id === channel ? { ...c, value } : c));
  }
  const channels: Channels = { ...object.channels, ...parts };
  return { ...object, channels, custom };
}

/** The largest number that a channel may have, either way: beyond it places cannot be told apart, nor drawn. */
export const CHANNEL_LIMIT = 1e12;

/** Whether a number can stand in a channel. */
export const isChannelNumber = (v: number): boolean => Math.abs(v) <= CHANNEL_LIMIT;

/**
 * The number of something animated at a frame.
 * @throws ExpressionError when an expression cannot be worked out
 */
export function animatedAt(source: Animated, scope: ExpressionScope): number {
  if ('keys' in source) return trackAt(source.keys, scope.frame);
  return evaluateTree(parseExpression(source.expression), scope);
}

/** An object with its keys and expressions worked out; one whose expression fails keeps the typed number. */
export function objectAt(object: ObjectRecord, scope: ExpressionScope): ObjectRecord {
  const entries = Object.entries(object.animated);
  if (entries.length === 0) return object;
  const values: Record<string, number> = {};
  for (const [channel, source] of entries) {
    try {
      const value = animatedAt(source, scope);
      if (isChannelNumber(value)) values[channel] = value;
    } catch {
      // What is wrong with it is said where it is typed; here the typed number stands in.
    }
  }
  return withChannels(object, values);
}

/** A channel whose number cannot be worked out at a frame. */
export interface WrongChannel {
  readonly object: ObjectRecord;
  readonly channel: string;
  readonly message: string;
}

/** Channels whose expressions cannot be read, or give what is not finite at one of some frames; each once. */
export function wrongChannels(
  project: Pick<Project, 'objects' | 'frameRate' | 'range'>,
  frames: readonly number[],
): WrongChannel[] {
  return project.objects.flatMap((object) =>
    Object.entries(object.animated).flatMap(([channel, source]) => {
      for (const frame of frames) {
        let why: string | undefined;
        try {
          const value = animatedAt(source, timeScope(frame, project.frameRate, project.range));
          if (!Number.isFinite(value)) why = `is not a finite number at frame ${frame}`;
          else if (!isChannelNumber(value)) why = `is ${value} at frame ${frame}, beyond ${grouped(CHANNEL_LIMIT)}`;
        } catch (error) {
          why = `has an expression that cannot be worked out: ${(error as Error).message.replace(/\.$/, '')}`;
        }
        if (why)
          return [
            {
              object,
              channel,
              message: `${channelName(object, channel)} ${why}. The typed number stands in until it is mended.`,
            },
          ];
      }
      return [];
    }),
  );
}

/** Whether any channel of an object has keys or an expression. */
export const isAnimated = (object: ObjectRecord): boolean => Object.keys(object.animated).length > 0;

/** Objects by id as they are typed, and those of them that have keys or expressions. */
const basesOf = memoize((objects: readonly ObjectRecord[]) => ({
  byId: new Map(objects.map((o) => [o.id, o])) as ObjectsById,
  moving: objects.filter(isAnimated),
}));

const known = new WeakMap<readonly ObjectRecord[], Map<string, ObjectsById>>();
/** Frames whose objects are remembered; a few are asked for again and again. */
const REMEMBERED = 16;

/** The objects of a project as they are at a frame, by id: channels with keys or expressions have their numbers. */
export function objectsAt(project: Pick<Project, 'objects' | 'frameRate' | 'range'>, frame: number): ObjectsById {
  let mine = known.get(project.objects);
  if (!mine) known.set(project.objects, (mine = new Map()));
  const key = `${frame}/${project.frameRate}/${project.range.first}-${project.range.last}`;
  let found = mine.get(key);
  if (!found) {
    const { byId, moving } = basesOf(project.objects);
    found = byId;
    if (moving.length > 0) {
      const scope = timeScope(frame, project.frameRate, project.range);
      const now = new Map(byId);
      for (const o of moving) now.set(o.id, objectAt(o, scope));
      found = now;
    }
    if (mine.size >= REMEMBERED) mine.delete(mine.keys().next().value as string);
    mine.set(key, found);
  }
  return found;
}

/** An object whose own channels put it nowhere: no move, turn or size, typed, keyed or by expression. */
export const withoutPlace = (object: ObjectRecord): ObjectRecord => ({
  ...object,
  channels: { translate: [0, 0, 0], rotate: [0, 0, 0], order: object.channels.order, scale: [1, 1, 1] },
  animated: Object.fromEntries(Object.entries(object.animated).filter(([c]) => !placeOfChannel(c))),
});
