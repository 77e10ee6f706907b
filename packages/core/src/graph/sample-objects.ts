import { inverseOf } from '../constraints/index.ts';
import { multiply, type Matrix } from '../maths/matrix.ts';
import { SHOWN_PORT } from '../nodes/index.ts';
import type { ObjectRecord, Project } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { channelsFor } from '../scene/keep-pose.ts';
import { worldMatrix } from '../scene/world.ts';
import type { Evaluator } from './evaluator.ts';
import { drivingNodes } from './facets.ts';

/** World matrices of objects at a frame, with everything that graphs put into them. */
export function worldsAt(
  evaluator: Evaluator,
  project: Project,
  ids: readonly string[],
  frame: number,
): Matrix[] {
  const wanted = drivingNodes(project).map((node) => ({ node, port: SHOWN_PORT }));
  const evaluation = evaluator.evaluate({ project, frame, wanted });
  const objects = objectsAt(project, frame);
  return ids.map((id) => worldMatrix(objects, id, 'channels', evaluation.driven));
}

/** An object over frames, as seen from what it hangs under (or from the world, where that has no size). */
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
  const found: ObjectRecord[] = [];
  const add = (id: string | null, depth: number) => {
    const object = id === null ? undefined : byId.get(id);
    if (!object || found.includes(object) || depth > 1000) return;
    add(object.parent, depth + 1);
    found.push(object);
  };
  for (const id of ids) add(id, 0);
  return found;
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
  const all = objects.map((o) => o.id);
  const worlds = frames.map((frame) => {
    checkpoint();
    return worldsAt(evaluator, project, all, frame);
  });
  return objects.map((object, i) => {
    const above = object.parent === null ? -1 : all.indexOf(object.parent);
    const inverses = above < 0 ? [] : worlds.map((w) => inverseOf(w[above]));
    const hangs = above >= 0 && inverses.every((m) => m !== undefined);
    return {
      object,
      parent: hangs ? object.parent : null,
      matrices: worlds.map((w, f) =>
        hangs ? multiply(new Float64Array(16), inverses[f] as Matrix, w[i]) : w[i],
      ),
    };
  });
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
