import { switchDial } from '../edits/switch.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { nodeTitle, type ResolvedNode } from '../graph/network/resolve.ts';
import { standingNodes } from './standing.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { channelName, channelsOf, channelValue, PLACE_CHANNELS } from '../scene/channels.ts';
import { drivenChannels, reachOf, type Reach } from './reach.ts';

/** What of a project belongs to animating, beside the numbers that are handed out. */
const OPEN: readonly (keyof Project)[] = ['poses', 'views', 'sides', 'handOut', 'range'];

/**
 * Why a change of a project is none that an animator may make: a sentence, or undefined where it changes only channels and
 * dials within the hand-out, poses, views and the hand-out itself. What is within reach is told by the project before the
 * change, so that nothing opens itself.
 * @param switched an object that is handed over to another driver: its place jumps with its dial, which must be handed out
 */
export function refusedChange(catalogue: Catalogue, before: Project, after: Project, switched?: string): string | undefined {
  if (before === after) return undefined;
  for (const field of Object.keys(after) as (keyof Project)[]) {
    if (before[field] === after[field] || OPEN.includes(field) || field === 'objects' || field === 'graphs') continue;
    return 'This is part of the rig, which stays as it is here. Change it on Build.';
  }
  const reach = withSwitched(reachOf(catalogue, before), catalogue, before, switched);
  return refusedObjects(catalogue, before, after, reach) ?? refusedGraphs(catalogue, before, after, reach);
}

/** A reach with the whole place of an object that is handed over, if its dial is within it. */
function withSwitched(reach: Reach, catalogue: Catalogue, project: Project, switched: string | undefined): Reach {
  const dial = switched === undefined ? undefined : switchDial(catalogue, project, switched);
  const open = switched === undefined ? undefined : reach.objects.get(switched);
  if (switched === undefined || dial === undefined || !open?.includes(dial)) return reach;
  return { ...reach, objects: new Map(reach.objects).set(switched, [...open, ...PLACE_CHANNELS]) };
}

const rigStays = (what: string) => `${what} is part of the rig, which stays as it is here. Change it on Build.`;
const notHandedOut = (what: string) => `${what} is not handed out. Whoever made the rig can add it, on Build under Hand out.`;

function refusedObjects(catalogue: Catalogue, before: Project, after: Project, { objects }: Reach): string | undefined {
  if (before.objects === after.objects) return undefined;
  if (before.objects.length !== after.objects.length) return rigStays('Which objects there are');
  for (const [i, was] of before.objects.entries()) {
    const now = after.objects[i];
    if (was === now) continue;
    if (was.id !== now.id) return rigStays('The order of objects');
    const field = (Object.keys({ ...was, ...now }) as (keyof ObjectRecord)[]).find(
      (k) => was[k] !== now[k] && !['channels', 'custom', 'animated'].includes(k),
    );
    if (field) return rigStays(`${FIELD_WORDS[field] ?? 'That'} of "${was.name}"`);
    if (was.channels.order !== now.channels.order) return rigStays(`The order of turns of "${was.name}"`);
    if (JSON.stringify(was.custom.map(withoutValue)) !== JSON.stringify(now.custom.map(withoutValue)))
      return rigStays(`Which dials "${was.name}" has`);
    const open = objects.get(was.id) ?? [];
    const channel = [...new Set([...channelsOf(was), ...Object.keys(was.animated), ...Object.keys(now.animated)])].find(
      (c) => !open.includes(c) && (channelValue(was, c) !== channelValue(now, c) || was.animated[c] !== now.animated[c]),
    );
    if (channel === undefined) continue;
    const what = `"${was.name}", ${channelName(was, channel)},`;
    return drivenChannels(catalogue, before, was.id).includes(channel)
      ? `${what} is driven by a graph; what is put there by hand would count for nothing.`
      : notHandedOut(what);
  }
  return undefined;
}

const withoutValue = ({ value: _value, ...rest }: ObjectRecord['custom'][number]) => rest;

const FIELD_WORDS: Partial<Record<keyof ObjectRecord, string>> = {
  name: 'The name',
  parent: 'The parent',
  rest: 'The rest',
  locked: 'The lock on channels',
  pivot: 'The pivot',
  visible: 'The eye',
  pickable: 'The lock',
};

function refusedGraphs(catalogue: Catalogue, before: Project, after: Project, reach: Reach): string | undefined {
  if (before.graphs === after.graphs) return undefined;
  const rig = 'This is part of the rig, which stays as it is here. Change it on Build.';
  if (before.graphs.length !== after.graphs.length) return rig;
  const resolved = standingNodes(catalogue, before);
  for (const [i, was] of before.graphs.entries()) {
    const now = after.graphs[i];
    if (was === now) continue;
    const other = (Object.keys({ ...was, ...now }) as (keyof typeof was)[]).find((k) => was[k] !== now[k] && k !== 'nodes');
    if (other !== undefined || was.nodes.length !== now.nodes.length) return rig;
    for (const [n, node] of was.nodes.entries()) {
      const changed = now.nodes[n];
      if (node === changed) continue;
      const field = (Object.keys({ ...node, ...changed }) as (keyof NodeRecord)[]).find(
        (k) => node[k] !== changed[k] && k !== 'inputs' && k !== 'settings',
      );
      if (field) return rig;
      const known = resolved.get(node.id);
      const open = [...(reach.dials.get(node.id) ?? []), ...switchedBy(known, reach)];
      const keys = new Set([node.inputs, changed.inputs, node.settings, changed.settings].flatMap((r) => Object.keys(r)));
      const touched = [...keys].find(
        (k) => !open.includes(k) && (node.inputs[k] !== changed.inputs[k] || node.settings[k] !== changed.settings[k]),
      );
      if (touched === undefined) continue;
      const label = known?.inputs.find((p) => p.id === touched)?.label ?? touched;
      return notHandedOut(`${known ? nodeTitle(known) : 'A card'}, ${label},`);
    }
  }
  return undefined;
}

/** What a Hand-Over keeps of its switches, where the object that it hands over is handed out. */
function switchedBy(node: ResolvedNode | undefined, { objects }: Reach): readonly string[] {
  const ports = node?.definition?.switches;
  const object = node?.record.settings.object;
  return ports && typeof object === 'string' && objects.has(object) ? [ports.offsets, ports.segment] : [];
}
