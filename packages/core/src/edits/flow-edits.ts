import { outputKinds, resolveGraph, type PortRef, type ResolvedNode } from '../graph/network/resolve.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { InputPort, NodeDefinition, OutputPort, PortKind } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { accepts, isGeometryKind } from '../graph/node/kinds.ts';
import { inGraph } from '../modules/views.ts';
import type { GraphRecord, NodeRecord, WireRecord } from '../project/schema.ts';
import { newId, removeNodes, type Edit } from './document.ts';

/*
 * Edits that keep a graph flowing: a card goes on from another, goes between the ends of a wire, is taken out of a chain, or
 * is replaced by one of another kind.
 */

/** The input that a value of a kind would go to: the first that is for such, else the first that takes it. */
export function inputFor(inputs: readonly InputPort[], kind: PortKind): string | undefined {
  const natural = inputs.find(
    (i) =>
      i.kind === kind ||
      (i.kind === 'value' && accepts(i.kind, kind)) ||
      (i.kind === 'weight' && kind === 'number') ||
      (i.kind === 'geometry' && isGeometryKind(kind)),
  );
  return (natural ?? inputs.find((i) => accepts(i.kind, kind)))?.id;
}

/** The output that an input of a kind would take: the first of that kind, else the first it accepts. */
export const outputFor = (outputs: readonly OutputPort[], kind: PortKind): string | undefined =>
  (outputs.find((o) => o.kind === kind) ?? outputs.find((o) => accepts(kind, o.kind)))?.id;

const wireOf = (from: PortRef, to: PortRef): WireRecord => ({ id: newId('wire'), from, to, pins: [] });

/** Ports of a node that is not in the graph yet. */
function portsOf(definition: NodeDefinition, node: NodeRecord) {
  const settings = settingsOf(definition, node);
  return { inputs: definition.inputs(settings), outputs: definition.outputs(settings) };
}

const kindAt = (catalogue: Catalogue, graph: GraphRecord, ref: PortRef): PortKind | undefined =>
  outputKinds(catalogue, graph).get(`${ref.node}.${ref.port}`);

/**
 * Wires for a new node that goes on from an output: into its first input that fits. Where all who read that output only show
 * it, the node goes between.
 */
export function goOnFrom(
  catalogue: Catalogue,
  graph: GraphRecord,
  from: PortRef,
  node: NodeRecord,
): { wires: WireRecord[]; without: readonly string[] } {
  const none = { wires: [], without: [] };
  const definition = catalogue.get(node.type);
  const kind = kindAt(catalogue, graph, from);
  if (!definition || !kind) return none;
  const { inputs, outputs } = portsOf(definition, node);
  const into = inputFor(inputs, kind);
  if (into === undefined) return none;
  const wires = [wireOf(from, { node: node.id, port: into })];
  const readers = graph.wires.filter((w) => w.from.node === from.node && w.from.port === from.port);
  const nodes = resolveGraph(catalogue, graph);
  const onlyShown = readers.length > 0 && readers.every((w) => nodes.get(w.to.node)?.definition?.shows);
  if (!onlyShown || definition.shows) return { wires, without: [] };
  const onward = readers.flatMap((w) => {
    const port = nodes.get(w.to.node)?.inputs.find((i) => i.id === w.to.port);
    const out = port && outputFor(outputs, kind);
    return out === undefined ? [] : [wireOf({ node: node.id, port: out }, w.to)];
  });
  return onward.length === readers.length
    ? { wires: [...wires, ...onward], without: readers.map((w) => w.id) }
    : { wires, without: [] };
}

/**
 * A wire for a new node that gives something to a node that is there: what it gives first into the first input that is free
 * and is for just that. Plain numbers have too many places to guess one.
 */
export function feedInto(catalogue: Catalogue, graph: GraphRecord, to: string, node: NodeRecord): WireRecord | undefined {
  const definition = catalogue.get(node.type);
  const target = resolveGraph(catalogue, graph).get(to);
  if (!definition || !target) return undefined;
  const { outputs } = portsOf(definition, node);
  for (const input of target.inputs) {
    if (target.wires.has(input.id)) continue;
    const wanted: readonly PortKind[] = input.kind === 'weight' ? ['falloff'] : [input.kind];
    const isPlain = ['number', 'integer', 'boolean', 'value'].includes(input.kind);
    const found = isPlain ? undefined : outputs.find((o) => wanted.includes(o.kind));
    if (found) return wireOf({ node: node.id, port: found.id }, { node: to, port: input.id });
  }
  return undefined;
}

const isWired = ({ wires }: GraphRecord, id: string): boolean => wires.some((w) => w.from.node === id || w.to.node === id);

/** Puts a loose node of a graph between the ends of a wire; undefined where it does not fit there, or has wires already. */
export function putBetween(catalogue: Catalogue, graph: GraphRecord, wireId: string, nodeId: string): Edit | undefined {
  const wire = graph.wires.find((w) => w.id === wireId);
  const nodes = resolveGraph(catalogue, graph);
  const node = nodes.get(nodeId);
  const end = wire && nodes.get(wire.to.node)?.inputs.find((i) => i.id === wire.to.port);
  const kind = wire && kindAt(catalogue, graph, wire.from);
  if (!wire || !node || !end || !kind || isWired(graph, nodeId)) return undefined;
  const into = inputFor(node.inputs, kind);
  const out = outputFor(node.outputs, end.kind === 'value' || end.kind === 'geometry' ? kind : end.kind);
  if (into === undefined || out === undefined) return undefined;
  return (p) =>
    inGraph(p, graph.id, (g) => ({
      ...g,
      wires: [
        ...g.wires.filter((w) => w.id !== wireId),
        wireOf(wire.from, { node: nodeId, port: into }),
        wireOf({ node: nodeId, port: out }, wire.to),
      ],
    }));
}

/** Where the value of an output comes from when its node only passes it on, through further nodes that are taken out too. */
function sourceBehind(nodes: ReadonlyMap<string, ResolvedNode>, ref: PortRef, out: ReadonlySet<string>): PortRef | undefined {
  let at: PortRef | undefined = ref;
  for (let steps = 0; at && out.has(at.node) && steps <= nodes.size; steps++) {
    const node: ResolvedNode | undefined = nodes.get(at.node);
    const port: string | undefined = node?.definition?.passes?.[at.port];
    at = port === undefined ? undefined : node?.wires.get(port)?.from;
  }
  return at && out.has(at.node) ? undefined : at;
}

/** Wires that heal a graph when nodes are taken out: who read them reads what they passed on. */
function healing(catalogue: Catalogue, graph: GraphRecord, out: ReadonlySet<string>): WireRecord[] {
  const nodes = resolveGraph(catalogue, graph);
  return graph.wires.flatMap((w) => {
    if (!out.has(w.from.node) || out.has(w.to.node)) return [];
    const from = sourceBehind(nodes, w.from, out);
    return from ? [{ ...wireOf(from, w.to), pins: w.pins }] : [];
  });
}

/** Removes nodes; what they passed on goes to those that read them. */
export const removeAndHeal =
  (catalogue: Catalogue, graph: GraphRecord, ids: readonly string[]): Edit =>
  (p) => {
    const healed = healing(catalogue, graph, new Set(ids));
    return inGraph(removeNodes(graph.id, ids)(p), graph.id, (g) =>
      healed.length > 0 ? { ...g, wires: [...g.wires, ...healed] } : g,
    );
  };

/** Takes nodes out of their chains without removing them: wires to and from others go, and the chain closes behind them. */
export const takeOut =
  (catalogue: Catalogue, graph: GraphRecord, ids: readonly string[]): Edit =>
  (p) => {
    const out = new Set(ids);
    const healed = healing(catalogue, graph, out);
    return inGraph(p, graph.id, (g) => ({
      ...g,
      wires: [...g.wires.filter((w) => out.has(w.from.node) === out.has(w.to.node)), ...healed],
    }));
  };

/**
 * Replaces a node by one of another type: wires and typed values go to ports of the same name that take them, else to the
 * first that fits; settings of the same name and type stay. What nothing fits is dropped.
 */
export function replaceNode(catalogue: Catalogue, graph: GraphRecord, id: string, definition: NodeDefinition): Edit {
  const nodes = resolveGraph(catalogue, graph);
  const old = nodes.get(id);
  if (!old) return (p) => p;
  const kept = Object.entries(old.settings).filter(([name, value]) => {
    const mine = definition.settings.find((s) => s.id === name);
    const before = old.definition?.settings.find((s) => s.id === name);
    const isOption = mine?.type !== 'choice' || mine.options.some((o) => o.value === value);
    return (
      mine !== undefined && mine.type === before?.type && isOption && value !== null && old.record.settings[name] !== undefined
    );
  });
  const bare: NodeRecord = {
    id,
    type: definition.id,
    version: definition.version,
    title: '',
    position: old.record.position,
    inputs: {},
    settings: Object.fromEntries(kept),
    skip: old.record.skip,
    probes: [],
  };
  const { inputs, outputs } = portsOf(definition, bare);
  const taken = new Set<string>();
  const placeFor = (name: string, kind: PortKind): string | undefined => {
    const free = inputs.filter((i) => !taken.has(i.id));
    const found = free.find((i) => i.id === name && accepts(i.kind, kind))?.id ?? inputFor(free, kind);
    if (found !== undefined) taken.add(found);
    return found;
  };
  const wires = graph.wires.flatMap((w): WireRecord[] => {
    if (w.to.node === id) {
      const kind = kindAt(catalogue, graph, w.from);
      const port = kind && placeFor(w.to.port, kind);
      return port === undefined ? [] : [{ ...w, to: { node: id, port } }];
    }
    if (w.from.node !== id) return [w];
    // What a node takes that this version does not know is not known either.
    const reader = nodes.get(w.to.node);
    const end = reader?.definition && reader.inputs.find((i) => i.id === w.to.port);
    const port = outputs.find((o) => o.id === w.from.port && (!end || accepts(end.kind, o.kind)))?.id;
    const out = port ?? (end && outputFor(outputs, end.kind));
    return out === undefined ? [] : [{ ...w, from: { node: id, port: out } }];
  });
  const typed = Object.entries(old.record.inputs).filter(
    ([name]) => inputs.some((i) => i.id === name && i.kind === old.inputs.find((o) => o.id === name)?.kind) && !taken.has(name),
  );
  const next: NodeRecord = { ...bare, inputs: Object.fromEntries(typed) };
  return (p) => inGraph(p, graph.id, (g) => ({ ...g, nodes: g.nodes.map((n) => (n.id === id ? next : n)), wires }));
}

/**
 * The object whose mesh an output goes back to: along what nodes pass on, or the first geometry they take, to a node that
 * brings the mesh of an object in. Undefined where there is none.
 */
export function objectBehind(catalogue: Catalogue, graph: GraphRecord, from: PortRef): string | undefined {
  const nodes = resolveGraph(catalogue, graph);
  let at: PortRef | undefined = from;
  for (let steps = 0; at && steps <= nodes.size; steps++) {
    const node: ResolvedNode | undefined = nodes.get(at.node);
    if (!node?.definition) return undefined;
    const brings = node.inputs.length === 0 && node.definition.settings.find((s) => s.type === 'object' && s.takes === 'mesh');
    if (brings) return typeof node.settings[brings.id] === 'string' ? (node.settings[brings.id] as string) : undefined;
    const passed: string | undefined = node.definition.passes?.[at.port];
    const port: string | undefined = passed ?? node.inputs.find((i) => isGeometryKind(i.kind))?.id;
    at = port === undefined ? undefined : node.wires.get(port)?.from;
  }
  return undefined;
}

/**
 * The object that a node is about: the one behind what it takes, or behind what its values go to, the nearest first.
 * Undefined where there is none.
 */
export function objectAbout(catalogue: Catalogue, graph: GraphRecord, id: string): string | undefined {
  const nodes = resolveGraph(catalogue, graph);
  const seen = new Set([id]);
  // The list grows while it is gone through.
  for (const at of seen) {
    const node = nodes.get(at);
    for (const { id: port } of node?.outputs ?? []) {
      const object = objectBehind(catalogue, graph, { node: at, port });
      if (object !== undefined) return object;
    }
    for (const wire of graph.wires) if (wire.from.node === at) seen.add(wire.to.node);
  }
  return undefined;
}
