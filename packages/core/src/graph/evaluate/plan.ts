import { finishHalf, Hash, mixFirst, mixSecond } from '../../hash.ts';
import { ExpressionError, type ExpressionScope } from '../../expression/index.ts';
import type { InputValue, NumberSource } from '../../project/fields.ts';
import { animatedAt } from '../../scene/channels.ts';
import type { Entry, Key } from './cache.ts';
import type { InputPort } from '../node/definition.ts';
import { hashFacet } from './facet-keys.ts';
import type { Unit } from '../network/facets.ts';
import { flatOutline, type FlatOutline } from '../light/flat-outline.ts';
import { LightResults } from '../light/light-results.ts';
import { bitOf, isElementUnit, outlinedAt, type Moment, type Outline, type OutlinedUnit, type Wired } from './outline.ts';
import type { Problem } from '../node/problems.ts';
import type { PortRef } from '../network/resolve.ts';

/** A typed input at a frame: its numbers, or what is wrong with its expression. */
export interface TypedNumbers {
  readonly numbers: readonly number[];
  readonly problem?: Problem;
}

/** What is asked for at a frame, in the order it is to be evaluated: everything by a unit's number in the outline. */
export class Plan {
  /** Two halves of the key of each unit. */
  readonly keys: Int32Array;
  /** Outputs somebody needs, as bits. */
  readonly wanted: Int32Array;
  /** 1 where a unit has to be run. */
  readonly isNeeded: Uint8Array;
  readonly light: LightResults<Entry>;
  readonly flat: FlatOutline;
  private readonly units: (PlannedUnit | undefined)[];

  constructor(
    readonly outline: Outline,
    /** By number; the first is that of the frame asked for. */
    readonly moments: readonly Moment[],
  ) {
    const flat = flatOutline(outline);
    this.flat = flat;
    this.keys = new Int32Array(2 * flat.count);
    this.wanted = flat.asked.slice();
    this.isNeeded = new Uint8Array(flat.count);
    this.units = new Array<PlannedUnit | undefined>(flat.count);
    this.light = new LightResults<Entry>(flat, this.keys);
  }

  get count(): number {
    return this.flat.count;
  }

  /** All that is known of a unit; made when it is asked for, since most units of large rigs only have a matrix. */
  unit(index: number): PlannedUnit {
    return (this.units[index] ??= new PlannedUnit(this, this.outline.order[index]));
  }
}

/** A unit to be evaluated at a moment, with its key and how it is to be run. */
export class PlannedUnit implements Key {
  /** The last link of the chain it is fused into; itself when it keeps its columns. */
  tail: PlannedUnit = this;
  /** What it made: now, or earlier with the same key. */
  entry: Entry | undefined = undefined;

  constructor(
    private readonly plan: Plan,
    readonly outlined: OutlinedUnit,
  ) {}

  get index(): number {
    return this.outlined.index;
  }

  get unit(): Unit {
    return this.outlined.unit;
  }

  get moment(): Moment {
    return this.plan.moments[this.outlined.at];
  }

  /** Halves of its key. */
  get first(): number {
    return this.plan.keys[2 * this.index];
  }

  get second(): number {
    return this.plan.keys[2 * this.index + 1];
  }

  get isNeeded(): boolean {
    return this.plan.isNeeded[this.index] === 1;
  }

  /** Whether an output is needed. */
  wants(port: string): boolean {
    return (this.plan.wanted[this.index] & bitOf(this.unit, port)) !== 0;
  }

  /** The outputs that are needed, as bits. */
  get wanted(): number {
    return this.plan.wanted[this.index];
  }

  /** Whether something made with its key has all that is needed. */
  isMetBy(entry: Entry): boolean {
    // What a node left out is not there because of a failure elsewhere.
    if (entry.failed) return (this.wanted & ~entry.answers) === 0;
    const { ports } = this.unit;
    for (const port of ports) if (this.wants(port) && !entry.values.has(port)) return false;
    return true;
  }

  /** The typed numbers of an input at its moment. */
  typed(port: string): TypedNumbers | undefined {
    const found = this.outlined.typed.find((t) => t.port.id === port);
    return found && typedNumbers(found.port, found.value, this.moment.scope);
  }
}

/**
 * Gives every unit of an outline its key at a frame (DECISIONS 9): hash of type, version, settings, typed inputs at
 * this frame, keys of inputs, and the facets it reads.
 */
export function makePlan(outline: Outline, moments: readonly Moment[]): Plan {
  const plan = new Plan(outline, moments);
  const { keys } = plan;
  const { count, hashes, wired, isMoving } = plan.flat;
  for (let i = 0; i < count; i++) {
    let a = hashes[2 * i];
    let b = hashes[2 * i + 1];
    for (let k = wired.start[i]; k < wired.start[i + 1]; k++) {
      const from = 2 * wired.items[k];
      a = mixFirst(mixFirst(a, keys[from]), keys[from + 1]);
      b = mixSecond(mixSecond(b, keys[from]), keys[from + 1]);
    }
    if (isMoving[i]) {
      const hash = new Hash(a, b);
      hashMoving(hash, plan, outline.order[i]);
      hash.save(keys, 2 * i);
      a = keys[2 * i];
      b = keys[2 * i + 1];
    }
    keys[2 * i] = finishHalf(a);
    keys[2 * i + 1] = finishHalf(b);
  }
  return plan;
}

/** Adds what a unit reads that changes from frame to frame. */
function hashMoving(hash: Hash, { outline, moments, keys }: Plan, unit: OutlinedUnit): void {
  const { typed, moving, readsTime, at } = unit;
  const moment = moments[at];
  for (const { port, value, timed } of typed) {
    if (!timed) continue;
    const { numbers, problem } = typedNumbers(port, value, moment.scope);
    hash.numbers(numbers).word(problem ? 1 : 0);
  }
  const addKey = ({ index }: OutlinedUnit) => void hash.word(keys[2 * index]).word(keys[2 * index + 1]);
  for (const read of moving) hashFacet(hash, outline, read, moment, addKey);
  if (readsTime) hash.number(moment.frame);
}

/** Takes what the light units of an earlier evaluation made, where the keys are the same. */
export function inheritLight(plan: Plan, from: { outline: Outline; light: LightResults<Entry> }): void {
  const { outline, light } = plan;
  const isSame = outline === from.outline;
  for (let i = 0; i < plan.count; i++) {
    if (!plan.flat.isLight[i]) continue;
    if (isSame) light.take(i, from.light, i);
    else {
      const { unit, at } = outline.order[i];
      const known = from.outline.placed[at]?.get(unit.vertex);
      if (known) light.take(i, from.light, known.index);
    }
  }
}

/** The planned unit that a wire comes from. */
export const plannedFrom = (plan: Plan, from: Wired): PlannedUnit | undefined => from.unit && plan.unit(from.unit.index);

/** The unit of an output at the frame asked for, when it is in the plan. */
export function plannedAt(plan: Plan, ref: PortRef): PlannedUnit | undefined {
  const outlined = outlinedAt(plan.outline, ref, 0);
  return outlined && plan.unit(outlined.index);
}

/** Numbers of a typed input at a frame. */
export function typedNumbers(port: InputPort, value: InputValue, scope: ExpressionScope): TypedNumbers {
  if (typeof value === 'boolean') return { numbers: [value ? 1 : 0] };
  if (typeof value === 'string') return { numbers: [] };
  const parts = (Array.isArray(value) ? value : [value]) as readonly NumberSource[];
  const numbers: number[] = [];
  for (const part of parts) {
    if (typeof part === 'number') {
      numbers.push(part);
      continue;
    }
    try {
      numbers.push(animatedAt(part, scope));
    } catch (error) {
      if (!(error instanceof ExpressionError)) throw error;
      const problem: Problem = {
        code: 'expression',
        port: port.label,
        message: error.message,
        severity: 'error',
      };
      return { numbers: [0], problem };
    }
  }
  return { numbers };
}

/** Whether a consumer reads an input lane by lane (so that it may be fused), not as a whole value. */
export function readsLane(consumer: OutlinedUnit, port: string): boolean {
  const input = consumer.unit.node.inputs.find((p: InputPort) => p.id === port);
  return isElementUnit(consumer) && input?.kind !== 'mesh' && !input?.uniform;
}
