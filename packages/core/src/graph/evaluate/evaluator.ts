import type { Mesh } from '../../geometry/mesh.ts';
import type { Project } from '../../project/schema.ts';
import { withRemoved } from '../../scene/removed.ts';
import type { PackedDriven } from '../../scene/packed-driven.ts';
import type { Driven } from '../../scene/world.ts';
import { Cache, type Entry, type Key, type PortSummary } from './cache.ts';
import { Store } from './store.ts';
import { ArrayRoom, type ArrayRoomOptions } from './array-room.ts';
import { PassingResults } from './passing.ts';
import { EvaluationContext } from './evaluation-context.ts';
import type { LightResults } from '../light/light-results.ts';
import { expandProject, type Expanded } from '../../modules/expand.ts';
import { reportsOf, type NodeReport } from './reports.ts';
import { withUses } from './use-reports.ts';
import { makeOutline, momentsOf } from './make-outline.ts';
import type { Moment, Outline, OutlinedUnit } from './outline.ts';
import { inheritLight, makePlan, plannedAt, readsLane, type Plan, type PlannedUnit } from './plan.ts';
import { UnitRun, type RunServices } from './run-unit.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { Cancelled } from '../node/problems.ts';
import type { PortRef } from '../network/resolve.ts';
import type { Value } from '../node/values.ts';

export type { PortSummary } from './cache.ts';
export type { NodeReport };
export { Cancelled };

/** How an evaluator is set up; every field has a default. */
export interface EvaluatorOptions {
  /** A clock in ms, for costs; without one all costs are 0. */
  now?: () => number;
  /** Where results lie. */
  arrays?: ArrayRoomOptions;
  integers?: (count: number) => Int32Array;
  /** Bytes of results kept between evaluations; default 1 GB. */
  cacheInBytes?: number;
  /** Run chains of per-element nodes as one; default true. Results are the same to the bit. */
  fuse?: boolean;
}

/**
 * What is remembered from one evaluation to the next (which chains ran whole, how documents are laid out) is remembered for
 * each purpose: a look at the rest, or a history, does not spoil the next picture of a drag.
 */
export type Purpose = 'picture' | 'pose' | 'rest' | 'snapshot' | 'history' | 'compare' | 'bake';

/** One evaluation: what is wanted, of which document, at which frame. */
export interface EvaluationRequest {
  readonly project: Project;
  readonly frame: number;
  /** Outputs that are shown, probed or baked. */
  readonly wanted: readonly PortRef[];
  /** What for; default: a picture. */
  readonly purpose?: Purpose;
  /** The gesture it is a step of, such as the drag of a dial; see {@link Evaluator.settle}. */
  readonly gesture?: string | undefined;
  /** Called often; throws `Cancelled` to stop. */
  readonly checkpoint?: () => void;
}

/** How far an evaluation has come. */
export interface Progress {
  /** Units that are done, of those that have to be worked out. */
  done: number;
  all: number;
}

/** What a card shows of one output, whatever it is called. */
export const summaryAt = (report: NodeReport | undefined, port: string): PortSummary | undefined =>
  report && Object.hasOwn(report.outputs, port) ? report.outputs[port] : undefined;

export interface Evaluation {
  /** The value of a wanted output; undefined when there is none. */
  value(ref: PortRef): Value | undefined;
  /** What graphs put into an object, as far as the nodes that do were wanted. */
  driven(object: string): Driven | undefined;
  /** The same of all objects at once. */
  allDriven(): PackedDriven;
  readonly reports: ReadonlyMap<string, NodeReport>;
  /** Units computed now, by node id, in order. */
  readonly computed: readonly string[];
  readonly frame: number;
}

/**
 * Evaluates graphs on demand: what is wanted and nothing else, from what was kept wherever its key is known.
 * Results are pure functions of document and frame.
 */
export class Evaluator {
  /** The memory of results. */
  readonly arrays: ArrayRoom;
  private readonly cache: Cache;
  private readonly passing: PassingResults;
  /** Evaluations that are under way: they may stop for breath, and read what was let go meanwhile. */
  private underWay = 0;
  private readonly assets = new Map<string, Mesh>();
  private readonly services: RunServices;
  private readonly fuse: boolean;
  private readonly memories = new Map<Purpose, Memory>();

  /** @param catalogue the types of nodes that documents are read with. */
  constructor(
    readonly catalogue: Catalogue,
    options: EvaluatorOptions = {},
  ) {
    const budget = options.cacheInBytes ?? 1e9;
    this.cache = new Cache(budget);
    this.arrays = new ArrayRoom(budget * FREE_SHARE, options.arrays);
    this.passing = new PassingResults(this.cache, this.arrays);
    this.fuse = options.fuse ?? true;
    this.services = {
      now: options.now ?? (() => 0),
      floats: (n) => this.arrays.floats(n),
      room: (n) => this.arrays.room(n),
      doubles: (n) => this.arrays.doubles(n),
      giveBack: (array) => this.arrays.giveBack(array),
      integers: options.integers ?? ((n) => new Int32Array(n)),
    };
  }

  /** Hands over the mesh of an asset; later evaluations find it by its id. */
  setAsset(id: string, mesh: Mesh): void {
    this.assets.set(id, mesh);
    for (const memory of this.memories.values()) memory.outlines = [];
  }

  getAsset(id: string): Mesh | undefined {
    return this.assets.get(id);
  }

  /** How much may be kept from now on. */
  setBudget(bytes: number): void {
    this.cache.setBudget(bytes);
    this.arrays.mostInBytes = bytes * FREE_SHARE;
  }

  /** Bytes of results kept, and of what was worked out from them. */
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

  /**
   * Tells that what the last step of a gesture came to is shown, and nothing of the steps before it any more. What only
   * those needed is let go, and its memory used again from the step after the next on: of a drag, only where it began and
   * where it ended are kept. What was worked out from positions that go (`derivedFrom`) goes with them.
   */
  settle(): void {
    if (this.underWay === 0) this.passing.settle();
  }

  /** Evaluates in steps of a few milliseconds, for callers that must breathe between them. */
  *steps(request: EvaluationRequest): Generator<Readonly<Progress>, Evaluation> {
    this.underWay++;
    try {
      return yield* this.workOut(request);
    } finally {
      this.underWay--;
    }
  }

  private *workOut(request: EvaluationRequest): Generator<Readonly<Progress>, Evaluation> {
    const checkpoint = request.checkpoint ?? (() => {});
    const memory = this.memoryOf(request.purpose);
    const plan = this.planOf(request, memory);
    const made = this.passing.begin(request.gesture);
    const store = new Store(plan, this.cache, made);
    this.chooseTails(plan, memory.lastKeys);
    const progress: Progress = { done: 0, all: findNeeded(plan, store) };
    const context = new EvaluationContext(this.services, checkpoint, plan, store, (id) => this.assets.get(id));
    for (let i = 0; (i = store.runKernels(i, progress, checkpoint)) < plan.count; i++) {
      checkpoint();
      if (!plan.flat.isLight[i]) yield progress;
      progress.done++;
      const planned = plan.unit(i);
      const run = new UnitRun(planned, context);
      if (planned.unit.node.definition?.elements) context.runs.set(planned, run);
      const steps = run.start();
      if (!steps) continue;
      for (let step = steps.next(); !step.done; step = steps.next()) {
        checkpoint();
        yield progress;
      }
    }
    memory.lastKeys = new Map(
      plan.outline.elements
        .filter((u) => u.at === 0)
        .map((u) => [u.unit.vertex, { first: plan.keys[2 * u.index], second: plan.keys[2 * u.index + 1] }]),
    );
    remember(memory, plan);
    if (made) this.passing.finish(plan, made);
    return evaluationOf(plan, context, expandProject(this.catalogue, request.project));
  }

  /** Whether everything wanted at a frame is kept, so that it would be there at once. */
  isKept(request: Pick<EvaluationRequest, 'project' | 'frame' | 'wanted'>): boolean {
    const plan = this.planOf(request, this.memoryOf('picture'));
    return plan.outline.wanted.every((ref) => {
      const planned = plannedAt(plan, ref);
      if (!planned || planned.outlined.isLight) return planned !== undefined;
      const entry = this.cache.peek(planned);
      return entry !== undefined && planned.isMetBy(entry);
    });
  }

  private memoryOf(purpose: Purpose = 'picture'): Memory {
    let memory = this.memories.get(purpose);
    if (!memory) this.memories.set(purpose, (memory = { lastKeys: new Map(), outlines: [] }));
    return memory;
  }

  /** The outline of a document is made once and used at every frame; a few are remembered. */
  private planOf({ frame, ...of }: Pick<EvaluationRequest, 'project' | 'frame' | 'wanted'>, memory: Memory): Plan {
    const expanded = expandProject(this.catalogue, of.project);
    const project = withRemoved(expanded.project);
    const wanted = wantedOf(expanded, of.wanted);
    const fits = ({ outline: o }: Remembered) => o.project === project && isSame(o.wanted, wanted);
    const known = memory.outlines.find(fits);
    const moments = known && momentsOf(known.outline, frame);
    const outline =
      known && moments ? known.outline : makeOutline(this.catalogue, project, wanted, frame, (id) => this.assets.has(id));
    const plan = makePlan(outline, moments ?? (momentsOf(outline, frame) as Moment[]));
    // What light units made stays theirs while the document is edited.
    const from = known ?? memory.outlines.at(0);
    if (from) inheritLight(plan, from);
    if (outline !== known?.outline) remember(memory, plan);
    return plan;
  }

  /**
   * Decides which per-element units are fused. A unit keeps its columns when somebody looks at them, when a node
   * that is not per-element or a second chain reads them, or when it would be computed again needlessly: when its
   * consumer depends on more than it does (another object, time), or changed since last time while it did not.
   */
  private chooseTails(plan: Plan, lastKeys: ReadonlyMap<string, Key>): void {
    if (!this.fuse) return;
    const changed = (u: PlannedUnit) => !isSameKey(lastKeys.get(u.unit.vertex), u);
    const { elements } = plan.outline;
    for (let i = elements.length - 1; i >= 0; i--) {
      const planned = plan.unit(elements[i].index);
      const { asked, users, sources } = planned.outlined;
      if (asked !== 0 || users.length === 0) continue;
      const tailOf = (u: OutlinedUnit) => plan.unit(u.index).tail;
      const tail = tailOf(users[0].unit);
      if (!users.every((m) => readsLane(m.unit, m.port) && tailOf(m.unit) === tail)) continue;
      if (users.some((m) => m.unit.sources !== sources)) continue;
      if (!changed(planned) && users.some((m) => changed(plan.unit(m.unit.index)))) continue;
      planned.tail = tail;
    }
  }
}

/**
 * Walks from what is wanted towards its inputs, stopping where everything needed is kept already. Light units are
 * always worked out, so that there is something to tell of those before a node that is kept.
 * @returns how many units have to be run
 */
function findNeeded(plan: Plan, store: Store): number {
  const { wanted, isNeeded, light, flat } = plan;
  const { isLight, isRefused, needs, needBits } = flat;
  let count = 0;
  for (let i = plan.count - 1; i >= 0; i--) {
    if (isLight[i] && wanted[i] === 0) wanted[i] = EVERY_PORT;
    if ((wanted[i] === 0 && !isRefused[i]) || light.hasMade(i)) continue;
    if (!isLight[i] || light.entry(i)) {
      const planned = plan.unit(i);
      const entry = store.get(planned);
      if (entry && planned.isMetBy(entry)) {
        planned.entry = entry;
        continue;
      }
    }
    isNeeded[i] = 1;
    count++;
    for (let k = needs.start[i]; k < needs.start[i + 1]; k++) wanted[needs.items[k]] |= needBits[k];
  }
  return count;
}

const EVERY_PORT = -1;

/** What is wanted where it truly is: inside of uses. */
const wantedOf = (expanded: Expanded, wanted: readonly PortRef[]): readonly PortRef[] => {
  const sources = wanted.map((ref) => expanded.sourceOf(ref));
  return sources.every((s, i) => s === wanted[i]) ? wanted : sources.filter((s) => s !== undefined);
};

function evaluationOf(plan: Plan, context: EvaluationContext, expanded: Expanded): Evaluation {
  const { store } = context;
  let reports: ReadonlyMap<string, NodeReport> | undefined;
  return {
    value(ref) {
      const source = expanded.sourceOf(ref);
      const planned = source && plannedAt(plan, source);
      return planned && store.get(planned)?.values.get(source.port);
    },
    driven: (object) => context.driven(object, plan.moments[0]),
    allDriven: () => context.allDriven(),
    get reports() {
      return (reports ??= withUses(reportsOf(plan, store), expanded));
    },
    get computed() {
      return plan.outline.order.filter((u) => plan.isNeeded[u.index]).map((u) => u.unit.node.record.id);
    },
    frame: plan.moments[0].frame,
  };
}

/** An outline with what its light units made last. */
interface Remembered {
  readonly outline: Outline;
  readonly light: LightResults<Entry>;
}

/** What is remembered for one purpose: keys of per-element units at the last time, and outlines, the newest first. */
interface Memory {
  lastKeys: ReadonlyMap<string, Key>;
  outlines: readonly Remembered[];
}

/** Of the memory for results, so much more may lie ready for the next. */
const FREE_SHARE = 0.25;

/** How many outlines, of what is shown and of what is asked beside it. */
const REMEMBERED = 3;

function remember(memory: Memory, { outline, light }: Plan): void {
  const { project, wanted } = outline;
  const others = memory.outlines.filter((r) => r.outline.project !== project || !isSame(r.outline.wanted, wanted));
  memory.outlines = [{ outline, light }, ...others].slice(0, REMEMBERED);
}

const isSameKey = (a: Key | undefined, b: Key): boolean => a?.first === b.first && a.second === b.second;

function isSame(a: readonly PortRef[], b: readonly PortRef[]): boolean {
  return a === b || (a.length === b.length && a.every((w, i) => w.node === b[i].node && w.port === b[i].port));
}
