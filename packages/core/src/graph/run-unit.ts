import type { AttributePlace } from '../geometry/attributes.ts';
import { withPositions, type Mesh } from '../geometry/mesh.ts';
import type { Entry } from './cache.ts';
import { outputRole, runChain, type LaneSource, type Link } from './chains.ts';
import type { ElementPlan, InputPort, LaneKind, NodeContext, ObjectView, Uniforms } from './definition.ts';
import { finishEntry, firstBad } from './entry.ts';
import { accepts, KIND_WORDS } from './kinds.ts';
import { makeNodeContext } from './node-context.ts';
import type { Plan, PlannedUnit } from './plan.ts';
import { Cancelled, NodeError, type Problem, type ProblemData } from './problems.ts';
import { nodeTitle } from './resolve.ts';
import { meshValue, pointColumn, type Column, type ElementKind, type Single, type Value } from './values.ts';

/** What every run needs from outside. */
export interface RunServices {
  now(): number;
  floats(count: number): Float32Array;
  integers(count: number): Int32Array;
}

/** What a run may ask of the evaluation it belongs to. */
export interface RunContext extends RunServices {
  checkpoint(): void;
  readonly plan: Plan;
  /** Runs of this evaluation so far. */
  readonly runs: ReadonlyMap<PlannedUnit, UnitRun>;
  view(object: string): ObjectView | undefined;
  /** What was kept of a unit, now or earlier. */
  kept(unit: PlannedUnit): Entry | undefined;
}

/** A column that the chain it belongs to has not computed, and may never store. */
interface Pending {
  readonly form: 'pending';
  readonly kind: LaneKind;
  readonly count: number;
  readonly on: AttributePlace;
  readonly owner: string;
  readonly run: UnitRun;
  readonly output: number;
}

type Arriving = Value | Pending;

/** Evaluates one unit; a unit in the middle of a chain only gets ready, the chain's tail runs them all. */
export class UnitRun {
  /** Units whose entries are complete after `run`: itself, or a whole chain. */
  readonly finished: { planned: PlannedUnit; entry: Entry }[] = [];
  readonly entry: Entry = {
    values: new Map(),
    summaries: new Map(),
    problems: [],
    costInMs: 0,
    chained: 1,
    failed: false,
  };
  private link: Link | undefined;
  private pendings: Pending[] = [];
  /** Meshes that arrived at a per-element node, by port. */
  private meshes: ReadonlyMap<string, Mesh> = new Map();

  constructor(
    readonly planned: PlannedUnit,
    private readonly context: RunContext,
  ) {}

  *run(): Generator<void, void> {
    const before = this.context.now();
    const { node } = this.planned.unit;
    try {
      if (this.planned.loop) this.fail({ code: 'loop', path: [...this.planned.loop] });
      else if (!node.definition) this.fail({ code: 'unknown-type', type: node.record.type });
      else if (node.definition.version < node.record.version) {
        this.fail({ code: 'newer-node', type: node.definition.title, version: node.record.version });
      } else if (node.record.skip) this.handOn(false);
      else {
        this.checkWriters();
        if (node.definition.elements) yield* this.runElements();
        else this.runWhole();
      }
    } catch (error) {
      if (error instanceof Cancelled) throw error;
      if (error instanceof NodeError) this.entry.problems.push(error.problem);
      else
        this.problem(
          { code: 'threw', message: error instanceof Error ? error.message : String(error) },
          'error',
        );
      this.entry.failed = true;
      this.link = undefined;
      this.pendings = [];
      this.handOn(true);
    }
    if (this.link && this.planned.tail !== this.planned) return;
    if (this.entry.chained === 1) this.entry.costInMs = this.context.now() - before;
    finishEntry(this.entry);
    if (!this.finished.some((f) => f.planned === this.planned))
      this.finished.push({ planned: this.planned, entry: this.entry });
  }

  /** What an output gives to another unit of this evaluation. */
  output(port: string): Arriving | undefined {
    return (
      this.pendings.find((p) => this.link?.plan.outputs[p.output].port === port) ??
      this.entry.values.get(port)
    );
  }

  private problem(data: ProblemData, severity: Problem['severity']): void {
    this.entry.problems.push({ ...data, severity });
  }

  private fail(data: ProblemData): void {
    throw new NodeError(data);
  }

  private checkWriters(): void {
    const { node } = this.planned.unit;
    const object = node.definition?.writesResultOf?.(node.settings);
    const others = object
      ? (this.context.plan.facets.writers.get(object) ?? []).filter((w) => w.record.id !== node.record.id)
      : [];
    if (object && others.length > 0) {
      const name = this.context.plan.objects.get(object)?.name ?? object;
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
      const from = this.planned.inputs.get(input);
      const value = from?.unit ? this.arriving(from.unit, from.port) : this.typedValue(input);
      if (!value || (onlyGeometry && value.form !== 'geometry')) continue;
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

  private arriving(unit: PlannedUnit, port: string): Arriving | undefined {
    const run = this.context.runs.get(unit);
    return run?.output(port) ?? this.context.kept(unit)?.values.get(port);
  }

  private typedValue(port: string): Single | undefined {
    const typed = this.planned.typed.get(port);
    if (!typed) return undefined;
    if (typed.problem) throw new NodeError(typed.problem);
    const kind = this.portOf(port).kind;
    const numbers = Float64Array.from(typed.numbers);
    if (numbers.length === 3) return { form: 'single', kind: 'vector', data: numbers };
    return { form: 'single', kind: kind === 'integer' || kind === 'toggle' ? kind : 'number', data: numbers };
  }

  private portOf(id: string): InputPort {
    return this.planned.unit.node.inputs.find((p) => p.id === id) as InputPort;
  }

  /** The value at an input, checked for its kind. @throws NodeError in words. */
  private inputAt(id: string): Arriving | undefined {
    const port = this.portOf(id);
    const from = this.planned.inputs.get(id);
    if (!from) {
      const typed = this.typedValue(id);
      if (!typed && !port.optional)
        this.fail({ code: 'input-missing', port: port.label, needs: KIND_WORDS[port.kind] });
      return typed;
    }
    const value = from.unit ? this.arriving(from.unit, from.port) : undefined;
    if (!value) {
      const source = this.context.plan.facets.units.get(from.unit?.unit.vertex ?? '')?.node;
      this.fail({ code: 'waits', on: source ? nodeTitle(source) : 'a node that is gone' });
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
    if (port.uniform && (value.form === 'pending' || value.form === 'column')) {
      this.fail({ code: 'needs-single', port: port.label, count: value.count });
    }
    return value;
  }

  private *runElements(): Generator<void, void> {
    const { node } = this.planned.unit;
    const elements = node.definition?.elements;
    if (!elements) return;
    // 1. What arrives, and of which kinds.
    const arriving = new Map<string, Arriving>();
    const meshes = new Map<string, Mesh>();
    const kinds: Record<string, ElementKind> = {};
    const uniforms: Record<string, number> = {};
    for (const port of node.inputs) {
      const value = this.inputAt(port.id);
      if (!value || value.kind === 'matrix') continue;
      if (value.form === 'geometry') {
        meshes.set(port.id, value.mesh);
        arriving.set(
          port.id,
          pointColumn(value.mesh, 'vector', value.mesh.positions as Float32Array, 'position'),
        );
        continue;
      }
      arriving.set(port.id, value);
      kinds[port.id] = value.kind;
      if (value.form === 'single' && value.data.length === 1) uniforms[port.id] = value.data[0];
    }
    const plan = elements.plan(node.settings, kinds);
    // 2. Columns pair up by count.
    const columns = plan.inputs
      .map((i) => arriving.get(i.port))
      .filter((v): v is Column | Pending => v !== undefined && v.form !== 'single');
    const owner = this.pairColumns(plan, arriving, meshes);
    const kernel = elements.compile(node.settings, plan, uniforms as Uniforms, (p) =>
      this.entry.problems.push(p),
    );
    // 3. Get ready.
    const sources = plan.inputs.map((input): LaneSource => {
      const value = arriving.get(input.port);
      if (!value)
        throw new NodeError({ code: 'input-missing', port: input.port, needs: KIND_WORDS[input.lane] });
      if (value.form === 'pending')
        return { from: 'link', link: value.run.link as Link, output: value.output };
      return { from: 'value', value: value as Single | Column };
    });
    this.link = { plan, kernel, sources };
    this.meshes = meshes;
    if (columns.length === 0) {
      yield* this.runSingle(plan);
      this.link = undefined;
      return;
    }
    this.pendings = plan.outputs.map((o, output) => ({
      form: 'pending',
      kind: o.lane,
      ...owner,
      run: this,
      output,
    }));
    for (const [i, o] of plan.outputs.entries()) {
      if (!o.movesMeshOf)
        this.entry.summaries.set(o.port, { form: 'column', kind: o.lane, count: this.pendings[i].count });
    }
    // 4. The tail of a chain runs it.
    if (this.planned.tail !== this.planned) return;
    yield* this.runLinks(this.linksBefore(), this.pendings[0]);
    this.pendings = [];
  }

  private pairColumns(
    plan: ElementPlan,
    arriving: ReadonlyMap<string, Arriving>,
    meshes: ReadonlyMap<string, Mesh>,
  ): Pick<Pending, 'count' | 'on' | 'owner'> {
    let first: { port: string; value: Column | Pending; isMesh: boolean } | undefined;
    for (const { port } of plan.inputs) {
      const value = arriving.get(port);
      if (!value || value.form === 'single' || value.form === 'geometry') continue;
      const label = this.portOf(port).label;
      if (!first) first = { port: label, value, isMesh: meshes.has(port) };
      else if (first.value.count !== value.count) {
        if (first.isMesh)
          this.fail({ code: 'column-fit', port: label, count: value.count, points: first.value.count });
        this.fail({
          code: 'column-counts',
          first: first.port,
          firstCount: first.value.count,
          second: label,
          secondCount: value.count,
        });
      } else if (first.value.owner !== value.owner || first.value.on !== value.on) {
        this.problem(
          { code: 'column-owners', first: first.port, second: label, count: value.count },
          'warning',
        );
      }
    }
    return {
      count: first?.value.count ?? 1,
      on: first?.value.on ?? 'point',
      owner: first?.value.owner ?? '',
    };
  }

  /** Runs of this chain up to and including this one, in order. */
  private linksBefore(): UnitRun[] {
    const found: UnitRun[] = [];
    const visit = (run: UnitRun) => {
      if (found.includes(run)) return;
      for (const s of run.link?.sources ?? []) {
        if (s.from !== 'link') continue;
        for (const from of run.planned.inputs.values()) {
          const before = from.unit ? this.context.runs.get(from.unit) : undefined;
          if (before?.link === s.link) visit(before);
        }
      }
      found.push(run);
    };
    visit(this);
    return found;
  }

  private *runLinks(
    runs: readonly UnitRun[],
    owner: Pick<Pending, 'count' | 'on' | 'owner'>,
  ): Generator<void, void> {
    const { now, floats } = this.context;
    const before = now();
    const links = runs.map((r) => r.link as Link);
    const result = yield* runChain(links, owner, floats, now);
    const cost = now() - before;
    const mine = this.link as Link;
    mine.plan.outputs.forEach((o, i) => {
      const mesh = o.movesMeshOf ? this.meshes.get(o.movesMeshOf) : undefined;
      if (mesh) {
        this.entry.values.set(o.port, meshValue(withPositions(mesh, result.outputs[i])));
        return;
      }
      const column: Column = { form: 'column', kind: o.lane, count: owner.count, on: owner.on, owner: owner.owner, data: result.outputs[i], role: outputRole(mine.plan, i) }; // prettier-ignore
      this.entry.values.set(o.port, column);
    });
    runs.forEach((r, i) => {
      r.entry.costInMs = cost * result.shares[i];
      r.entry.chained = runs.length;
      const bad = result.notFinite[i];
      if (bad) {
        const { port } = (r.link as Link).plan.outputs[bad.output];
        r.problem({ code: 'not-finite', port, index: bad.index, count: bad.count }, 'warning');
      }
      this.finished.push({ planned: r.planned, entry: r.entry });
    });
  }

  private *runSingle(plan: ElementPlan): Generator<void, void> {
    const link = this.link as Link;
    const result = yield* runChain(
      [link],
      { count: 1, on: 'point', owner: '' },
      (n) => new Float32Array(n),
      () => 0,
    );
    plan.outputs.forEach((o, i) => {
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
    const values = evaluate(this.nodeContext());
    for (const [port, value] of Object.entries(values)) {
      this.entry.values.set(port, value);
      // What is handed on as it came was checked where it was made.
      const bad = this.isHandedOn(value) ? undefined : firstBad(value);
      if (bad) this.problem({ code: 'not-finite', port, ...bad }, 'warning');
    }
  }

  private nodeContext(): NodeContext {
    return makeNodeContext({
      planned: this.planned,
      scope: this.context.plan.scope,
      services: this.context,
      input: (port) => this.inputAt(port) as Value | undefined,
      view: (object) => this.context.view(object),
      report: (p) => this.entry.problems.push(p),
    });
  }

  private isHandedOn(value: Value): boolean {
    if (value.form === 'single') return false;
    const array = (v: Value) => (v.form === 'geometry' ? v.mesh.positions : v.data);
    return [...this.planned.inputs.values()].some((from) => {
      const before = from.unit ? this.arriving(from.unit, from.port) : undefined;
      return before !== undefined && before.form !== 'pending' && array(before) === array(value);
    });
  }
}
