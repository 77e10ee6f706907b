import { Hash } from '../hash.ts';
import { ExpressionError, type ExpressionScope } from '../expression/index.ts';
import type { InputValue, NumberSource } from '../project/schema.ts';
import { animatedAt } from '../scene/channels.ts';
import type { Matrix } from '../maths/matrix.ts';
import type { Entry, Key } from './cache.ts';
import type { InputPort } from './definition.ts';
import { hashFacet } from './facet-keys.ts';
import type { Unit } from './facets.ts';
import { bitOf, outlinedAt, type Moment, type Outline, type OutlinedUnit, type Wired } from './outline.ts';
import type { Problem } from './problems.ts';
import type { PortRef } from './resolve.ts';
import type { UnitRun } from './run-unit.ts';

/** A typed input at a frame: its numbers, or what is wrong with its expression. */
export interface TypedNumbers {
  readonly numbers: readonly number[];
  readonly problem?: Problem;
}

/** A unit to be evaluated at a moment, with its key and how it is to be run. */
export class PlannedUnit implements Key {
  /** Outputs somebody needs, as bits. */
  wanted: number;
  /** The last link of the chain it is fused into; itself when it keeps its columns. */
  tail: PlannedUnit = this;
  /** What it made: now, or earlier with the same key. */
  entry: Entry | undefined = undefined;
  /** The one matrix its kernel made, from which its entry is made when it is asked for. */
  matrix: Readonly<Matrix> | undefined = undefined;
  /** Whether it has to be run, and by what, once it is. */
  isNeeded = false;
  run: UnitRun | undefined = undefined;

  constructor(
    readonly outlined: OutlinedUnit,
    readonly moment: Moment,
    /** Halves of its key. */
    readonly first: number,
    readonly second: number,
  ) {
    this.wanted = outlined.asked;
  }

  get unit(): Unit {
    return this.outlined.unit;
  }

  /** Whether an output is needed. */
  wants(port: string): boolean {
    return (this.wanted & bitOf(this.unit, port)) !== 0;
  }

  /** Whether something made with its key has all that is needed. */
  isMetBy(entry: Entry): boolean {
    if (entry.failed) return true;
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

/** What is asked for at a frame, in the order it is to be evaluated. */
export interface Plan {
  readonly outline: Outline;
  /** By number; the first is that of the frame asked for. */
  readonly moments: readonly Moment[];
  /** As the outline's order. */
  readonly order: readonly PlannedUnit[];
}

/**
 * Gives every unit of an outline its key at a frame (DECISIONS 9): hash of type, version, settings, typed inputs at
 * this frame, keys of inputs, and the facets it reads.
 */
export function makePlan(outline: Outline, moments: readonly Moment[]): Plan {
  const order: PlannedUnit[] = [];
  const plan: Plan = { outline, moments, order };
  const hash = new Hash();
  const addKey = (u: OutlinedUnit) => {
    const { first, second } = order[u.index];
    hash.word(first).word(second);
  };
  for (const outlined of outline.order) {
    const moment = moments[outlined.at];
    hash.from(outlined.hash);
    for (const from of outlined.inputs.values()) if (from.unit) addKey(from.unit);
    if (!outlined.isStill) {
      for (const { port, value, timed } of outlined.typed) {
        if (!timed) continue;
        const { numbers, problem } = typedNumbers(port, value, moment.scope);
        hash.numbers(numbers).word(problem ? 1 : 0);
      }
      for (const read of outlined.moving) hashFacet(hash, outline, read, moment, addKey);
      if (outlined.readsTime) hash.number(moment.frame);
    }
    order.push(new PlannedUnit(outlined, moment, hash.first, hash.second));
  }
  return plan;
}

/** The planned unit that a wire comes from. */
export const plannedFrom = (plan: Plan, from: Wired): PlannedUnit | undefined =>
  from.unit && plan.order[from.unit.index];

/** The unit of an output at the frame asked for, when it is in the plan. */
export function plannedAt(plan: Plan, ref: PortRef): PlannedUnit | undefined {
  const outlined = outlinedAt(plan.outline, ref, 0);
  return outlined && plan.order[outlined.index];
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

/** Whether a unit is run chunk by chunk: per element, not skipped, not in a loop. */
export const isElementUnit = ({ unit, loop }: OutlinedUnit): boolean =>
  unit.node.definition?.elements !== undefined && !unit.node.record.skip && !loop;

/** Whether a consumer reads an input lane by lane (so that it may be fused), not as a whole value. */
export function readsLane(consumer: OutlinedUnit, port: string): boolean {
  const input = consumer.unit.node.inputs.find((p: InputPort) => p.id === port);
  return isElementUnit(consumer) && input?.kind !== 'mesh' && !input?.uniform;
}
