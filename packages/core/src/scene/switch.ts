import { inverseOf } from '../constraints/index.ts';
import { multiply } from '../maths/matrix.ts';
import type { Animated, KeyTrack, ObjectRecord, Project } from '../project/schema.ts';
import { channelsOf, channelValue, objectsAt, PLACE_CHANNELS } from './channels.ts';
import { channelsToStandAt } from './keep-pose.ts';
import { makeKey, trackOf, withKey } from './keys.ts';
import { localMatrix } from './world.ts';

/** A switch that was keyed, and how much of the pose the channels could not hold (0 when all of it). */
export interface KeyedSwitch {
  readonly project: Project;
  readonly residual: number;
}

const trackOfChannel = (o: ObjectRecord, channel: string): KeyTrack | undefined => {
  const source = o.animated[channel] as Animated | undefined;
  return source && 'keys' in source ? source.keys : undefined;
};

/**
 * Changes the driver of an object at a frame without a pop: the dial steps from what it was to `to`, and the nine
 * channels step with it, to what keeps the object where it would have been. The frame before keeps its pose by keys too.
 * @param dial the object's channel that its Hand-Over reads. @param worlds world matrices of the object at frames.
 * @returns undefined when the object or the dial is gone, or a matrix cannot be inverted
 */
export async function switchWithoutPop(
  project: Project,
  objectId: string,
  dial: string,
  to: number,
  frame: number,
  worlds: (project: Project, frames: readonly number[]) => Promise<Float64Array | null>,
): Promise<KeyedSwitch | undefined> {
  const before = objectsAt(project, frame - 1).get(objectId);
  const now = objectsAt(project, frame).get(objectId);
  if (!before || !now || !channelsOf(now).includes(dial)) return undefined;
  const world = await worlds(project, [frame]);
  // 1. The dial steps; so do the channels, with the numbers they have.
  const stepping = (o: ObjectRecord, channel: string, from: number, value: number): ObjectRecord => {
    const held = withKey(withKey(trackOfChannel(o, channel), frame - 1, from), frame, value);
    const keys = held.keys.map((k) =>
      k.frame === frame - 1 ? makeKey(k.frame, k.value, { shape: 'step' }) : k,
    );
    return { ...o, animated: { ...o.animated, [channel]: { keys: trackOf(keys, held) } } };
  };
  const changed = (p: Project, change: (o: ObjectRecord) => ObjectRecord): Project => ({
    ...p,
    objects: p.objects.map((o) => (o.id === objectId ? change(o) : o)),
  });
  const switched = changed(project, (o) => stepping(o, dial, channelValue(before, dial) ?? 0, to));
  const after = await worlds(switched, [frame]);
  // 2. What the new driver puts under the channels: W' · L⁻¹. In it, channels are looked for that give the old world.
  const back = inverseOf(localMatrix(now));
  if (!world || !after || !back) return undefined;
  const space = multiply(back, after, back);
  const found = channelsToStandAt(now, world, space);
  if (!found) return undefined;
  const kept = changed(switched, (o) =>
    PLACE_CHANNELS.reduce((q, c) => stepping(q, c, channelValue(before, c) ?? 0, found.values[c]), o),
  );
  return { project: kept, residual: found.residual };
}
