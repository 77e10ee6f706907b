import { inverseOf } from '../constraints/index.ts';
import { identity, multiply, product, type Matrix } from '../maths/matrix.ts';
import type { Animated, KeyTrack, Matrices, NodeRecord, ObjectRecord, Project } from '../project/schema.ts';
import { animatedAt, channelsOf, channelValue, objectsAt, PLACE_CHANNELS } from './channels.ts';
import { channelsToStandAt } from './keep-pose.ts';
import { keysIn, makeKey, trackOf, withKey } from './keys.ts';
import { localMatrix } from './world.ts';
import { timeScope } from '../expression/index.ts';

/** A switch that was keyed, and how much of the pose could not be kept (0 when all of it). */
export interface KeyedSwitch {
  readonly project: Project;
  readonly residual: number;
}

/** Keys by which a number steps at a frame, from what it was in the frame before. */
function steppedAt(track: KeyTrack | undefined, frame: number, before: number, value: number): KeyTrack {
  const held = withKey(withKey(track, frame - 1, before), frame, value);
  const keys = held.keys.map((k) =>
    k.frame === frame - 1 ? makeKey(k.frame, k.value, { shape: 'step' }) : k,
  );
  return trackOf(keys, held);
}

/**
 * Changes the driver of an object at a frame without a pop: the dial steps from what it was to `to`, and the nine
 * channels step with it, to what keeps the object where it would have been. The frame before keeps its pose by keys too.
 * Where channels cannot hold the pose (shear), they are left alone, and the Hand-Over gets an offset matrix for the time
 * from this frame on.
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
  const stepping = (o: ObjectRecord, channel: string, value: number): ObjectRecord => {
    const keys = steppedAt(keysIn(o.animated[channel]), frame, channelValue(before, channel) ?? 0, value);
    return { ...o, animated: { ...o.animated, [channel]: { keys } } };
  };
  const changed = (p: Project, change: (o: ObjectRecord) => ObjectRecord): Project => ({
    ...p,
    objects: p.objects.map((o) => (o.id === objectId ? change(o) : o)),
  });
  const switched = changed(project, (o) => stepping(o, dial, to));
  const after = await worlds(switched, [frame]);
  // 2. What the new driver puts under the channels: W' · L⁻¹. In it, channels are looked for that give the old world.
  const local = localMatrix(now);
  const offLocal = inverseOf(local);
  if (!world || !after || !offLocal) return undefined;
  const found = channelsToStandAt(now, world, multiply(identity(), after, offLocal));
  if (!found) return undefined;
  if (found.residual > 0) {
    const intoAfter = inverseOf(after);
    // L · W'⁻¹ · W · L⁻¹ goes after the offset there is.
    const offset = intoAfter && product(local, intoAfter, world, offLocal);
    const held = offset && withOffset(switched, objectId, frame, offset);
    if (held) return { project: held, residual: 0 };
  }
  const kept = changed(switched, (o) => PLACE_CHANNELS.reduce((q, c) => stepping(q, c, found.values[c]), o));
  return { project: kept, residual: found.residual };
}

/** Gives the one Hand-Over of an object another offset from a frame on; undefined where there is not exactly one. */
function withOffset(project: Project, objectId: string, frame: number, change: Matrix): Project | undefined {
  const isIt = (n: NodeRecord) => n.type === 'hand-over' && n.settings.object === objectId && !n.skip;
  const nodes = project.graphs.flatMap((g) => g.nodes.filter(isIt));
  if (nodes.length !== 1) return undefined;
  const [node] = nodes;
  const known = (node.settings.offsets as Matrices | undefined)?.matrices ?? [];
  const typed = node.inputs.segment as number | Animated | undefined;
  const scope = (f: number) => timeScope(f, project.frameRate, project.range);
  const segmentAt = (f: number): number =>
    typed === undefined ? 0 : typeof typed === 'number' ? typed : Math.round(animatedAt(typed, scope(f)));
  const present = known[segmentAt(frame) - 1];
  const offset = present ? product(Float64Array.from(present), change) : change;
  const offsets: Matrices = { matrices: [...known, Array.from(offset)] };
  const keys = steppedAt(keysIn(typed), frame, segmentAt(frame - 1), offsets.matrices.length);
  const made: NodeRecord = {
    ...node,
    settings: { ...node.settings, offsets },
    inputs: { ...node.inputs, segment: { keys } },
  };
  return {
    ...project,
    graphs: project.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => (n === node ? made : n)) })),
  };
}
