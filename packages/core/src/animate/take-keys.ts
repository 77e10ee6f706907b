import type { Catalogue } from '../graph/node/catalogue.ts';
import { nodeTitle } from '../graph/network/resolve.ts';
import { standingNodes } from './standing.ts';
import { switchDial } from '../edits/switch.ts';
import type { Animated, InputValue } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { fitsPort } from '../graph/node/typed.ts';
import { channelName, channelsOf, channelValue, PLACE_CHANNELS, withChannels } from '../scene/channels.ts';
import { keysIn } from '../scene/keys.ts';
import { objectsById } from '../scene/objects.ts';
import { isExpression, reachOf } from './reach.ts';

export interface TakenKeys {
  readonly project: Project;
  /** How many channels and dials came along. */
  readonly taken: number;
  /** Sentences for what no longer fits. */
  readonly left: readonly string[];
}

/**
 * Takes what was animated in a copy of a project back into its rig as it is now: numbers and keys of all that the copy hands
 * out, poses that are new or changed, and what its Hand-Overs keep of their switches. What the rig no longer has is told.
 */
export function takeKeys(catalogue: Catalogue, rig: Project, animated: Project): TakenKeys {
  const reach = reachOf(catalogue, animated);
  const left: string[] = [];
  let taken = 0;
  const theirs = objectsById(animated.objects);
  const mine = objectsById(rig.objects);
  for (const id of reach.objects.keys()) {
    const object = theirs.get(id);
    if (object && !mine.has(id) && isPosed(object)) left.push(`"${object.name}" is no longer in the rig; its keys stay behind.`);
  }
  const objects = rig.objects.map((o) => {
    const from = theirs.get(o.id);
    const channels = reach.objects.get(o.id);
    if (!from || !channels) return o;
    const known = channelsOf(o);
    const isHandedOver = channels.includes(switchDial(catalogue, animated, o.id) ?? '');
    const wanted = new Set([...channels, ...(isHandedOver ? PLACE_CHANNELS.filter((c) => jumps(from.animated[c])) : [])]);
    const there: string[] = [];
    for (const c of wanted) {
      const why = !known.includes(c)
        ? 'no longer has'
        : o.locked.includes(c)
          ? 'has locked'
          : isExpression(o.animated[c]) && !isHandedOver
            ? 'has an expression for'
            : undefined;
      if (why === undefined) there.push(c);
      else if (from.animated[c]) left.push(`"${o.name}" ${why} ${channelName(from, c)}; its keys stay behind.`);
    }
    const values = Object.fromEntries(there.map((c) => [c, channelValue(from, c) ?? 0]));
    const others = Object.entries(o.animated).filter(([c]) => !there.includes(c));
    const keyed = there.flatMap((c) => (from.animated[c] ? [[c, from.animated[c]] as const] : []));
    taken += there.length;
    return { ...withChannels(o, values), animated: Object.fromEntries([...others, ...keyed]) };
  });
  const nodes = standingNodes(catalogue, animated);
  const now = standingNodes(catalogue, rig);
  for (const id of reach.dials.keys()) {
    const node = nodes.get(id);
    if (node && !now.has(id)) left.push(`${nodeTitle(node)} is no longer in the rig; what was set there stays behind.`);
  }
  const withDials = (record: NodeRecord): NodeRecord => {
    const from = nodes.get(record.id);
    const target = now.get(record.id);
    const dials = reach.dials.get(record.id) ?? [];
    const ports = from?.definition?.switches;
    const isSwitched = ports !== undefined && reach.objects.has(String(record.settings.object));
    if (!from || !target || (dials.length === 0 && !isSwitched)) return record;
    let { inputs, settings } = record;
    for (const dial of [...dials, ...(isSwitched ? [ports.segment] : [])]) {
      const port = target.inputs.find((p) => p.id === dial);
      const value = from.record.inputs[dial] as InputValue | undefined;
      if (port && !target.wires.has(dial)) {
        if (value === undefined) inputs = Object.fromEntries(Object.entries(inputs).filter(([k]) => k !== dial));
        else if (fitsPort(port, value)) inputs = { ...inputs, [dial]: value };
        else left.push(`${nodeTitle(target)}: ${port.label} takes something else now; what was set there stays behind.`);
        taken++;
      } else if (target.definition?.settings.some((s) => s.id === dial)) {
        if (dial in from.record.settings) settings = { ...settings, [dial]: from.record.settings[dial] };
      } else if (port && value !== undefined) {
        left.push(`${nodeTitle(target)}: ${port.label} is fed by a wire now; what was set there stays behind.`);
      } else if (value !== undefined) {
        left.push(`${nodeTitle(target)} no longer has the dial "${from.inputs.find((p) => p.id === dial)?.label ?? dial}".`);
      }
    }
    if (isSwitched && ports.offsets in from.record.settings)
      settings = { ...settings, [ports.offsets]: from.record.settings[ports.offsets] };
    return { ...record, inputs, settings };
  };
  const graphs = rig.graphs.map((g) => ({ ...g, nodes: g.nodes.map(withDials) }));
  const poses = new Map([...rig.poses, ...animated.poses].map((pose) => [pose.id, pose]));
  return { project: { ...rig, objects, graphs, poses: [...poses.values()] }, taken, left };
}

/** Whether keys or an expression jump at a frame, as they do where something was handed over. */
function jumps(source: Animated | undefined): boolean {
  if (source && 'expression' in source) return source.expression.startsWith('if(frame <');
  return keysIn(source)?.keys.some((k) => k.arrives !== undefined) ?? false;
}

const isPosed = (object: ObjectRecord): boolean => Object.keys(object.animated).length > 0;
