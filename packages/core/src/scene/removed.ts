import { memoize } from '../memo.ts';
import type { Matrix } from '../maths/matrix.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project, RemovedRecord } from '../project/schema.ts';
import { withChannels, withoutPlace } from './channels.ts';
import { channelsFor, channelsToStandAt } from './keep-pose.ts';

/** The project as nodes see it: objects that were removed but are still read are among the others. */
export const withRemoved = memoize((project: Project): Project =>
  project.removed.length === 0 ? project : { ...project, objects: [...project.objects, ...project.removed.map((r) => r.object)] },
);

/** Removed objects by id; kept with the list. */
export const removedById = memoize(
  (removed: readonly RemovedRecord[]): ReadonlyMap<string, RemovedRecord> => new Map(removed.map((r) => [r.object.id, r])),
);

/** Without the removed objects that no node reads any more. */
export function withoutUnread(project: Project): Project {
  const read = new Set(project.graphs.flatMap((g) => g.nodes.flatMap((n) => Object.values(n.settings))));
  const removed = project.removed.filter((r) => read.has(r.object.id));
  return removed.length === project.removed.length ? project : { ...project, removed };
}

/**
 * An object that hangs under nothing and stands still at a matrix, and rests at another: by a carrier, which holds any
 * matrix; by its channels where only those hold both.
 */
export function standingAt(object: ObjectRecord, world: Readonly<Matrix>, rest: Readonly<Matrix>): ObjectRecord {
  const bare = { ...withoutPlace(object), parent: null, carrier: null };
  const carried = { ...bare, carrier: [...world] };
  const resting = channelsToStandAt(bare, rest, world);
  if (!resting || resting.residual > 0) {
    const [now, then] = [channelsFor(bare, world), channelsFor(bare, rest)];
    if (now.residual === 0 && then.residual === 0)
      return { ...bare, channels: withChannels(bare, now.values).channels, rest: withChannels(bare, then.values).channels };
  }
  return resting ? { ...carried, rest: withChannels(bare, resting.values).channels } : carried;
}
