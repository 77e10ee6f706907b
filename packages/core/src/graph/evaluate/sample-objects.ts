import { multiply, type Matrix } from '../../maths/matrix.ts';
import { SHOWN_PORT } from '../node/definition.ts';
import type { ObjectRecord } from '../../project/kinds/index.ts';
import type { Project } from '../../project/schema.ts';
import { objectsAt } from '../../scene/channels.ts';
import { channelsFor } from '../../scene/keep-pose.ts';
import { carrierOf, localMatrix, worldMatrix } from '../../scene/world.ts';
import type { Evaluator } from './evaluator.ts';
import { drivingNodes } from '../network/facets.ts';

/** World matrices of objects at a frame, with everything that graphs put into them. */
export function worldsAt(evaluator: Evaluator, project: Project, ids: readonly string[], frame: number): Matrix[] {
  const { now, driven } = poseAt(evaluator, project, frame);
  return ids.map((id) => worldMatrix(now, id, 'channels', driven));
}

/** All objects at a frame, and what graphs put into them. */
function poseAt(evaluator: Evaluator, project: Project, frame: number) {
  const wanted = drivingNodes(evaluator.catalogue, project).map((node) => ({ node, port: SHOWN_PORT }));
  const { driven } = evaluator.evaluate({ project, frame, wanted, purpose: 'pose' });
  return { now: objectsAt(project, frame), driven };
}

/** An object over frames, as seen from what it hangs under: what carries it, and its own channels. */
export interface ObjectSamples {
  readonly object: ObjectRecord;
  /** The object it is told from; null for the world. */
  readonly parent: string | null;
  /** A matrix per frame. */
  readonly matrices: readonly Matrix[];
}

/** Objects with all they hang under, parents before children. */
export function withParents(project: Project, ids: readonly string[]): ObjectRecord[] {
  const byId = new Map(project.objects.map((o) => [o.id, o]));
  const found = new Set<ObjectRecord>();
  for (const id of ids) {
    const way: ObjectRecord[] = [];
    for (let o = byId.get(id); o && !found.has(o) && !way.includes(o); o = byId.get(o.parent ?? '')) way.push(o);
    for (const o of way.reverse()) found.add(o);
  }
  return [...found];
}

/** Samples objects and what they hang under over frames. @param checkpoint called at every frame; may throw to stop */
export function sampleObjects(
  evaluator: Evaluator,
  project: Project,
  ids: readonly string[],
  frames: readonly number[],
  checkpoint: () => void = () => {},
): ObjectSamples[] {
  const objects = withParents(project, ids);
  const matrices = objects.map((): Matrix[] => []);
  for (const frame of frames) {
    checkpoint();
    const { now, driven } = poseAt(evaluator, project, frame);
    objects.forEach((o, i) => {
      const object = now.get(o.id) ?? o;
      const carrier = carrierOf(object, 'channels', driven);
      const local = localMatrix(object, 'channels', driven);
      matrices[i].push(carrier ? multiply(local, carrier, local) : local);
    });
  }
  return objects.map((object, i) => ({ object, parent: object.parent, matrices: matrices[i] }));
}

/** Channels of an object over frames, as if nothing carried it: turns never jump by whole turns. */
export interface ChannelSamples {
  readonly object: ObjectRecord;
  /** For each frame the nine channels, by name. */
  readonly rows: readonly Readonly<Record<string, number>>[];
  /** The largest share of a matrix that channels cannot hold (shear). */
  readonly residual: number;
}

/** The samples as channels, in each object's own order of turns and about its pivot. */
export function channelsOver({ object, matrices }: ObjectSamples): ChannelSamples {
  let near = object.channels.rotate;
  let residual = 0;
  const rows = matrices.map((m) => {
    const found = channelsFor(object, m, near);
    residual = Math.max(residual, found.residual);
    near = [found.values['rotate.x'], found.values['rotate.y'], found.values['rotate.z']];
    return found.values;
  });
  return { object, rows, residual };
}
