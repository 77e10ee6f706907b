import { writeChannels, numberAt } from '../edits/channel-edits.ts';
import { setInput, type Edit } from '../edits/document.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { resolveProject } from '../graph/network/resolve.ts';
import type { DialValue, PoseValues } from '../project/animation.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { channelsOf } from '../scene/channels.ts';
import { objectsById } from '../scene/objects.ts';
import { dialAt, dialWith, fitsDial } from './dials.ts';
import type { Reach } from './reach.ts';

export const NO_VALUES: PoseValues = { objects: {}, dials: {} };

/** The numbers of everything within a reach at a frame; of some objects alone, where they are named, without dials. */
export function readPose(
  catalogue: Catalogue,
  project: Project,
  frame: number,
  reach: Reach,
  only?: readonly string[],
): PoseValues {
  const known = objectsById(project.objects);
  const objects: Record<string, Record<string, number>> = {};
  for (const [id, channels] of reach.objects) {
    const object = known.get(id);
    if (!object || (only && !only.includes(id))) continue;
    const shown = channels.filter((c) => channelsOf(object).includes(c));
    if (shown.length > 0) objects[id] = Object.fromEntries(shown.map((c) => [c, numberAt(project, object, c, frame)]));
  }
  const dials: Record<string, Record<string, DialValue>> = {};
  const nodes = resolveProject(catalogue, project);
  for (const [id, ports] of only ? [] : reach.dials) {
    const node = nodes.get(id);
    const entries = (node?.inputs ?? []).flatMap((port) => {
      const value = node && ports.includes(port.id) ? dialAt(project, node.record, port, frame) : undefined;
      return value === undefined || typeof value === 'string' ? [] : [[port.id, value] as const];
    });
    if (entries.length > 0) dials[id] = Object.fromEntries(entries);
  }
  return { objects, dials };
}

/** What of a pose can be put somewhere, and sentences for the rest. */
export interface FittingPose {
  readonly values: PoseValues;
  readonly problems: readonly string[];
}

/** What of a pose is there in a project and within a reach. A pose of another rig fits in nothing. */
export function fittingPose(catalogue: Catalogue, project: Project, values: PoseValues, reach: Reach): FittingPose {
  const nodes = resolveProject(catalogue, project);
  const known = objectsById(project.objects);
  let gone = 0;
  let held = 0;
  const objects: Record<string, Record<string, number>> = {};
  for (const [id, channels] of Object.entries(values.objects)) {
    const object: ObjectRecord | undefined = known.get(id);
    const open = reach.objects.get(id);
    const fits = Object.entries(channels).filter(([channel]) => {
      const isThere = object !== undefined && channelsOf(object).includes(channel);
      if (!isThere) gone++;
      else if (!open?.includes(channel)) held++;
      return isThere && open?.includes(channel);
    });
    if (fits.length > 0) objects[id] = Object.fromEntries(fits);
  }
  const dials: Record<string, Record<string, DialValue>> = {};
  for (const [id, inputs] of Object.entries(values.dials)) {
    const node = nodes.get(id);
    const open = reach.dials.get(id);
    const fits = Object.entries(inputs).filter(([port, value]) => {
      const found = node?.inputs.find((p) => p.id === port);
      const isThere = found !== undefined && fitsDial(found, value);
      if (!isThere) gone++;
      else if (!open?.includes(port)) held++;
      return isThere && open?.includes(port);
    });
    if (fits.length > 0) dials[id] = Object.fromEntries(fits);
  }
  const problems: string[] = [];
  if (gone > 0) problems.push(`${gone} of its numbers belong to what is not in this project.`);
  if (held > 0) problems.push(`${held} of its numbers belong to what is locked or not handed out.`);
  return { values: { objects, dials }, problems };
}

/** Puts numbers into channels and inputs at a frame: as keys where there are keys, or with `autoKey`. */
export const writePose =
  (catalogue: Catalogue, values: PoseValues, frame: number, autoKey: boolean): Edit =>
  (p) => {
    let next = Object.entries(values.objects).reduce((q, [id, channels]) => {
      const object = objectsById(q.objects).get(id);
      // What stays as it is gets no key of its own.
      const changed = object ? Object.entries(channels).filter(([c, v]) => numberAt(q, object, c, frame) !== v) : [];
      return changed.length > 0 ? writeChannels(id, Object.fromEntries(changed), frame, autoKey)(q) : q;
    }, p);
    const nodes = resolveProject(catalogue, p);
    for (const [id, inputs] of Object.entries(values.dials)) {
      const node = nodes.get(id);
      for (const port of node?.inputs ?? []) {
        const value = inputs[port.id] as DialValue | undefined;
        if (!node || value === undefined) continue;
        const now = dialAt(p, node.record, port, frame);
        if (JSON.stringify(now) === JSON.stringify(value)) continue;
        next = setInput(node.graph.id, id, port.id, dialWith(node.record, port, value, now, frame, autoKey))(next);
      }
    }
    return next;
  };
