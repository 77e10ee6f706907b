import { memoizeWithin } from '../../memo.ts';
import { expandProject } from '../../modules/expand.ts';
import type { GraphRecord, NodeRecord, Project, WireRecord } from '../../project/schema.ts';
import type { InputPort, NodeDefinition, OutputPort, PortKind, Settings } from '../node/definition.ts';
import { settingsOf, typedInput } from '../node/typed.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { accepts } from '../node/kinds.ts';
import { KIND_WIDTH, type ElementKind } from '../node/values.ts';

/** Where a wire begins or ends. */
export interface PortRef {
  readonly node: string;
  readonly port: string;
}

/** A node record with its definition, ports and settings worked out. */
export interface ResolvedNode {
  readonly record: NodeRecord;
  readonly graph: GraphRecord;
  /** What it was resolved with. */
  readonly catalogue: Catalogue;
  /** Undefined for types this version does not know. */
  readonly definition: NodeDefinition | undefined;
  readonly settings: Settings;
  readonly inputs: readonly InputPort[];
  readonly outputs: readonly OutputPort[];
  /** The wire into each connected input, by port. */
  readonly wires: ReadonlyMap<string, WireRecord>;
}

interface ResolvedParts {
  definition: NodeDefinition | undefined;
  settings: Settings;
  inputs: readonly InputPort[];
  outputs: readonly OutputPort[];
}

const isElementKind = (kind: PortKind): kind is ElementKind => kind in KIND_WIDTH;

const NONE: ReadonlyMap<string, WireRecord> = new Map();

const resolveParts = memoizeWithin((catalogue: Catalogue, record: NodeRecord): ResolvedParts => {
  const definition = catalogue.get(record.type);
  if (!definition) return { definition, settings: record.settings, inputs: [], outputs: [] };
  const settings = settingsOf(definition, record);
  return { definition, settings, inputs: definition.inputs(settings), outputs: definition.outputs(settings) };
});

/** Definition, settings and ports of a node record; worked out once per record. */
export const resolveNode: (catalogue: Catalogue, record: NodeRecord) => Readonly<ResolvedParts> = resolveParts;

/** A node of an unknown type has the ports its wires name, so that the wires can be drawn and kept. */
function portsByWires(graph: GraphRecord, id: string): Pick<ResolvedParts, 'inputs' | 'outputs'> {
  const help = 'A port of a node this version does not know.';
  const into = new Set(graph.wires.filter((w) => w.to.node === id).map((w) => w.to.port));
  const out = new Set(graph.wires.filter((w) => w.from.node === id).map((w) => w.from.port));
  return {
    inputs: [...into].map((port) => ({ id: port, label: port, kind: 'value', help, optional: true })),
    outputs: [...out].map((port) => ({ id: port, label: port, kind: 'value', help })),
  };
}

/** The nodes of a graph by id; worked out once per graph record. */
export const resolveGraph = memoizeWithin((catalogue: Catalogue, graph: GraphRecord): ReadonlyMap<string, ResolvedNode> => {
  const wires = new Map<string, Map<string, WireRecord>>();
  for (const w of graph.wires) {
    let at = wires.get(w.to.node);
    if (!at) wires.set(w.to.node, (at = new Map()));
    at.set(w.to.port, w);
  }
  return new Map(
    graph.nodes.map((record) => {
      const parts = resolveParts(catalogue, record);
      const resolved = { record, graph, catalogue, ...parts, wires: wires.get(record.id) ?? NONE };
      return [record.id, parts.definition ? resolved : { ...resolved, ...portsByWires(graph, record.id) }];
    }),
  );
});

const resolveAll = memoizeWithin((catalogue: Catalogue, project: Project): ReadonlyMap<string, ResolvedNode> => {
  const all = new Map<string, ResolvedNode>();
  for (const graph of project.graphs) for (const [id, node] of resolveGraph(catalogue, graph)) all.set(id, node);
  return all;
});

/**
 * The nodes of all graphs of a project by id, with those inside of uses in place of the uses (`expandProject`); worked out
 * once per project record.
 */
export const resolveProject = (catalogue: Catalogue, project: Project): ReadonlyMap<string, ResolvedNode> =>
  resolveAll(catalogue, expandProject(catalogue, project).project);

/** What a person calls a node: its own title, or its definition's. */
export function nodeTitle(node: Pick<ResolvedNode, 'record' | 'definition'>): string {
  return node.record.title || (node.definition?.title ?? node.record.type);
}

/** Nodes that the wires into some inputs come from, in order; inputs without a wire are left out. */
export function originsOf(node: ResolvedNode, ports: readonly string[]): { node: string; title: string }[] {
  const nodes = resolveGraph(node.catalogue, node.graph);
  return ports.flatMap((port) => {
    const id = node.wires.get(port)?.from.node;
    const source = id === undefined ? undefined : nodes.get(id);
    return source ? [{ node: source.record.id, title: nodeTitle(source) }] : [];
  });
}

/**
 * Kinds of all outputs of a graph as far as wires tell without evaluating: `value` outputs become numbers or
 * vectors. Keys are `node.port`. Worked out once per graph record.
 */
export const outputKinds = memoizeWithin((catalogue: Catalogue, graph: GraphRecord): ReadonlyMap<string, PortKind> => {
  const nodes = resolveGraph(catalogue, graph);
  const kinds = new Map<string, PortKind>();
  const visiting = new Set<string>();
  const stack = [...nodes.keys()];
  while (stack.length > 0) {
    const id = stack[stack.length - 1];
    const node = nodes.get(id);
    if (!node || kinds.has(`${id}.`)) {
      stack.pop();
      continue;
    }
    const sources = [...node.wires.values()].map((w) => w.from.node);
    const open = visiting.has(id) ? [] : sources.filter((s) => nodes.has(s) && !kinds.has(`${s}.`) && !visiting.has(s));
    visiting.add(id);
    if (open.length > 0) {
      stack.push(...open);
      continue;
    }
    stack.pop();
    kinds.set(`${id}.`, 'value');
    const inputKinds: Record<string, ElementKind> = {};
    for (const port of node.inputs) {
      const wire = node.wires.get(port.id);
      const kind = wire ? kinds.get(`${wire.from.node}.${wire.from.port}`) : undefined;
      if (kind && isElementKind(kind)) inputKinds[port.id] = kind;
      // A falloff is weighed: one number for each point.
      else if (kind === 'falloff') inputKinds[port.id] = 'number';
      else if (!wire)
        inputKinds[port.id] = Array.isArray(typedInput(port, node.record)) && port.kind !== 'number' ? 'vector' : 'number';
    }
    const undecided = node.outputs.some((o) => o.kind === 'value');
    const planned = undecided ? node.definition?.elements?.plan(node.settings, inputKinds) : undefined;
    for (const out of node.outputs) {
      const lane = planned?.outputs.find((o) => o.port === out.id)?.lane;
      kinds.set(`${id}.${out.id}`, out.kind === 'value' && lane ? lane : out.kind);
      if (out.kind !== 'geometry') continue;
      // What comes out is of the kind that went in.
      const wire = node.wires.get(node.definition?.passes?.[out.id] ?? '');
      const kind = wire && kinds.get(`${wire.from.node}.${wire.from.port}`);
      if (kind && accepts('geometry', kind)) kinds.set(`${id}.${out.id}`, kind);
    }
  }
  return kinds;
});
