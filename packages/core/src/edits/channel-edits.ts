import { timeScope } from '../expression/evaluate.ts';
import { ExpressionError } from '../expression/parse.ts';
import type { Animated, CustomChannel } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import {
  animatedAt,
  channelName,
  channelsOf,
  channelValue,
  placeOfChannel,
  restingValue,
  withChannels,
} from '../scene/channels.ts';
import { keysIn, withKey, withoutKeys } from '../scene/keys.ts';
import { inGraph, newId, type Edit } from './document.ts';

/** Edits of the channels of objects. Channels with keys get keys; driven and locked ones are left as they are. */

const change =
  (id: string, of: (o: ObjectRecord, p: Project) => ObjectRecord): Edit =>
  (p) => ({
    ...p,
    objects: p.objects.map((o) => (o.id === id ? of(o, p) : o)),
  });

/**
 * Puts numbers into channels at a frame: where there are keys, or with `autoKey`, as keys; else as typed numbers. An
 * expression gives way to the number.
 */
export const writeChannels = (
  objectId: string,
  values: Readonly<Record<string, number>>,
  frame: number,
  autoKey: boolean,
): Edit =>
  change(objectId, (o) => {
    let animated = o.animated;
    const free = Object.entries(values).filter(([c]) => !o.locked.includes(c));
    for (const [channel, value] of free) {
      const track = keysIn(animated[channel]);
      if (track || (autoKey && channelValue(o, channel) !== value))
        animated = { ...animated, [channel]: { keys: withKey(track, frame, value) } };
      else if (channel in animated) animated = without(animated, channel);
    }
    return { ...withChannels(o, Object.fromEntries(free)), animated };
  });

/** Keys or an expression of a channel; undefined leaves the typed number. */
export const setAnimated = (objectId: string, channel: string, source: Animated | undefined): Edit =>
  change(objectId, (o) => ({
    ...o,
    animated: source ? { ...o.animated, [channel]: source } : without(o.animated, channel),
  }));

function without<T>(record: Readonly<Record<string, T>>, key: string): Readonly<Record<string, T>> {
  const { [key]: _gone, ...others } = record;
  return others;
}

/** What a channel's keys or expression give at a frame: a finite number, or what is wrong with it, in words. */
function givenAt(project: Project, source: Animated, frame: number): number | string {
  try {
    const value = animatedAt(source, timeScope(frame, project.frameRate, project.range));
    return Number.isFinite(value) ? value : `is not a finite number at frame ${frame}.`;
  } catch (error) {
    if (!(error instanceof ExpressionError)) throw error;
    return error.message;
  }
}

/** The number of a channel of a record at a frame; an expression that gives none leaves the typed number. */
export function numberAt(project: Project, object: ObjectRecord, channel: string, frame: number): number {
  const source = object.animated[channel] as Animated | undefined;
  const given = source && givenAt(project, source, frame);
  return typeof given === 'number' ? given : (channelValue(object, channel) ?? 0);
}

/** What is wrong with the expression of a channel at a frame, in a sentence. */
export function channelTrouble(project: Project, object: ObjectRecord, channel: string, frame: number): string | undefined {
  const source = object.animated[channel] as Animated | undefined;
  const given = source && givenAt(project, source, frame);
  if (typeof given !== 'string') return undefined;
  const typed = Number((channelValue(object, channel) ?? 0).toFixed(3));
  return `The expression of "${channelName(object, channel)}" ${given} The number typed before (${typed}) is used instead.`;
}

/** Sets a key in each channel at a frame, at its present number. */
export const keyChannels =
  (objectIds: readonly string[], channels: readonly string[], frame: number): Edit =>
  (p) => ({
    ...p,
    objects: p.objects.map((o) => {
      if (!objectIds.includes(o.id)) return o;
      let animated = o.animated;
      for (const channel of channels.filter((c) => channelsOf(o).includes(c) && !o.locked.includes(c))) {
        const keys = withKey(keysIn(animated[channel]), frame, numberAt(p, o, channel, frame));
        animated = { ...animated, [channel]: { keys } };
      }
      return animated === o.animated ? o : { ...o, animated };
    }),
  });

/** Takes the key at a frame away; the last one leaves its number as the typed one. */
export const unkeyChannel = (objectId: string, channel: string, frame: number): Edit =>
  change(objectId, (o) => {
    const track = keysIn(o.animated[channel]);
    if (!track) return o;
    const left = withoutKeys(track, [frame]);
    if (left) return { ...o, animated: { ...o.animated, [channel]: { keys: left } } };
    return withChannels({ ...o, animated: without(o.animated, channel) }, { [channel]: track.keys[0].value });
  });

/** Locks, unlocks, hides or shows channels. */
export const markChannels =
  (objectIds: readonly string[], mark: 'locked' | 'hidden', channels: readonly string[], on: boolean): Edit =>
  (p) => ({
    ...p,
    objects: p.objects.map((o) => {
      if (!objectIds.includes(o.id)) return o;
      const others = o[mark].filter((c) => !channels.includes(c));
      return { ...o, [mark]: on ? [...others, ...channels] : others };
    }),
  });

/** Puts channels back to 0, or 1 for sizes, at a frame. */
export const zeroChannels =
  (objectIds: readonly string[], frame: number, autoKey: boolean): Edit =>
  (p) =>
    objectIds.reduce((q, id) => {
      const o = q.objects.find((x) => x.id === id);
      if (!o) return q;
      const values = Object.fromEntries(
        channelsOf(o)
          .filter((c) => placeOfChannel(c))
          .map((c) => [c, restingValue(o, c)]),
      );
      return writeChannels(id, values, frame, autoKey)(q);
    }, p);

/** Mirrors the pose of objects at a plane of their parent: x, y or z of the place and the two turns across it change sign. */
export const mirrorChannels =
  (objectIds: readonly string[], axis: 'x' | 'y' | 'z', frame: number, autoKey: boolean): Edit =>
  (p) =>
    objectIds.reduce((q, id) => {
      const o = q.objects.find((x) => x.id === id);
      if (!o) return q;
      const turns = ['x', 'y', 'z'].filter((a) => a !== axis).map((a) => `rotate.${a}`);
      const values = Object.fromEntries([`translate.${axis}`, ...turns].map((c) => [c, -numberAt(q, o, c, frame)]));
      return writeChannels(id, values, frame, autoKey)(q);
    }, p);

export const addCustomChannel = (objectId: string, made: CustomChannel): Edit =>
  change(objectId, (o) => ({ ...o, custom: [...o.custom, made] }));

export const newCustomChannel = (object: ObjectRecord, name = 'dial'): CustomChannel => {
  const taken = new Set(object.custom.map((c) => c.name));
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return { id: newId('channel'), name: free, value: 0, default: 0, min: 0, max: 1, unit: '' };
};

export const changeCustomChannel = (objectId: string, channel: string, to: Partial<CustomChannel>): Edit =>
  change(objectId, (o) => ({ ...o, custom: o.custom.map((c) => (c.id === channel ? { ...c, ...to } : c)) }));

export const removeCustomChannel = (objectId: string, channel: string): Edit =>
  change(objectId, (o) => ({
    ...o,
    custom: o.custom.filter((c) => c.id !== channel),
    animated: without(o.animated, channel),
  }));

/**
 * Frees a driven channel and those driven together with it (one input drives a whole part): their node leaves them out
 * from now on, and the numbers they had are typed.
 */
export const detachChannel =
  (objectId: string, channel: string, node: string, graph: string, values: Readonly<Record<string, number>>): Edit =>
  (p) => {
    const place = placeOfChannel(channel);
    const together = (c: string) => c === channel || (place && placeOfChannel(c)?.part === place.part);
    const kept = Object.fromEntries(Object.entries(values).filter(([c]) => together(c)));
    const setting: Record<string, string> = place ? { [place.part]: 'none' } : { own: '' };
    const port = place?.part ?? 'own';
    const freed = inGraph(p, graph, (g) => ({
      ...g,
      nodes: g.nodes.map((n) => (n.id === node ? { ...n, settings: { ...n.settings, ...setting } } : n)),
      wires: g.wires.filter((w) => w.to.node !== node || w.to.port !== port),
    }));
    return change(objectId, (o) => withChannels(o, kept))(freed);
  };
