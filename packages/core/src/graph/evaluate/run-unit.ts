import type { RemovedRecord } from '../../project/schema.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { Entry } from './cache.ts';
import { outputRole, runChain } from '../chains/chains.ts';
import type { Elements, Link } from '../chains/links.ts';
import type { ElementPlan, InputPort, ObjectView } from '../node/definition.ts';
import { gatherElements, type Arriving as ArrivingOf, type Pending as PendingOf } from '../chains/element-inputs.ts';
import { firstBad } from './entry.ts';
import { accepts, KIND_WORDS } from '../node/kinds.ts';
import { EvaluatedNode, type NodeAccess } from './node-context.ts';
import { presentPort, type Moment, type Wired } from './outline.ts';
import { plannedFrom, type Plan, type PlannedUnit } from './plan.ts';
import { channelName } from '../../scene/channels.ts';
import { Cancelled, NodeError, type Problem, type ProblemData } from '../node/problems.ts';
import { nodeTitle, resolveGraph } from '../network/resolve.ts';
import type { Store } from './store.ts';
import { writeOutputs } from './write-outputs.ts';
import { copiedPoints, MOST_COPIED_POINTS } from '../../copies/copies.ts';
import { copiesToMesh } from '../../copies/join-copies.ts';
import { pointsOf } from '../node/points-of.ts';
import { isNumbers, meshValue, type Column, type CopiesValue, type Single, type Value } from '../node/values.ts';

/** What every run needs from outside. */
export interface RunServices {
  now(): number;
  /** Numbers that are 0. */
  floats(count: number): Float32Array;
  /** Numbers all of which are to be written. */
  room(count: number): Float32Array;
  doubles(count: number): Float64Array;
  /** Takes back what {@link room} gave and nobody else has seen. */
  giveBack(array: Float32Array): void;
  integers(count: number): Int32Array;
}

/** What a run may ask of the evaluation it belongs to. */
export interface RunContext extends RunServices {
  checkpoint(): void;
  readonly plan: Plan;
  view(object: string, moment: Moment): ObjectView | undefined;
  removed(object: string): RemovedRecord | undefined;
  readonly store: Store;
  /** Runs of per-element nodes, as far as they have begun. */
  readonly runs: Map<PlannedUnit, UnitRun>;
}

type Pending = PendingOf<UnitRun>;
type Arriving = ArrivingOf<UnitRun>;

const NONE: readonly Pending[] = [];

/** Evaluates one unit; a unit in the middle of a chain only gets ready, the chain's tail runs them all. */
export class UnitRun implements NodeAccess {
  private isDone = false;
  readonly entry = new Entry();
  private link: Link | undefined;
  private pendings: readonly Pending[] = NONE;
  /** Meshes that arrived at a per-element node, by port. */
  private meshes: ReadonlyMap<string, Mesh> | undefined;

  constructor(
    readonly planned: PlannedUnit,
    readonly context: RunContext,
  ) {}

  /** Evaluates, in one go where it can; else returns the steps that are to be taken. */
  start(): Generator<void, void> | undefined {
    const before = this.context.now();
    const { node } = this.planned.unit;
    const { refused } = this.planned.outlined;
    try {
      if (refused) this.fail(refused);
      else if (!node.definition) this.fail({ code: 'unknown-type', type: node.record.type });
      else if (node.definition.version < node.record.version) {
        this.fail({ code: 'newer-node', type: node.definition.title, version: node.record.version });
      } else if (node.record.skip) this.handOn(false);
      else {
        this.checkWriters();
        if (node.definition.elements) return this.takeSteps(before);
        this.runWhole();
      }
    } catch (error) {
      this.failWith(error);
    }
    this.finish(before);
    return undefined;
  }

  private *takeSteps(before: number): Generator<void, void> {
    try {
      yield* this.runElements();
    } catch (error) {
      this.failWith(error);
    }
    this.finish(before);
  }

  private failWith(error: unknown): void {
    if (error instanceof Cancelled) throw error;
    if (error instanceof NodeError) this.entry.add(error.problem);
    else this.problem({ code: 'threw', message: error instanceof Error ? error.message : String(error) }, 'error');
    this.entry.failed = true;
    this.link = undefined;
    this.pendings = NONE;
    this.handOn(true);
  }

  private finish(before: number): void {
    if (this.link && this.planned.tail !== this.planned) return;
    if (this.entry.chained === 1) this.entry.costInMs = this.context.now() - before;
    this.hand();
  }

  /** Hands its entry in, once: by itself, or by the tail of its chain. */
  private hand(): void {
    if (!this.isDone) this.context.store.keep(this.planned, this.entry);
    this.isDone = true;
  }

  /** What an output gives to another unit of this evaluation. */
  output(port: string): Arriving | undefined {
    return this.pendings.find((p) => this.link?.plan.outputs[p.output].port === port) ?? this.entry.values.get(port);
  }

  private problem(data: ProblemData, severity: Problem['severity']): void {
    this.entry.add({ ...data, severity });
  }

  private fail(data: ProblemData): void {
    throw new NodeError(data);
  }

  private checkWriters(): void {
    const { node } = this.planned.unit;
    if (!this.context.plan.outline.facets.contested.has(node.record.id)) return;
    const object = node.definition?.shows?.(node.settings).object;
    const others = object
      ? (this.context.plan.outline.facets.writers.get(object) ?? []).filter((w) => w.record.id !== node.record.id)
      : [];
    const { project, facets } = this.context.plan.outline;
    for (const driven of node.definition?.drives?.(node.settings, project) ?? []) {
      const other = (facets.drivers.get(driven.object) ?? []).find(
        (d) => d.channel === driven.channel && d.node.record.id !== node.record.id,
      );
      if (!other) continue;
      const record = this.planned.moment.objects.get(driven.object);
      const channel = record && driven.channel !== undefined ? channelName(record, driven.channel) : undefined;
      this.fail({
        code: 'two-carriers',
        object: record?.name ?? driven.object,
        other: nodeTitle(other.node),
        ...(channel ? { channel } : {}),
      });
    }
    if (object && others.length > 0) {
      const name = this.planned.moment.objects.get(object)?.name ?? object;
      this.problem({ code: 'two-writers', object: name, other: nodeTitle(others[0]) }, 'error');
    }
  }

  /**
   * Outputs take what arrives at the input they pass on, where there is one: all of them when a node is skipped,
   * but only geometry when it failed (DECISIONS 17), since a value handed on by mistake would look like a result.
   */
  private handOn(onlyGeometry: boolean): void {
    const { node } = this.planned.unit;
    for (const [output, input] of Object.entries(node.definition?.passes ?? {})) {
      const from = this.planned.outlined.inputs.get(input);
      const value = from?.unit ? this.arriving(from) : this.typedValue(input);
      if (!value || (onlyGeometry && !pointsOf(value as Value))) continue;
      // A unit before a skipped or failed one always keeps its columns, so nothing pending arrives here by plan;
      // a failure found only while running may meet one, and then the chain before it is computed after all.
      const whole = value.form === 'pending' ? value.run.force(value) : value;
      if (whole) this.entry.values.set(output, whole);
    }
  }

  /** Computes a pending column outside its chain. */
  private force(pending: Pending): Value | undefined {
    const steps = this.runLinks(this.linksBefore(), pending);
    for (;;) {
      const step = steps.next();
      if (step.done) break;
      this.context.checkpoint();
    }
    return this.entry.values.get(this.link?.plan.outputs[pending.output].port ?? '');
  }

  private arriving(from: Wired): Arriving | undefined {
    const unit = plannedFrom(this.context.plan, from);
    if (!unit) return undefined;
    if (unit.entry) return unit.entry.values.get(from.port);
    return this.context.runs.get(unit)?.output(from.port) ?? this.context.store.get(unit)?.values.get(from.port);
  }

  /** What it waits for: the card that failed first, not one before it that waits too. */
  private waitFor(from: Wired): Problem {
    const unit = plannedFrom(this.context.plan, from);
    const problems = unit && (unit.entry ?? this.context.runs.get(unit)?.entry ?? this.context.store.get(unit))?.problems;
    const waits = problems?.find((p) => p.code === 'waits');
    return waits ?? { code: 'waits', on: nodeTitle((from.unit as NonNullable<Wired['unit']>).unit.node), severity: 'error' };
  }

  private typedValue(port: string): Single | undefined {
    const typed = this.planned.typed(port);
    if (!typed) return undefined;
    if (typed.problem) throw new NodeError(typed.problem);
    const kind = this.portOf(port).kind;
    const numbers = Float64Array.from(typed.numbers);
    if (numbers.length === 3) return { form: 'single', kind: 'vector', data: numbers };
    return { form: 'single', kind: kind === 'integer' || kind === 'toggle' ? kind : 'number', data: numbers };
  }

  private portOf(name: string): InputPort {
    const { inputs } = this.planned.unit.node;
    const id = presentPort(name);
    let i = 0;
    while (inputs[i].id !== id) i++;
    return inputs[i];
  }

  /** The value at an input, checked for its kind. @throws NodeError in words. */
  inputAt(id: string): Arriving | undefined {
    const port = this.portOf(id);
    const from = this.planned.outlined.inputs.get(id);
    if (!from) {
      const typed = this.typedValue(id);
      if (!typed && !port.optional) this.fail({ code: 'input-missing', port: port.label, needs: KIND_WORDS[port.kind] });
      return typed;
    }
    const value = this.arriving(from);
    if (!value) {
      if (from.unit) this.fail(this.waitFor(from));
      const source = resolveGraph(this.planned.unit.node.catalogue, this.planned.unit.node.graph).get(from.node);
      const node = source ? nodeTitle(source) : 'a node that is gone';
      this.fail({ code: 'output-gone', port: port.label, node, output: from.port });
      return undefined;
    }
    if (!accepts(port.kind, value.kind)) {
      this.fail({
        code: 'input-kind',
        port: port.label,
        got: KIND_WORDS[value.kind],
        needs: KIND_WORDS[port.kind],
      });
    }
    if (port.kind === 'mesh' && value.form === 'copies') return this.copiesAsPoints(value, port.joinsCopies === true);
    if (port.uniform && (value.form === 'pending' || value.form === 'column')) {
      this.fail({ code: 'needs-single', port: port.label, count: value.count });
    }
    return value;
  }

  /** Copies become points where a node needs them, and its card says so. */
  private copiesAsPoints({ copies }: CopiesValue, isMeant: boolean): Value {
    const count = copiedPoints(copies);
    if (count > MOST_COPIED_POINTS)
      this.fail({ code: 'limit', what: 'The points of all copies', count, most: MOST_COPIED_POINTS });
    if (!isMeant && !this.entry.problems.some((p) => p.code === 'copies-made-points'))
      this.problem({ code: 'copies-made-points', copies: copies.count, points: count }, 'note');
    return meshValue(copiesToMesh(copies));
  }

  private *runElements(): Generator<void, void> {
    const { node } = this.planned.unit;
    const report = (p: Problem) => void this.entry.add(p);
    const gathered = gatherElements<UnitRun>(
      node,
      (p) => this.inputAt(p),
      (run) => run.link as Link,
      report,
      () => this.context.checkpoint(),
    );
    const { plan, elements, uniforms } = gathered;
    const { settings, definition } = node;
    const { program, compile, check, isProgram } = definition?.elements ?? {};
    check?.(settings, uniforms, report);
    const { sources } = gathered;
    if (program && (isProgram?.(settings) ?? true))
      this.link = { plan, sources, program: (b, inputs) => program(b, inputs, settings, plan) };
    else if (compile) this.link = { plan, sources, kernel: compile(settings, plan, uniforms, { report }) };
    else return;
    this.meshes = gathered.meshes;
    if (!elements) {
      yield* this.runSingle(plan);
      this.link = undefined;
      return;
    }
    const { count, on, owner } = elements;
    this.pendings = plan.outputs.map((o, output) => ({ form: 'pending', kind: o.lane, count, on, owner, run: this, output }));
    for (const o of plan.outputs)
      if (o.port) (this.entry.passing ??= new Map()).set(o.port, { form: 'column', kind: o.lane, count });
    // The tail of a chain runs it.
    if (this.planned.tail !== this.planned) return;
    yield* this.runLinks(this.linksBefore(), elements);
    this.pendings = NONE;
  }

  /** Runs of this chain up to and including this one, in order. */
  private linksBefore(): UnitRun[] {
    const found: UnitRun[] = [];
    const visit = (run: UnitRun) => {
      if (found.includes(run)) return;
      for (const s of run.link?.sources ?? []) {
        if (s.from !== 'link') continue;
        for (const from of run.planned.outlined.inputs.values()) {
          const unit = plannedFrom(this.context.plan, from);
          const before = unit && this.context.runs.get(unit);
          if (before?.link === s.link) visit(before);
        }
      }
      found.push(run);
    };
    visit(this);
    return found;
  }

  private *runLinks(runs: readonly UnitRun[], owner: Elements): Generator<void, void> {
    const { now, room } = this.context;
    const before = now();
    const links = runs.map((r) => r.link as Link);
    const result = yield* runChain(links, owner, room, now, this.planned.moment.scope);
    const cost = now() - before;
    const mine = this.link as Link;
    mine.plan.outputs.forEach((o, i) => {
      if (!o.port) return;
      const column: Column = {
        form: 'column',
        kind: o.lane,
        count: owner.count,
        on: owner.on,
        owner: owner.owner,
        data: result.outputs[i],
        role: outputRole(mine.plan, i),
      };
      this.entry.values.set(o.port, column);
    });
    const { mesh } = mine.plan;
    const from = mesh && this.meshes?.get(mesh.from);
    if (mesh && from) this.entry.values.set(mesh.port, meshValue(writeOutputs(from, mesh.on, mesh.writes, result.outputs)));
    runs.forEach((r, i) => {
      r.entry.costInMs = cost * result.shares[i];
      r.entry.chained = runs.length;
      const bad = result.notFinite[i];
      if (bad) {
        const { outputs, mesh: to } = (r.link as Link).plan;
        const port = outputs[bad.output].port ?? to?.port ?? 'result';
        r.problem({ code: 'not-finite', port, index: bad.index, count: bad.count }, 'warning');
      }
      r.hand();
    });
  }

  private *runSingle(plan: ElementPlan): Generator<void, void> {
    const link = this.link as Link;
    const result = yield* runChain(
      [link],
      { count: 1, on: 'point', owner: '' },
      (n) => new Float32Array(n),
      () => 0,
      this.planned.moment.scope,
    );
    plan.outputs.forEach((o, i) => {
      if (!o.port) return;
      const data = Float64Array.from(result.outputs[i]);
      this.entry.values.set(o.port, { form: 'single', kind: o.lane, data });
      if (data.some((v) => !Number.isFinite(v)))
        this.problem({ code: 'not-finite', port: o.port, index: 0, count: 1 }, 'warning');
    });
  }

  private runWhole(): void {
    const { node } = this.planned.unit;
    const { evaluate } = node.definition ?? {};
    if (!evaluate) return;
    const access = new EvaluatedNode(this);
    let values: Readonly<Record<string, Value>> = {};
    try {
      values = evaluate(access);
    } finally {
      access.giveBack(values);
      // A node that asked what is wanted may have left any other output out, or halfway: none of those is a result.
      if (access.hasLeftOut) this.entry.answers = this.planned.wanted;
    }
    for (const port in values) {
      if (access.hasLeftOut && !this.planned.wants(port)) continue;
      const value = values[port];
      this.entry.values.set(port, value);
      // What is handed on as it came was checked where it was made.
      const bad = this.isHandedOn(value) ? undefined : firstBad(value);
      if (bad) this.entry.add({ code: 'not-finite', port, ...bad, severity: 'warning', about: [port] });
    }
  }

  private isHandedOn(value: Value): boolean {
    if (value.form === 'single') return false;
    const array = (v: Value) => (isNumbers(v) ? v.data : v.form === 'copies' ? v.copies.matrices : pointsOf(v));
    if (!array(value)) return false;
    return [...this.planned.outlined.inputs.values()].some((from) => {
      const before = this.arriving(from);
      return before !== undefined && before.form !== 'pending' && array(before) === array(value);
    });
  }
}
