import { resolveGraph, nodeTitle } from '../graph/network/resolve.ts';
import { typedInput } from '../graph/node/typed.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { InputValue, KeyTrack, NumberSource } from '../project/fields.ts';
import type { Project } from '../project/schema.ts';
import { channelName, channelsOf, channelUnit } from '../scene/channels.ts';
import { keysIn, trackAt, withKey } from '../scene/keys.ts';
import { graphAt, graphWithNode } from '../modules/views.ts';
import { setAnimated } from './channel-edits.ts';
import { setInput, type Edit } from './document.ts';

/** Where keys are: a channel of an object, or a number of an input of a node (one of three for a vector). */
export type TrackRef =
  | { readonly of: 'channel'; readonly object: string; readonly channel: string }
  | {
      readonly of: 'input';
      readonly graph: string;
      readonly node: string;
      readonly port: string;
      readonly axis: number | null;
    };

/** Keys with what they are called. */
export interface TrackRow {
  readonly key: string;
  readonly ref: TrackRef;
  readonly owner: string;
  readonly label: string;
  readonly unit: string;
  readonly track: KeyTrack;
}

/** All keys of some objects and nodes; of everything when nothing is given. */
export function trackRows(
  catalogue: Catalogue,
  project: Project,
  objects: readonly string[],
  nodes: readonly string[],
): TrackRow[] {
  const all = objects.length + nodes.length === 0;
  const rows: TrackRow[] = [];
  const asked = new Set(objects);
  for (const o of project.objects) {
    if (!all && !asked.has(o.id)) continue;
    for (const channel of channelsOf(o)) {
      const track = keysIn(o.animated[channel]);
      if (track)
        rows.push({
          key: `${o.id}/${channel}`,
          ref: { of: 'channel', object: o.id, channel },
          owner: o.name,
          label: channelName(o, channel),
          unit: channelUnit(o, channel),
          track,
        });
    }
  }
  // Nodes inside of uses have keys of their module; they are shown where they are picked.
  const looks = new Set(nodes.filter((n) => n.includes('/')).map((n) => graphWithNode(project, n)));
  const inside = [...looks].flatMap((id) => (id === undefined ? [] : (graphAt(project, id) ?? [])));
  for (const graph of [...project.graphs, ...inside]) {
    for (const n of graph.nodes) {
      if (!all && !nodes.includes(n.id)) continue;
      for (const [port, value] of Object.entries(n.inputs)) {
        const parts: readonly unknown[] = Array.isArray(value) ? value : [value];
        parts.forEach((part, i) => {
          const track = keysIn(part);
          const node = track && resolveGraph(catalogue, graph).get(n.id);
          const input = node?.inputs.find((p) => p.id === port);
          if (!track || !node || !input) return;
          const axis = Array.isArray(value) ? i : null;
          const label = axis === null ? input.label : `${input.label} ${'xyz'[axis]}`;
          rows.push({
            key: `${n.id}/${port}/${axis ?? ''}`,
            ref: { of: 'input', graph: graph.id, node: n.id, port, axis },
            owner: nodeTitle(node),
            label,
            unit: input.unit ?? '',
            track,
          });
        });
      }
    }
  }
  return rows;
}

/** Gives a place other keys; without any it keeps a typed number. */
export const setTrack =
  (ref: TrackRef, track: KeyTrack | undefined, otherwise: number): Edit =>
  (p) => {
    if (ref.of === 'channel') return setAnimated(ref.object, ref.channel, track && { keys: track })(p);
    const source: NumberSource = track ? { keys: track } : otherwise;
    const node = graphAt(p, ref.graph)?.nodes.find((n) => n.id === ref.node);
    const before = node?.inputs[ref.port];
    const value =
      ref.axis === null || !Array.isArray(before) ? source : before.map((part: unknown, i) => (i === ref.axis ? source : part));
    return setInput(ref.graph, ref.node, ref.port, value as InputValue)(p);
  };

/** Keys every number typed into nodes of a graph at a frame, as it is there; expressions and wires stay. */
export const keyInputs =
  (catalogue: Catalogue, graphId: string, nodeIds: readonly string[], frame: number): Edit =>
  (p) => {
    const graph = graphAt(p, graphId);
    const nodes = graph ? resolveGraph(catalogue, graph) : new Map<string, never>();
    const keyed = (part: NumberSource): NumberSource => {
      const track = keysIn(part);
      if (!track && typeof part !== 'number') return part;
      return { keys: withKey(track, frame, track ? trackAt(track, frame) : (part as number)) };
    };
    const free = nodeIds.flatMap((id) => {
      const node = nodes.get(id);
      return (node?.inputs ?? []).flatMap((port) => {
        const value = node && !node.wires.has(port.id) ? typedInput(port, node.record) : undefined;
        if (value === undefined || typeof value === 'boolean' || typeof value === 'string') return [];
        const next = Array.isArray(value) ? value.map(keyed) : keyed(value as NumberSource);
        return [setInput(graphId, id, port.id, next as InputValue)];
      });
    });
    return free.reduce((q, edit) => edit(q), p);
  };

/** Chosen keys: frames, by the key of their row. */
export type ChosenKeys = ReadonlyMap<string, readonly number[]>;

/** What is chosen after its keys have gone to other frames. */
export const chosenAt = (chosen: ChosenKeys, to: (frame: number) => number): ChosenKeys =>
  new Map([...chosen].map(([row, frames]) => [row, frames.map(to)]));

/** Changes the tracks of rows that have chosen keys; `change` gets the frames chosen in each. */
export const changeTracks =
  (
    rows: readonly TrackRow[],
    chosen: ChosenKeys,
    change: (track: KeyTrack, frames: readonly number[]) => KeyTrack | undefined,
  ): Edit =>
  (p) =>
    rows.reduce((q, row) => {
      const frames = chosen.get(row.key);
      if (!frames || frames.length === 0) return q;
      const track = change(row.track, frames);
      return track === row.track ? q : setTrack(row.ref, track, row.track.keys[0].value)(q);
    }, p);
