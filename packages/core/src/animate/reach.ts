import type { Catalogue } from '../graph/node/catalogue.ts';
import type { InputPort } from '../graph/node/definition.ts';
import { facetGraph } from '../graph/network/facets.ts';
import { nodeTitle, type ResolvedNode } from '../graph/network/resolve.ts';
import { standingNodes } from './standing.ts';
import type { TrackRef } from '../edits/key-edits.ts';
import { memoizeWithin } from '../memo.ts';
import { usedKey } from '../project/modules.ts';
import type { HandOutPart } from '../project/animation.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { channelName, channelsOf } from '../scene/channels.ts';
import { objectsById } from '../scene/objects.ts';
import { nodesBehind } from './acting-dials.ts';
import { isDialPort } from './dials.ts';

/** What can be posed: channels by object, and inputs by node. */
export interface Reach {
  readonly objects: ReadonlyMap<string, readonly string[]>;
  readonly dials: ReadonlyMap<string, readonly string[]>;
}

/** A part of a hand-out with what it names. */
export type HandedPart =
  | { readonly kind: 'object'; readonly name: string; readonly object: ObjectRecord; readonly channels: readonly string[] }
  | {
      readonly kind: 'dials';
      readonly name: string;
      readonly node: ResolvedNode;
      readonly ports: readonly InputPort[];
      /** Settings of the node that are dials. */
      readonly settings: readonly string[];
    };

export interface HandedPage {
  readonly id: string;
  readonly name: string;
  readonly parts: readonly HandedPart[];
}

/** Uses of modules that stand in graphs of the project, in order. */
export const usesIn = (catalogue: Catalogue, project: Project): readonly ResolvedNode[] =>
  [...standingNodes(catalogue, project).values()].filter((n) => usedKey(n.record) !== undefined);

/** What animators are given: the pages of the hand-out, or one with everything; and a sentence for all that is gone. */
export const handedOut = memoizeWithin((catalogue: Catalogue, project: Project) => {
  const objects = objectsById(project.objects);
  const nodes = standingNodes(catalogue, project);
  const problems: string[] = [];
  const partOf = (part: HandOutPart, page: string): HandedPart[] => {
    if (part.kind === 'object') {
      const object = objects.get(part.object);
      if (!object) {
        problems.push(`Page "${page}" hands out ${part.name ? `"${part.name}"` : 'an object'}, which is no longer there.`);
        return [];
      }
      const known = channelsOf(object);
      const channels = part.channels.filter((c) => known.includes(c));
      if (channels.length < part.channels.length)
        problems.push(`Page "${page}" hands out channels of "${object.name}" that are no longer there.`);
      const driven = channels.filter((c) => drivenChannels(catalogue, project, object.id).includes(c));
      if (driven.length > 0) {
        const names = driven.map((c) => channelName(object, c)).join(', ');
        problems.push(
          `Page "${page}" hands out ${names} of "${object.name}", which a graph drives: it cannot be turned by hand.`,
        );
      }
      return [{ kind: 'object', name: part.name || object.name, object, channels }];
    }
    const node = nodes.get(part.node);
    if (!node) {
      problems.push(`Page "${page}" hands out ${part.name ? `"${part.name}"` : 'dials'}, whose card is no longer there.`);
      return [];
    }
    const called = (p: InputPort): InputPort => (part.names?.[p.id] ? { ...p, label: part.names[p.id] } : p);
    const ports = node.inputs.filter((p) => part.dials.includes(p.id)).map(called);
    const settings = part.dials.filter((d) => node.definition?.settings.some((s) => s.id === d));
    if (ports.length + settings.length < part.dials.length)
      problems.push(`Page "${page}" hands out dials of "${nodeTitle(node)}" that are no longer there.`);
    return [{ kind: 'dials', name: part.name || nodeTitle(node), node, ports, settings }];
  };
  const pages: HandedPage[] = project.handOut
    ? project.handOut.pages.map((page) => ({ ...page, parts: page.parts.flatMap((p) => partOf(p, page.name)) }))
    : [{ id: 'all', name: 'All', parts: everything(catalogue, project) }];
  return { pages, problems };
});

/** Without a hand-out: every object that can be picked with all its channels, and the dials of every use. */
function everything(catalogue: Catalogue, project: Project): HandedPart[] {
  return [
    ...project.objects.map((object): HandedPart => ({ kind: 'object', name: object.name, object, channels: channelsOf(object) })),
    ...usesIn(catalogue, project).map((node): HandedPart => ({
      kind: 'dials',
      name: nodeTitle(node),
      node,
      ports: node.inputs.filter(isDialPort),
      settings: node.definition?.settings.map((s) => s.id) ?? [],
    })),
  ];
}

/** Channels of an object that graphs drive: what stands in them by hand counts for nothing. */
export const drivenChannels = (catalogue: Catalogue, project: Project, object: string): readonly string[] =>
  (facetGraph(catalogue, project).drivers.get(object) ?? []).flatMap((d) => (d.channel === undefined ? [] : [d.channel]));

/**
 * All channels and dials that animators may change: what is locked, driven by a graph, fed by a wire or by an expression is
 * not among them.
 */
export const reachOf = memoizeWithin((catalogue: Catalogue, project: Project): Reach => {
  const objects = new Map<string, string[]>();
  const dials = new Map<string, string[]>();
  const add = (to: Map<string, string[]>, key: string, more: readonly string[]) =>
    to.set(key, [...new Set([...(to.get(key) ?? []), ...more])]);
  for (const { parts } of handedOut(catalogue, project).pages)
    for (const part of parts) {
      if (part.kind === 'object') {
        const { id, locked, animated } = part.object;
        const driven = drivenChannels(catalogue, project, id);
        const isOpen = (c: string) => !locked.includes(c) && !driven.includes(c) && !isExpression(animated[c]);
        add(objects, id, part.channels.filter(isOpen));
      } else
        add(dials, part.node.record.id, [
          ...part.ports.flatMap((p) => (part.node.wires.has(p.id) || hasExpression(part.node, p) ? [] : [p.id])),
          ...part.settings,
        ]);
    }
  return { objects, dials };
});

export const isExpression = (source: unknown): boolean => typeof source === 'object' && source !== null && 'expression' in source;

function hasExpression({ record }: ResolvedNode, { id }: InputPort): boolean {
  const value: unknown = record.inputs[id];
  return Array.isArray(value) ? value.some(isExpression) : isExpression(value);
}

/** Of a reach what belongs to some objects: their channels, and the dials of what acts on them. */
export function reachWithin(catalogue: Catalogue, project: Project, reach: Reach, objects: readonly string[]): Reach {
  const behind = new Set(objects.flatMap((id) => [...nodesBehind(catalogue, project, id)]));
  return {
    objects: new Map([...reach.objects].filter(([id]) => objects.includes(id))),
    dials: new Map([...reach.dials].filter(([id]) => behind.has(id))),
  };
}

/** Whether a place for keys is within a reach. */
export const isHandedOut = ({ objects, dials }: Reach, ref: TrackRef): boolean =>
  ref.of === 'channel'
    ? (objects.get(ref.object)?.includes(ref.channel) ?? false)
    : (dials.get(ref.node)?.includes(ref.port) ?? false);
