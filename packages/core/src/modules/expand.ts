import type { InputPort } from '../graph/node/definition.ts';
import { typedInput, fitsPort, settingsOf } from '../graph/node/typed.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { memoize, memoizeWithin } from '../memo.ts';
import type { InputValue, SettingValue, Way } from '../project/fields.ts';
import { moduleKey, pathTo, usedKey } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { MOST_DEEP, catalogueOf } from './definitions.ts';
import { isAlike, without } from './records.ts';
import { wallsOf, type Walls } from './walls.ts';

/** Uses are not taken apart any more once a project has come to so many nodes. */
export const MOST_EXPANDED = 200_000;

interface PortRef {
  readonly node: string;
  readonly port: string;
}

/** A project without uses, and where each output of a use is found in it. */
export interface Expanded {
  /** Graphs whose uses are replaced by the nodes inside; a node in a use is called `use/node`. */
  readonly project: Project;
  /** The output that gives what another one does: of the node inside for a use, itself for others; undefined for none. */
  sourceOf(ref: PortRef): PortRef | undefined;
  /** Uses that were taken apart, by path, and their ways out. */
  readonly uses: readonly {
    readonly path: string;
    readonly outs: readonly string[];
    readonly wayIn: string | undefined;
    readonly ins: readonly string[];
  }[];
}

/**
 * Where a wire that comes from a wall or a use truly comes from, or what was typed there; `nothing` where a way was left
 * open, undefined where the wire leads nowhere.
 */
type Source = { readonly from: PortRef } | { readonly typed: InputValue } | 'nothing' | undefined;

/** Walls and uses that one wire may go through; more is a circle. */
const MOST_WALLS = 500;

/**
 * The project that is evaluated: flat, so that chains, shared results and facets go through the walls of modules, and a way
 * out that nobody reads costs nothing. A graph without uses is the same object. A use whose module is missing, stands within
 * itself or too deep stays as it is, and is told as a node of an unknown type.
 */
export const expandProject = memoizeWithin((base: Catalogue, project: Project): Expanded => {
  if (!project.graphs.some((g) => g.nodes.some((n) => usedKey(n) !== undefined)))
    return { project, sourceOf: (ref) => ref, uses: [] };
  const catalogue = catalogueOf(base, project);
  const modules = new Map(project.modules.map((m) => [moduleKey(m), m]));
  const all = { base, catalogue, modules, count: 0, deep: 0, scopes: new Map<string, Scope>() };
  const graphs = project.graphs.map((graph): GraphRecord => {
    if (!graph.nodes.some((n) => usedKey(n) !== undefined)) return graph;
    const scope = new Scope(all, graph, undefined, undefined, '', []);
    const nodes: NodeRecord[] = [];
    const wires: WireRecord[] = [];
    scope.flatten(nodes, wires);
    return { ...graph, nodes, wires };
  });
  const rootOf = memoize((g: GraphRecord) => new Map(g.nodes.map((n) => [n.id, n])));
  return {
    project: { ...project, graphs },
    uses: [...all.scopes].map(([path, scope]) => ({ path, ...scope.ends })),
    sourceOf(ref) {
      const use = all.scopes.get(ref.node);
      const wall = use ? undefined : all.scopes.get(ref.node.slice(0, Math.max(0, ref.node.lastIndexOf('/'))));
      if (wall?.isWayIn(ref.node)) {
        const source = wall.cameIn(ref.port);
        return isFrom(source) ? source.from : undefined;
      }
      if (!use) {
        const isUse = project.graphs.some((g) => usedKey(rootOf(g).get(ref.node) ?? { type: '' }) !== undefined);
        return isUse ? undefined : ref;
      }
      const source = use.out(ref.port);
      return isFrom(source) ? source.from : undefined;
    },
  };
});

interface Whole {
  readonly base: Catalogue;
  readonly catalogue: Catalogue;
  readonly modules: ReadonlyMap<string, ModuleRecord>;
  /** Nodes so far. */
  count: number;
  /** Walls that the wire being followed has gone through. */
  deep: number;
  /** Uses that were taken apart, by path. */
  readonly scopes: Map<string, Scope>;
}

type Own = NonNullable<NodeRecord['own']>[string];

/**
 * Records that a use came to the last time: those that are the same are the same objects again, so that what is remembered
 * by record (definitions, ports, settings) stays.
 */
interface Made {
  /** The names of its nodes and wires in the flat graph. */
  readonly names: Map<string, string>;
  readonly nodes: Map<string, Flat>;
  readonly wires: Map<string, { readonly of: WireRecord; readonly record: WireRecord }>;
  /** What it depended on beside its graph; the same list for as long as that is the same. */
  signs?: readonly unknown[];
  /** All of it, and of which graph and signs. */
  whole?: Of<GraphRecord> & { readonly nodes: readonly NodeRecord[] };
}

/** What something inside of a use was made from, and the wires that came of it. */
interface Of<T> {
  readonly of: T;
  readonly signs: readonly unknown[] | undefined;
  readonly wires: readonly WireRecord[];
}

/** A node as it stands in the flat graph. */
interface Flat extends Of<NodeRecord> {
  readonly into: WiresInto | undefined;
  readonly record: NodeRecord;
}

type WiresInto = ReadonlyMap<string, WireRecord>;

const isSameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((v, i) => v === b[i]);

const usesIn = memoize((graph: GraphRecord): readonly NodeRecord[] => graph.nodes.filter((n) => usedKey(n) !== undefined));
const madeIn = memoize((_: Catalogue): Map<string, Made> => new Map());
/** Uses of which records are kept; then all are made anew. */
const MOST_KEPT = 20_000;

function madeOf(base: Catalogue, path: string): Made {
  const all = madeIn(base);
  let made = all.get(path);
  if (made) return made;
  if (all.size >= MOST_KEPT) all.clear();
  all.set(path, (made = { names: new Map(), nodes: new Map(), wires: new Map() }));
  return made;
}

/** A graph, or the inside of one use. */
class Scope {
  private readonly walls: Walls;
  private readonly nodes: ReadonlyMap<string, NodeRecord>;
  private readonly into: ReadonlyMap<string, WiresInto>;
  private readonly uses = new Map<string, Scope>();
  private readonly made: Made;

  constructor(
    private readonly whole: Whole,
    private readonly graph: GraphRecord,
    private readonly outer: Scope | undefined,
    /** The node outside that this is the inside of. */
    private readonly use: NodeRecord | undefined,
    private readonly path: string,
    within: readonly string[],
  ) {
    this.walls = wallsOf(whole.base, graph);
    this.nodes = nodesById(graph);
    this.into = wiresInto(graph.wires);
    this.made = madeOf(whole.base, path);
    whole.count += graph.nodes.length;
    for (const node of usesIn(graph)) {
      const key = usedKey(node);
      const module = key === undefined ? undefined : whole.modules.get(key);
      if (!module || within.includes(key as string) || within.length >= MOST_DEEP || whole.count > MOST_EXPANDED) continue;
      const inside = new Scope(whole, module.graph, this, node, this.at(node.id), [...within, key as string]);
      this.uses.set(node.id, inside);
      whole.scopes.set(this.at(node.id), inside);
    }
  }

  /** Its ways, by id, and the path of its Way In. */
  get ends() {
    const { wayIn, ins, outs } = this.walls;
    return { outs: outs.map((w) => w.id), ins: ins.map((w) => w.id), wayIn: wayIn && this.at(wayIn.id) };
  }

  isWayIn(path: string): boolean {
    return this.walls.wayIn !== undefined && path === this.at(this.walls.wayIn.id);
  }

  private at(id: string): string {
    if (this.path === '') return id;
    const { names } = this.made;
    let name = names.get(id);
    if (name === undefined) names.set(id, (name = pathTo(this.path, id)));
    return name;
  }

  /** Adds the nodes and wires of this and of all uses in it. */
  flatten(nodes: NodeRecord[], wires: WireRecord[]): void {
    const { wayIn, wayOut } = this.walls;
    const signs = this.signs();
    const { whole } = this.made;
    if (whole && signs && whole.of === this.graph && whole.signs === signs) {
      for (const n of whole.nodes) nodes.push(n);
      for (const w of whole.wires) wires.push(w);
      return;
    }
    const [mine, myWires]: [NodeRecord[], WireRecord[]] = [[], []];
    for (const node of this.graph.nodes) {
      const inside = this.uses.get(node.id);
      if (inside) inside.flatten(mine, myWires);
      else if (!this.use || (node !== wayIn && node !== wayOut)) mine.push(this.flat(node, signs, myWires));
    }
    if (signs) this.made.whole = { of: this.graph, signs, nodes: mine, wires: myWires };
    for (const n of mine) nodes.push(n);
    for (const w of myWires) wires.push(w);
  }

  /**
   * All that what a use comes to depends on, beside the nodes and wires of its module; undefined where uses stand in it, which
   * depend on more. The same list as the last time where nothing of it changed.
   */
  private signs(): readonly unknown[] | undefined {
    if (!this.use || usesIn(this.graph).length > 0) return undefined;
    const signs: unknown[] = [];
    for (let scope: Scope | undefined = this.outer; scope; scope = scope.outer) signs.push(scope.use, scope.walls.wayIn);
    signs.push(this.use, this.walls.wayIn);
    for (const { id } of this.walls.ins) {
      const source = this.cameIn(id);
      if (isFrom(source)) signs.push(source.from.node, source.from.port);
      else signs.push(typeof source === 'object' ? source.typed : source, null);
    }
    if (!this.made.signs || !isSameList(this.made.signs, signs)) this.made.signs = signs;
    return this.made.signs;
  }

  /** A node as it stands in the flat graph; adds the wires into it. */
  private flat(node: NodeRecord, signs: readonly unknown[] | undefined, wires: WireRecord[]): NodeRecord {
    const into = this.into.get(node.id);
    const before = this.made.nodes.get(node.id);
    if (before && signs && before.of === node && before.into === into && before.signs === signs) {
      for (const w of before.wires) wires.push(w);
      return before.record;
    }
    const first = wires.length;
    const inputs = this.inputsOf(node, into, wires);
    const settings = this.settingsFor(node);
    if (this.path === '' && inputs === node.inputs && settings === node.settings) return node;
    const isSame = before?.of === node && isAlike(before.record.inputs, inputs) && isAlike(before.record.settings, settings);
    const record = isSame ? before.record : { ...node, id: this.at(node.id), inputs, settings };
    this.made.nodes.set(node.id, { of: node, signs, into, wires: wires.slice(first), record });
    return record;
  }

  /** What is typed in the inputs of a node, in its record or at a wall that a wire comes from; adds all other wires into it. */
  private inputsOf(node: NodeRecord, into: WiresInto | undefined, wires: WireRecord[]): NodeRecord['inputs'] {
    let { inputs } = node;
    for (const wire of into?.values() ?? []) {
      const source = this.source(wire.from);
      if (source === 'nothing') {
        if (Object.hasOwn(inputs, wire.to.port)) inputs = without(inputs, wire.to.port);
        continue;
      }
      // A wire from nowhere stays, and is told where it ends.
      const from = isFrom(source) ? source.from : { node: this.at(wire.from.node), port: wire.from.port };
      if (!source || isFrom(source)) wires.push(this.flatWire(wire, node, from));
      else {
        const port = this.portOf(node, wire.to.port);
        const typed = port ? asTyped(port, source.typed) : source.typed;
        if (typed === undefined) wires.push(this.flatWire(wire, node, from));
        else inputs = { ...inputs, [wire.to.port]: typed };
      }
    }
    return inputs;
  }

  private flatWire(wire: WireRecord, node: NodeRecord, from: PortRef): WireRecord {
    if (this.path === '' && from.node === wire.from.node && from.port === wire.from.port) return wire;
    const before = this.made.wires.get(wire.id);
    if (before?.of === wire && before.record.from.node === from.node && before.record.from.port === from.port)
      return before.record;
    const record = { id: this.at(wire.id), from, to: { node: this.at(node.id), port: wire.to.port }, pins: [] };
    this.made.wires.set(wire.id, { of: wire, record });
    return record;
  }

  private portOf(node: NodeRecord, port: string): InputPort | undefined {
    const definition = this.whole.catalogue.get(node.type);
    return definition?.inputs(settingsOf(definition, node)).find((p) => p.id === port);
  }

  /** Settings of a node: what its use says of ways that stand for them, and what belongs to the uses it is in. */
  private settingsFor(node: NodeRecord): NodeRecord['settings'] {
    let { settings } = node;
    const set = (id: string, value: SettingValue | undefined) => {
      if (value !== undefined && value !== settings[id]) settings = { ...settings, [id]: value };
    };
    for (const way of this.walls.ins)
      for (const { node: id, setting } of way.sets) if (id === node.id) set(setting, this.settingOf(way));
    for (const own of this.ownOf(node.id)) for (const [id, value] of Object.entries(own.settings)) set(id, value);
    return settings;
  }

  /** What belongs to the uses that something in here is in: of the innermost first. */
  private ownOf(path: string): Own[] {
    const { use, outer } = this;
    if (!use || !outer) return [];
    const mine = use.own && Object.hasOwn(use.own, path) ? [use.own[path]] : [];
    return [...mine, ...outer.ownOf(pathTo(use.id, path))];
  }

  /** What a use says for a way that stands for settings; undefined where it says nothing. */
  private settingOf(way: Way): SettingValue | undefined {
    if (!this.use || !this.outer) return undefined;
    const { use, outer } = this;
    // A way of the module around may stand for this one.
    for (const above of outer.walls.ins)
      if (above.sets.some((s) => s.node === use.id && s.setting === way.id)) {
        const value = outer.settingOf(above);
        if (value !== undefined) return value;
      }
    return Object.hasOwn(use.settings, way.id) ? use.settings[way.id] : undefined;
  }

  /** What an output of a node of this graph is. */
  private source(ref: PortRef): Source {
    const node = this.nodes.get(ref.node);
    if (!node) return undefined;
    const inside = this.uses.get(node.id);
    const isWall = this.use !== undefined && node === this.walls.wayIn;
    if (inside || isWall) {
      if (this.whole.deep >= MOST_WALLS) return undefined;
      this.whole.deep++;
      const source = inside ? inside.out(ref.port) : this.cameIn(ref.port);
      this.whole.deep--;
      return source;
    }
    return { from: { node: this.at(node.id), port: ref.port } };
  }

  /** What goes out of this use at a way. */
  out(way: string): Source {
    const { use, outer, walls } = this;
    if (use?.skip && outer) {
      const through = this.whole.catalogue.get(use.type)?.passes?.[way];
      return through === undefined ? undefined : this.cameIn(through);
    }
    const wire = walls.wayOut && this.into.get(walls.wayOut.id)?.get(way);
    if (wire) return this.source(wire.from);
    const typed = walls.outs.find((w) => w.id === way);
    return typed && typed.default !== null ? { typed: typed.default } : undefined;
  }

  /** What comes into this use at a way: from a wire outside, or what was typed. */
  cameIn(id: string): Source {
    const { use, outer, walls } = this;
    const way = walls.ins.find((w) => w.id === id);
    if (!use || !outer || !way) return undefined;
    const wire = outer.into.get(use.id)?.get(id);
    if (wire) return outer.source(wire.from);
    const port = outer.portOf(use, id);
    const typed = port && typedInput(port, use);
    return typed === undefined ? 'nothing' : { typed };
  }
}

const isFrom = (source: Source): source is { readonly from: PortRef } => typeof source === 'object' && 'from' in source;

/** What was typed for a way, as it stands in an input inside; undefined where it cannot. */
function asTyped(port: InputPort, typed: InputValue): InputValue | undefined {
  if (fitsPort(port, typed)) return typed;
  if (typeof typed === 'boolean') return fitsPort(port, 1) ? Number(typed) : undefined;
  return typeof typed === 'number' && port.kind === 'toggle' ? typed !== 0 : undefined;
}

const nodesById = memoize((graph: GraphRecord): ReadonlyMap<string, NodeRecord> => new Map(graph.nodes.map((n) => [n.id, n])));

const wiresInto = memoize((wires: readonly WireRecord[]): ReadonlyMap<string, WiresInto> => {
  const into = new Map<string, Map<string, WireRecord>>();
  for (const w of wires) {
    let at = into.get(w.to.node);
    if (!at) into.set(w.to.node, (at = new Map()));
    at.set(w.to.port, w);
  }
  return into;
});
