import { keyChannels, writeChannels, numberAt } from '../edits/channel-edits.ts';
import { setInput, type Edit } from '../edits/document.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { standingNodes } from './standing.ts';
import type { DialValue, PoseValues } from '../project/animation.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import type { InputPort } from '../graph/node/definition.ts';
import { keysIn } from '../scene/keys.ts';
import { channelsOf, channelValue, placeOfChannel, restingValue } from '../scene/channels.ts';
import { objectsById } from '../scene/objects.ts';
import { dialAt, dialWith, fitsDial } from './dials.ts';
import type { Reach } from './reach.ts';

export const NO_VALUES: PoseValues = { objects: {}, dials: {} };

/** The numbers of everything within a reach at a frame. */
export function readPose(catalogue: Catalogue, project: Project, frame: number, reach: Reach): PoseValues {
  const known = objectsById(project.objects);
  const objects: Record<string, Record<string, number>> = {};
  for (const [id, channels] of reach.objects) {
    const object = known.get(id);
    if (!object) continue;
    const shown = channels.filter((c) => channelsOf(object).includes(c));
    if (shown.length > 0) objects[id] = Object.fromEntries(shown.map((c) => [c, numberAt(project, object, c, frame)]));
  }
  const dials: Record<string, Record<string, DialValue>> = {};
  const nodes = standingNodes(catalogue, project);
  for (const [id, ports] of reach.dials) {
    const node = nodes.get(id);
    const entries = (node?.inputs ?? []).flatMap((port) => {
      const value = node && ports.includes(port.id) ? dialAt(project, node.record, port, frame) : undefined;
      return value === undefined || typeof value === 'string' ? [] : [[port.id, value] as const];
    });
    if (entries.length > 0) dials[id] = Object.fromEntries(entries);
  }
  return { objects, dials };
}

/** Everything within a reach as it is at rest: channels of objects as remembered, dials at their defaults. */
export function restPose(catalogue: Catalogue, project: Project, reach: Reach): PoseValues {
  const { objects, dials } = readPose(catalogue, project, project.range.first, reach);
  const known = objectsById(project.objects);
  const nodes = standingNodes(catalogue, project);
  const channels = Object.entries(objects).map(([id, values]) => {
    const object = known.get(id) as ObjectRecord;
    const atRest = { ...object, channels: object.rest };
    const rest = (c: string) => (placeOfChannel(c) ? channelValue(atRest, c) : restingValue(object, c)) ?? 0;
    return [id, Object.fromEntries(Object.keys(values).map((c) => [c, rest(c)]))] as const;
  });
  const defaults = Object.entries(dials).map(([id, values]) => {
    const ports = nodes.get(id)?.inputs.filter((p) => p.id in values) ?? [];
    return [id, Object.fromEntries(ports.map((p) => [p.id, p.default as DialValue]))] as const;
  });
  return { objects: Object.fromEntries(channels), dials: Object.fromEntries(defaults) };
}

/** What of a pose can be put somewhere, and sentences for the rest. */
export interface FittingPose {
  readonly values: PoseValues;
  readonly problems: readonly string[];
}

/** What of a pose is there in a project and within a reach. A pose of another rig fits in nothing. */
export function fittingPose(catalogue: Catalogue, project: Project, values: PoseValues, reach: Reach): FittingPose {
  const nodes = standingNodes(catalogue, project);
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
      // What stays as it is gets no first key.
      const isMeant = (o: ObjectRecord, c: string, v: number) =>
        keysIn(o.animated[c]) !== undefined || numberAt(q, o, c, frame) !== v;
      const changed = object ? Object.entries(channels).filter(([c, v]) => isMeant(object, c, v)) : [];
      return changed.length > 0 ? writeChannels(id, Object.fromEntries(changed), frame, autoKey)(q) : q;
    }, p);
    const nodes = standingNodes(catalogue, p);
    for (const [id, inputs] of Object.entries(values.dials)) {
      const node = nodes.get(id);
      for (const port of node?.inputs ?? []) {
        const value = inputs[port.id] as DialValue | undefined;
        if (!node || value === undefined) continue;
        const now = dialAt(p, node.record, port, frame);
        if (JSON.stringify(now) === JSON.stringify(value) && !hasKeys(node.record, port)) continue;
        next = setInput(node.graph.id, id, port.id, dialWith(node.record, port, value, now, frame, autoKey))(next);
      }
    }
    return next;
  };

const hasKeys = ({ inputs }: NodeRecord, { id }: InputPort): boolean => {
  const value: unknown = inputs[id];
  return Array.isArray(value) ? value.some((part) => keysIn(part)) : keysIn(value) !== undefined;
};

/** Sets a key on everything within a reach, at what it is at a frame. */
export const keyReach =
  (catalogue: Catalogue, reach: Reach, frame: number): Edit =>
  (p) => {
    const keyed = [...reach.objects].reduce((q, [id, channels]) => keyChannels([id], channels, frame)(q), p);
    const { dials } = readPose(catalogue, p, frame, { objects: new Map(), dials: reach.dials });
    const nodes = standingNodes(catalogue, p);
    return Object.entries(dials).reduce((q, [id, inputs]) => {
      const node = nodes.get(id);
      return (node?.inputs ?? []).reduce((r, port) => {
        const value = inputs[port.id] as DialValue | undefined;
        // A key needs a number: yes and no have none.
        if (!node || value === undefined || typeof value === 'boolean') return r;
        return setInput(node.graph.id, id, port.id, dialWith(node.record, port, value, undefined, frame, true))(r);
      }, q);
    }, keyed);
  };
