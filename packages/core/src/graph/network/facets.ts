import { memoizeWithin } from '../../memo.ts';
import type { ObjectRecord } from '../../project/kinds/index.ts';
import type { Project } from '../../project/schema.ts';
import { jointsOf } from '../../scene/joints.ts';
import { membersOf } from '../../scene/hierarchy.ts';
import { channelName, channelsOf, placeOfChannel } from '../../scene/channels.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { SHOWN_PORT, type DrivenPart, type FacetName, type FacetRef } from '../node/definition.ts';
import { nodeTitle, resolveProject, type ResolvedNode } from './resolve.ts';

/**
 * One graph of everything that can depend on something else (DECISIONS 11): facets of objects and *units* of
 * nodes. A unit is a group of a node's outputs that depend on the same things; most nodes are one unit.
 */
export type Vertex = string;

export const facetVertex = (f: Pick<FacetRef, 'object' | 'facet' | 'channel'>): Vertex =>
  f.channel === undefined ? `object ${f.object} ${f.facet}` : `object ${f.object} ${f.facet} ${f.channel}`;
/** All vertices of an object: names may have anything in them, so that none is read out of a vertex. */
const facetsOf = (object: ObjectRecord): FacetRef[] => [
  ...FACETS.map((facet): FacetRef => ({ object: object.id, facet })),
  ...channelsOf(object).map((channel): FacetRef => ({ object: object.id, facet: 'channel', channel })),
];
const FACETS = [
  'source',
  'world',
  'rest',
  'result',
  'channels',
  'carrier',
  'members',
  'restMembers',
  'joints',
  'posedJoints',
  'restJoints',
  'parent',
  'restChannels',
] as const satisfies readonly FacetName[];

export const unitVertex = (node: string, group: number): Vertex => `node ${node} ${group}`;

/** Part of a node that is evaluated at once. */
export interface Unit {
  readonly vertex: Vertex;
  readonly node: ResolvedNode;
  readonly ports: readonly string[];
  readonly reads: readonly FacetRef[];
}

/** A node that makes a part of an object: its carrier, or one channel. */
export interface Driver {
  readonly node: ResolvedNode;
  readonly channel: string | undefined;
}

export interface FacetGraph {
  /** What each vertex depends on directly; what depends on nothing is left out. */
  readonly dependencies: ReadonlyMap<Vertex, readonly Vertex[]>;
  readonly units: ReadonlyMap<Vertex, Unit>;
  /** The unit of `node.port`. */
  readonly unitOfPort: ReadonlyMap<string, Vertex>;
  /** Show Mesh nodes that make the result of an object; skipped ones make none. */
  readonly writers: ReadonlyMap<string, readonly ResolvedNode[]>;
  /** Nodes that make an object's carrier or numbers of its channels, by object. */
  readonly drivers: ReadonlyMap<string, readonly Driver[]>;
  /** Nodes that make something which another one makes too. */
  readonly contested: ReadonlySet<string>;
  /** For every vertex on a true loop, the names of what is on it, in order, the first again at the end. */
  readonly loops: ReadonlyMap<Vertex, readonly string[]>;
}

/** The facet graph of a project; worked out once per project record. */
export const facetGraph = memoizeWithin((catalogue: Catalogue, project: Project): FacetGraph => {
  const nodes = resolveProject(catalogue, project);
  const dependencies = new Map<Vertex, Vertex[]>();
  const units = new Map<Vertex, Unit>();
  const unitOfPort = new Map<string, Vertex>();
  const writers = new Map<string, ResolvedNode[]>();
  const drivers = new Map<string, Driver[]>();
  for (const node of nodes.values()) {
    for (const unit of unitsOf(node)) {
      units.set(unit.vertex, unit);
      for (const port of unit.ports) unitOfPort.set(`${node.record.id}.${port}`, unit.vertex);
    }
    // What is skipped shows and drives nothing.
    if (node.record.skip) continue;
    const object = node.definition?.shows?.(node.settings).object;
    if (object) writers.set(object, [...(writers.get(object) ?? []), node]);
    for (const { object: driven, channel } of node.definition?.drives?.(node.settings, project) ?? [])
      drivers.set(driven, [...(drivers.get(driven) ?? []), { node, channel }]);
  }
  for (const unit of units.values()) {
    const wires = [...unit.node.wires.values()].map((w) => unitOfPort.get(`${w.from.node}.${w.from.port}`));
    const all = [...wires.filter((w) => w !== undefined), ...unit.reads.map(facetVertex)];
    dependencies.set(unit.vertex, [...new Set(all)]);
  }
  const membersRead = new Set(
    [...units.values()].flatMap((u) => u.reads.flatMap((r) => (r.facet === 'members' ? r.object : []))),
  );
  for (const object of project.objects) {
    const on = (facet: FacetName, ...of: Vertex[]) => {
      if (of.length > 0) dependencies.set(facetVertex({ object: object.id, facet }), of);
    };
    const mine = (facet: FacetName) => facetVertex({ object: object.id, facet });
    const parent = (facet: FacetName) => (object.parent ? [facetVertex({ object: object.parent, facet })] : []);
    const driving = drivers.get(object.id) ?? [];
    const making = (driver: Driver) => unitOfPort.get(`${driver.node.record.id}.${SHOWN_PORT}`) as Vertex;
    const driven = [...new Set(driving.map((d) => d.channel).filter((c) => c !== undefined))];
    for (const channel of driven) {
      const makers = driving.filter((d) => d.channel === channel);
      dependencies.set(facetVertex({ object: object.id, facet: 'channel', channel }), makers.map(making));
    }
    // Only channels that make up its matrix; numbers of its own move nothing by themselves.
    const placed = driven.filter((c) => placeOfChannel(c));
    on('channels', ...placed.map((channel) => facetVertex({ object: object.id, facet: 'channel', channel })));
    const carrying = driving.filter((d) => d.channel === undefined).map(making);
    on('carrier', ...carrying);
    on('parent', ...parent('world'));
    on('world', mine('channels'), ...(carrying.length > 0 ? [mine('carrier')] : []), ...parent('world'));
    on('rest', ...parent('rest'));
    const makers = (writers.get(object.id) ?? []).map((n) => unitOfPort.get(`${n.record.id}.${SHOWN_PORT}`) as Vertex);
    on('result', ...makers);
    if (object.type === 'chain') {
      const joints = jointsOf(project.objects, object.id);
      const all = (facet: FacetName) => joints.map((j) => facetVertex({ object: j.id, facet }));
      on('joints', mine('world'), ...all('channels'));
      on('posedJoints', mine('world'), ...all('world'));
      on('restJoints', mine('rest'), ...all('rest'));
    }
    // Groups in groups have many members each; only those that something reads are listed.
    const under = membersRead.has(object.id) ? membersOf(project.objects, object.id) : [];
    on(
      'members',
      ...under.flatMap((m) =>
        (['source', 'world', 'rest', 'result'] as const).map((facet) => facetVertex({ object: m.id, facet })),
      ),
    );
  }
  const loops = findLoops(dependencies, (v) => vertexName(v, project, units));
  const contested = new Set([...writers.values()].filter((w) => w.length > 1).flatMap((w) => w.map((n) => n.record.id)));
  for (const all of drivers.values())
    for (const { node, channel } of all)
      if (all.some((d) => d.channel === channel && d.node !== node)) contested.add(node.record.id);
  return { dependencies, units, unitOfPort, writers, drivers, contested, loops };
});

function unitsOf(node: ResolvedNode): Unit[] {
  const id = node.record.id;
  const outputs = node.outputs.length > 0 ? node.outputs.map((o) => o.id) : [SHOWN_PORT];
  const reads = node.definition?.reads?.(node.settings) ?? [];
  const groups = new Map<string, { ports: string[]; reads: FacetRef[] }>();
  for (const port of outputs) {
    const mine = reads.filter((r) => !r.ports || r.ports.includes(port));
    const key = mine.map(facetVertex).join('|');
    const group = groups.get(key);
    if (group) group.ports.push(port);
    else groups.set(key, { ports: [port], reads: mine });
  }
  return [...groups.values()].map((g, i) => ({
    vertex: unitVertex(id, i),
    node,
    ports: g.ports,
    reads: g.reads,
  }));
}

function vertexName(v: Vertex, project: Project, units: ReadonlyMap<Vertex, Unit>): string {
  const unit = units.get(v);
  if (unit) return nodeTitle(unit.node);
  for (const object of project.objects)
    for (const f of facetsOf(object))
      if (facetVertex(f) === v) return `${object.name} (${f.channel === undefined ? f.facet : channelName(object, f.channel)})`;
  return v;
}

/** Strongly connected components with more than one vertex, or one that depends on itself (Tarjan 1972, iterative). */
function findLoops(
  dependencies: ReadonlyMap<Vertex, readonly Vertex[]>,
  name: (v: Vertex) => string,
): ReadonlyMap<Vertex, readonly string[]> {
  const index = new Map<Vertex, number>();
  const low = new Map<Vertex, number>();
  const onStack = new Set<Vertex>();
  const stack: Vertex[] = [];
  const loops = new Map<Vertex, readonly string[]>();
  const of = (v: Vertex) => dependencies.get(v) ?? [];
  for (const root of dependencies.keys()) {
    if (index.has(root)) continue;
    const work: { v: Vertex; next: number }[] = [{ v: root, next: 0 }];
    while (work.length > 0) {
      const top = work[work.length - 1];
      const { v } = top;
      if (top.next === 0) {
        index.set(v, index.size);
        low.set(v, index.get(v) as number);
        stack.push(v);
        onStack.add(v);
      }
      const child = of(v)[top.next++];
      if (child !== undefined) {
        if (!index.has(child)) work.push({ v: child, next: 0 });
        else if (onStack.has(child)) low.set(v, Math.min(low.get(v) as number, index.get(child) as number));
        continue;
      }
      work.pop();
      const parent = work[work.length - 1];
      if (parent) low.set(parent.v, Math.min(low.get(parent.v) as number, low.get(v) as number));
      if (low.get(v) !== index.get(v)) continue;
      const members = stack.splice(stack.indexOf(v));
      members.forEach((m) => onStack.delete(m));
      if (members.length === 1 && !of(v).includes(v)) continue;
      const path = pathRound(members, of).map(name);
      for (const m of members) loops.set(m, path);
    }
  }
  return loops;
}

/** A way round inside a component, in the direction values flow, ending where it begins. */
function pathRound(members: readonly Vertex[], of: (v: Vertex) => readonly Vertex[]): Vertex[] {
  const inside = new Set(members);
  const start = members[0];
  const cameFrom = new Map<Vertex, Vertex>();
  const queue = [start];
  for (let i = 0; i < queue.length; i++) {
    for (const d of of(queue[i])) {
      if (d === start) {
        const path = [start];
        for (let v: Vertex | undefined = queue[i]; v !== undefined; v = cameFrom.get(v)) path.push(v);
        return path;
      }
      if (inside.has(d) && !cameFrom.has(d) && d !== start) {
        cameFrom.set(d, queue[i]);
        queue.push(d);
      }
    }
  }
  return [start, start];
}

/** Everything that depends on a vertex, directly or not, itself left out. */
export function downstreamOf(graph: FacetGraph, start: Vertex): ReadonlySet<Vertex> {
  const users = new Map<Vertex, Vertex[]>();
  for (const [v, of] of graph.dependencies) for (const d of of) users.set(d, [...(users.get(d) ?? []), v]);
  const seen = new Set<Vertex>();
  const stack = [start];
  while (stack.length > 0) {
    for (const u of users.get(stack.pop() as Vertex) ?? []) {
      if (!seen.has(u)) {
        seen.add(u);
        stack.push(u);
      }
    }
  }
  return seen;
}

/** Objects that anything behind some nodes reads, by id. */
export function upstreamObjects(catalogue: Catalogue, project: Project, nodes: readonly string[]): Set<string> {
  const { dependencies, units } = facetGraph(catalogue, project);
  const wanted = new Set(nodes);
  const stack = [...units.values()].filter((u) => wanted.has(u.node.record.id)).map((u) => u.vertex);
  const seen = new Set(stack);
  while (stack.length > 0) {
    const v = stack.pop() as Vertex;
    for (const d of dependencies.get(v) ?? []) {
      if (seen.has(d)) continue;
      seen.add(d);
      stack.push(d);
    }
  }
  const read = project.objects.filter((o) => facetsOf(o).some((f) => seen.has(facetVertex(f))));
  return new Set(read.map((o) => o.id));
}

/** Nodes that drive objects, by id; skipped ones drive nothing. */
export function drivingNodes(catalogue: Catalogue, project: Project): string[] {
  const { drivers } = facetGraph(catalogue, project);
  return [...new Set([...drivers.values()].flatMap((all) => all.map((d) => d.node.record.id)))];
}

/** Drivers of one part of an object: of its carrier, or of a channel. */
export const driversOf = (catalogue: Catalogue, project: Project, { object, channel }: DrivenPart): readonly Driver[] =>
  (facetGraph(catalogue, project).drivers.get(object) ?? []).filter((d) => d.channel === channel);
