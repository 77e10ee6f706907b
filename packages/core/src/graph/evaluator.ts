import type { Mesh } from '../geometry/mesh.ts';
import { SHOWN_PORT } from '../nodes/index.ts';
import type { ObjectRecord, Project } from '../project/schema.ts';
import { withPointSets } from '../scene/point-sets.ts';
import { channelValue } from '../scene/channels.ts';
import { localMatrix, membersOf, parentMatrix, worldMatrix, type Driven } from '../scene/world.ts';
import { curvesOf } from '../curves/curves.ts';
import { memoize } from '../memo.ts';
import { Cache, type Entry, type PortSummary } from './cache.ts';
import {
  drivingUnits,
  makePlan,
  isElementUnit,
  plannedAt,
  readsLane,
  resultUnit,
  type Moment,
  type Plan,
  type PlannedUnit,
} from './plan.ts';
import { UnitRun, type RunServices } from './run-unit.ts';
import { Cancelled, type Problem } from './problems.ts';
import type { PortRef } from './resolve.ts';
import type { FacetRef, ObjectView } from './definition.ts';
import type { Value } from './values.ts';

export type { PortSummary } from './cache.ts';
export { Cancelled };

/** How an evaluator is set up; every field has a default. */
export interface EvaluatorOptions {
  /** A clock in ms, for costs; without one all costs are 0. */
  now?: () => number;
  /** Gives arrays for results, so that a worker can hand out shared memory. */
  floats?: (count: number) => Float32Array;
  integers?: (count: number) => Int32Array;
  /** Bytes of results kept between evaluations; default 1 GB. */
  cacheInBytes?: number;
  /** Run chains of per-element nodes as one; default true. Results are the same to the bit. */
  fuse?: boolean;
}

/** One evaluation: what is wanted, of which document, at which frame. */
export interface EvaluationRequest {
  readonly project: Project;
  readonly frame: number;
  /** Outputs that are shown, probed or baked. */
  readonly wanted: readonly PortRef[];
  /** Called often; throws `Cancelled` to stop. */
  readonly checkpoint?: () => void;
}

/** What a card shows of its node. */
export interface NodeReport {
  readonly node: string;
  readonly costInMs: number;
  /** Nodes run as one chain with it, 1 when alone. */
  readonly chained: number;
  /** Whether this evaluation computed it, or took it from what was kept. */
  readonly fresh: boolean;
  readonly failed: boolean;
  readonly problems: readonly Problem[];
  readonly outputs: Readonly<Record<string, PortSummary>>;
}

export interface Evaluation {
  /** The value of a wanted output; undefined when there is none. */
  value(ref: PortRef): Value | undefined;
  /** What graphs put into an object, as far as the nodes that do were wanted. */
  driven(object: string): Driven | undefined;
  readonly reports: ReadonlyMap<string, NodeReport>;
  /** Units computed now, by node id, in order. */
  readonly computed: readonly string[];
  readonly frame: number;
}

/** A named result that Show Mesh makes. */
export interface ShownResult {
  readonly name: string;
  readonly node: string;
  readonly graph: string;
  /** The object it replaces, or null. */
  readonly object: string | null;
}

/** All results of a project, in document order; skipped Show Mesh nodes show nothing. */
export function shownResults(project: Project): ShownResult[] {
  const names = new Map(project.objects.map((o) => [o.id, o.name]));
  return project.graphs.flatMap((graph) =>
    graph.nodes
      .filter((n) => n.type === 'show-mesh' && !n.skip)
      .map((n) => {
        const object =
          typeof n.settings.object === 'string' && names.has(n.settings.object) ? n.settings.object : null;
        const typed = typeof n.settings.name === 'string' ? n.settings.name : '';
        return {
          name: typed || (object ? (names.get(object) as string) : n.title || 'Result'),
          node: n.id,
          graph: graph.id,
          object,
        };
      }),
  );
}

/**
 * Evaluates graphs on demand: what is wanted and nothing else, from what was kept wherever its key is known.
 * Results are pure functions of document and frame.
 */
export class Evaluator {
  private readonly cache: Cache;
  private readonly assets = new Map<string, Mesh>();
  private readonly services: RunServices;
  private readonly fuse: boolean;
  private lastKeys = new Map<string, string>();

  constructor(options: EvaluatorOptions = {}) {
    this.cache = new Cache(options.cacheInBytes ?? 1e9);
    this.fuse = options.fuse ?? true;
    this.services = {
      now: options.now ?? (() => 0),
      floats: options.floats ?? ((n) => new Float32Array(n)),
      integers: options.integers ?? ((n) => new Int32Array(n)),
    };
  }

  /** Hands over the mesh of an asset; later evaluations find it by its id. */
  setAsset(id: string, mesh: Mesh): void {
    this.assets.set(id, mesh);
  }

  getAsset(id: string): Mesh | undefined {
    return this.assets.get(id);
  }

  /** How much may be kept from now on. */
  setBudget(bytes: number): void {
    this.cache.setBudget(bytes);
  }

  /** Bytes of results kept. */
  get keptBytes(): number {
    return this.cache.heldBytes;
  }

  /** Evaluates in one go. @throws Cancelled when the checkpoint stops it. */
  evaluate(request: EvaluationRequest): Evaluation {
    const steps = this.steps(request);
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  }

  /** Evaluates in steps of a few milliseconds, for callers that must breathe between them. */
  *steps(request: EvaluationRequest): Generator<void, Evaluation> {
    const checkpoint = request.checkpoint ?? (() => {});
    const plan = makePlan(request.project, request.frame, request.wanted, (id) => this.assets.has(id));
    this.chooseTails(plan);
    const needed = this.findNeeded(plan);
    const computed: string[] = [];
    const runs = new Map<PlannedUnit, UnitRun>();
    for (const planned of plan.order) {
      if (!needed.has(planned)) continue;
      checkpoint();
      yield;
      const view = (object: string) => this.viewObject(plan, object, planned.moment);
      const run = new UnitRun(planned, {
        ...this.services,
        checkpoint,
        plan,
        runs,
        view,
        kept: (u) => this.cache.get(u.key),
      });
      runs.set(planned, run);
      computed.push(planned.unit.node.record.id);
      const steps = run.run();
      for (let step = steps.next(); !step.done; step = steps.next()) {
        checkpoint();
        yield;
      }
      for (const done of run.finished) this.keep(done);
    }
    this.lastKeys = new Map(
      plan.order.filter((u) => u.moment === plan.moment).map((u) => [u.unit.vertex, u.key]),
    );
    return this.report(plan, needed, computed);
  }

  /** Whether everything wanted at a frame is kept, so that it would be there at once. */
  isKept(request: Pick<EvaluationRequest, 'project' | 'frame' | 'wanted'>): boolean {
    const { project, frame, wanted } = request;
    const has = (id: string) => this.assets.has(id);
    const plan = makePlan(project, frame, wanted, has);
    return wanted.every((ref) => {
      const planned = plannedAt(plan, ref, plan.moment);
      const entry = planned && this.cache.peek(planned.key);
      return entry !== undefined && (entry.failed || entry.values.has(ref.port));
    });
  }

  private keep(done: { planned: PlannedUnit; entry: Entry }): void {
    const known = this.cache.get(done.planned.key);
    if (known)
      for (const [port, value] of known.values)
        if (!done.entry.values.has(port)) done.entry.values.set(port, value);
    this.cache.set(done.planned.key, done.entry);
  }

  /**
   * Decides which per-element units are fused. A unit keeps its columns when somebody looks at them, when a node
   * that is not per-element or a second chain reads them, or when it would be computed again needlessly: when its
   * consumer depends on more than it does (another object, time), or changed since last time while it did not.
   */
  private chooseTails(plan: Plan): void {
    if (!this.fuse) return;
    const users = new Map<PlannedUnit, { user: PlannedUnit; port: string }[]>();
    for (const planned of plan.order) {
      for (const [port, from] of planned.inputs) {
        if (!from.unit) continue;
        const mine = users.get(from.unit);
        if (mine) mine.push({ user: planned, port });
        else users.set(from.unit, [{ user: planned, port }]);
      }
    }
    const changed = (u: PlannedUnit) => this.lastKeys.get(u.unit.vertex) !== u.key;
    for (let i = plan.order.length - 1; i >= 0; i--) {
      const planned = plan.order[i];
      if (!isElementUnit(planned) || planned.wanted.size > 0) continue;
      const mine = users.get(planned) ?? [];
      if (
        mine.length === 0 ||
        !mine.every((m) => readsLane(m.user, m.port) && m.user.tail === mine[0].user.tail)
      )
        continue;
      if (mine.some((m) => m.user.sources !== planned.sources)) continue;
      if (!changed(planned) && mine.some((m) => changed(m.user))) continue;
      planned.tail = mine[0].user.tail;
    }
  }

  /** Walks from what is wanted towards its inputs, stopping where everything needed is kept already. */
  private findNeeded(plan: Plan): Set<PlannedUnit> {
    const needed = new Set<PlannedUnit>();
    const ports = new Map<PlannedUnit, Set<string>>();
    const want = (u: PlannedUnit, port: string) => ports.set(u, (ports.get(u) ?? new Set()).add(port));
    for (const planned of plan.order) for (const port of planned.wanted) want(planned, port);
    for (let i = plan.order.length - 1; i >= 0; i--) {
      const planned = plan.order[i];
      const wants = ports.get(planned) ?? (planned.loop ? new Set<string>() : undefined);
      if (!wants) continue;
      const entry = this.cache.get(planned.key);
      if (entry && (entry.failed || [...wants].every((p) => entry.values.has(p)))) continue;
      needed.add(planned);
      for (const port of wants) planned.wanted.add(port);
      for (const from of planned.inputs.values()) if (from.unit) want(from.unit, from.port);
      for (const read of planned.unit.reads) {
        for (const made of madeFor(plan, read, planned.moment)) want(made, SHOWN_PORT);
      }
    }
    return needed;
  }

  private viewObject(plan: Plan, id: string, moment: Moment): ObjectView | undefined {
    const object = moment.objects.get(id);
    if (!object) return undefined;
    const assets = this.assets;
    const made = resultUnit(plan, id, moment);
    const shown = made ? this.cache.get(made.key)?.values.get(SHOWN_PORT) : undefined;
    const driven = (of: string) => this.drivenOf(plan, of, moment);
    const under = object.type === 'group' ? membersOf(plan.project.objects, id) : [];
    const views = (of: readonly ObjectRecord[]) =>
      of.flatMap((o) => this.viewObject(plan, o.id, moment) ?? []);
    return {
      id,
      name: object.name,
      source: withPointSets(object.mesh === null ? undefined : assets.get(object.mesh), object.sets),
      lostSource: object.mesh !== null && !assets.has(object.mesh),
      result: shown?.form === 'geometry' ? shown.mesh : undefined,
      curve: object.curve ? curvesInOwnSpace(object.curve) : undefined,
      restCurve: object.restCurve ? curvesInOwnSpace(object.restCurve) : undefined,
      // Worked out when they are asked for: few nodes do.
      get members() {
        return views(under);
      },
      get children() {
        return views(under.filter((o) => o.parent === id));
      },
      world: worldMatrix(moment.objects, id, 'channels', driven),
      rest: worldMatrix(moment.objects, id, 'rest'),
      get parent() {
        return parentMatrix(moment.objects, object, 'channels', driven);
      },
      get restChannels() {
        return localMatrix(object, 'rest');
      },
      pivot: object.pivot,
      channel: (channel) => driven(id)?.channels?.[channel] ?? channelValue(object, channel),
    };
  }

  /** What graphs put into an object at a moment, as far as it is kept. */
  private drivenOf(plan: Plan, object: string, moment: Moment): Driven | undefined {
    const all = drivingUnits(plan, object, moment);
    if (all.length === 0) return undefined;
    let carrier: Driven['carrier'];
    const channels: Record<string, number> = {};
    for (const { unit, channels: parts } of all) {
      const made = this.cache.get(unit.key)?.values.get(SHOWN_PORT);
      const mine = made?.form === 'driven' ? made.driven.get(object) : undefined;
      for (const part of parts) {
        if (part === undefined) carrier = mine?.carrier ?? carrier;
        else if (mine?.channels?.[part] !== undefined) channels[part] = mine.channels[part];
      }
    }
    return { ...(carrier ? { carrier } : {}), channels };
  }

  private report(plan: Plan, needed: ReadonlySet<PlannedUnit>, computed: readonly string[]): Evaluation {
    const reports = new Map<string, NodeReport>();
    for (const planned of plan.order) {
      const entry = this.cache.get(planned.key);
      if (!entry) continue;
      const id = planned.unit.node.record.id;
      const before = reports.get(id);
      reports.set(id, {
        node: id,
        costInMs: (before?.costInMs ?? 0) + entry.costInMs,
        chained: Math.max(before?.chained ?? 1, entry.chained),
        fresh: (before?.fresh ?? false) || needed.has(planned),
        failed: (before?.failed ?? false) || entry.failed,
        problems: [...(before?.problems ?? []), ...entry.problems],
        outputs: { ...before?.outputs, ...Object.fromEntries(entry.summaries) },
      });
    }
    const value = (ref: PortRef) => {
      const planned = plannedAt(plan, ref, plan.moment);
      return planned ? this.cache.get(planned.key)?.values.get(ref.port) : undefined;
    };
    const driven = (object: string) => this.drivenOf(plan, object, plan.moment);
    return { value, driven, reports, computed, frame: plan.moment.frame };
  }
}

/** Curves of a record, made once, so that what is derived from them is kept. */
const curvesInOwnSpace = memoize(curvesOf);

/** Units behind a facet: what makes a result, and what drives an object, its parents or the members of a group. */
function madeFor(plan: Plan, read: FacetRef, moment: Moment): PlannedUnit[] {
  const object = moment.objects.get(read.object);
  if (!object) return [];
  if (read.facet === 'result') return [resultUnit(plan, object.id, moment)].filter((u) => u !== undefined);
  if (read.facet === 'members') {
    return membersOf(plan.project.objects, object.id).flatMap((m) =>
      (['result', 'world'] as const).flatMap((facet) => madeFor(plan, { object: m.id, facet }, moment)),
    );
  }
  const mine = drivingUnits(plan, object.id, moment);
  if (read.facet === 'channel')
    return mine.filter((d) => d.channels.includes(read.channel)).map((d) => d.unit);
  if (read.facet !== 'world' && read.facet !== 'parent') return [];
  const above =
    object.parent === null ? [] : madeFor(plan, { object: object.parent, facet: 'world' }, moment);
  return read.facet === 'parent' ? above : [...mine.map((d) => d.unit), ...above];
}
