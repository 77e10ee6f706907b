import { largest } from '../maths/extremes.ts';
import { matrixAt, positionOf } from '../maths/matrix.ts';
import { length, subtract, type Vec3 } from '../maths/vector.ts';
import type { Channels, Key, KeyTrack } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { channelValue, objectsAt, PLACE_CHANNELS, withChannels, withoutPlace } from './channels.ts';
import { channelsToStandAt, tidy } from './keep-pose.ts';
import { keysIn, makeKey, smoothedKeys, trackOf } from './keys.ts';
import { parentSpace, worldMatrix } from './world.ts';
import { objectsById } from './objects.ts';

/** World matrices of one object at frames, sixteen numbers each, with all that graphs put under it. */
export type WorldsOf = (project: Project, object: string, frames: readonly number[]) => Promise<Float64Array | null>;

/** An object that hangs under another, and how well it keeps its place. */
export interface Hung {
  readonly project: Project;
  /** What channels cannot hold (shear), as a share; 0 when they hold all. */
  readonly residual: number;
  /** How far it is from where it was at a frame between its keys, at most, metres. */
  readonly away: number;
}

/** Frames that are looked at between keys, at most. */
const MOST_FRAMES = 500;

/**
 * Hangs an object under another, or under the world (`null`): it stays where it is at each of its keys, or at the frame
 * when its place has none, and at rest. Channels that have nothing to make up for are left as they are.
 * @param autoKey whether all that changes gets a key at the frame
 * @returns `flat` when what it comes to hang under has a size of 0; undefined when the object is gone, or nobody says where it is
 */
export async function hungUnder(
  project: Project,
  id: string,
  parent: string | null,
  frame: number,
  worlds: WorldsOf,
  autoKey = false,
): Promise<Hung | 'flat' | undefined> {
  const object = project.objects.find((o) => o.id === id);
  if (!object) return undefined;
  const replaced = (by: ObjectRecord): Project => ({
    ...project,
    objects: project.objects.map((o) => (o.id === id ? by : o)),
  });
  const own = keyFrames(object);
  const frames = own.length === 0 || (autoKey && !own.includes(frame)) ? inOrder([...own, frame]) : own;
  const was = await worlds(project, id, frames);
  // The space its channels come to be in, P · C, is where it would be without any.
  const spaces = await worlds(replaced({ ...withoutPlace(object), parent }), id, frames);
  if (!was || !spaces) return undefined;
  let near = object.channels.rotate;
  let residual = 0;
  const rows: Rows = { frames, before: [], after: [] };
  for (let i = 0; i < frames.length; i++) {
    const now = objectsAt(project, frames[i]).get(id) ?? object;
    const found = channelsToStandAt(now, matrixAt(was, i), matrixAt(spaces, i), near);
    if (!found) return 'flat';
    near = turnsOf(found.values);
    residual = Math.max(residual, found.residual);
    rows.before.push(now);
    rows.after.push(found.values);
  }
  const moved = PLACE_CHANNELS.reduce((o, c) => withNumbers(o, c, rows, autoKey), {
    ...object,
    parent,
    rest: restUnder(project, object, parent),
  });
  const made = replaced(moved);
  return {
    project: made,
    residual,
    away: own.length > 1 ? await awayBetween(project, made, id, own, worlds) : 0,
  };
}

/** An object and its channels at frames: as it is, and as they are to be. */
interface Rows {
  readonly frames: readonly number[];
  readonly before: ObjectRecord[];
  readonly after: Readonly<Record<string, number>>[];
}

/** Puts the numbers of one channel into an object: as keys at the frames where it changes or has some, else as one number. */
function withNumbers(object: ObjectRecord, channel: string, rows: Rows, autoKey: boolean): ObjectRecord {
  const { frames } = rows;
  const to = rows.after.map((r) => tidy(r[channel]));
  const off = to.map((v, i) => v - (channelValue(rows.before[i], channel) ?? 0));
  const dust = 1e-9 * largest(to.map(Math.abs), 1);
  if (off.every((d) => Math.abs(d) <= dust)) return object;
  const track = keysIn(object.animated[channel]);
  const put = (keys: KeyTrack): ObjectRecord => ({ ...object, animated: { ...object.animated, [channel]: { keys } } });
  const isShift = off.every((d) => Math.abs(d - off[0]) <= dust);
  if (track && isShift) return put({ ...track, keys: track.keys.map((k) => ({ ...k, value: tidy(k.value + off[0]) })) });
  if (track || autoKey || !isShift) {
    const keyAt = (i: number): Key => {
      const other = PLACE_CHANNELS.map((c) => keyOf(object, c, frames[i])).find((k) => k !== undefined);
      return {
        ...makeKey(frames[i], to[i], { shape: other?.shape ?? 'curve' }),
        ...keyOf(object, channel, frames[i]),
        value: to[i],
      };
    };
    return put(
      smoothedKeys(
        trackOf(
          frames.map((_, i) => keyAt(i)),
          track,
        ),
        frames,
      ),
    );
  }
  const { [channel]: _expression, ...animated } = object.animated;
  return withChannels({ ...object, animated }, { [channel]: to[0] });
}

/** The largest distance between where an object is now and was, at whole frames between its first key and its last. */
async function awayBetween(from: Project, to: Project, id: string, keyed: readonly number[], worlds: WorldsOf): Promise<number> {
  const [first, last] = [Math.ceil(keyed[0]), Math.floor(keyed[keyed.length - 1])];
  const step = Math.max(1, Math.ceil((last - first) / MOST_FRAMES));
  const frames: number[] = [];
  for (let f = first; f <= last; f += step) frames.push(f);
  const [a, b] = [await worlds(from, id, frames), await worlds(to, id, frames)];
  if (!a || !b) return 0;
  return largest(frames.map((_, i) => length(subtract(positionOf(matrixAt(a, i)), positionOf(matrixAt(b, i))))));
}

/** The channels at rest with which it rests where it did; as they are where nothing can be. */
function restUnder(project: Project, object: ObjectRecord, parent: string | null): Channels {
  const byId = objectsById(project.objects);
  const space = parentSpace(byId, { ...object, parent }, 'rest');
  const resting = { ...object, channels: object.rest };
  const found = channelsToStandAt(resting, worldMatrix(byId, object.id, 'rest'), space);
  if (!found) return object.rest;
  const values = Object.fromEntries(Object.entries(found.values).map(([c, v]) => [c, tidy(v)]));
  return withChannels(resting, values).channels;
}

const keyOf = (object: ObjectRecord, channel: string, frame: number): Key | undefined =>
  keysIn(object.animated[channel])?.keys.find((k) => k.frame === frame);

/** The frames of all keys of the nine channels, in order. */
const keyFrames = (object: ObjectRecord): number[] =>
  inOrder(PLACE_CHANNELS.flatMap((c) => keysIn(object.animated[c])?.keys.map((k) => k.frame) ?? []));

const inOrder = (frames: readonly number[]): number[] => [...new Set(frames)].sort((a, b) => a - b);

const turnsOf = (v: Readonly<Record<string, number>>): Vec3 => [v['rotate.x'], v['rotate.y'], v['rotate.z']];
