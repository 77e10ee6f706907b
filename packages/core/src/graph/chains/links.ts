import type { ColumnPlace } from '../node/values.ts';
import type { FormulaValue, ProgramBuilder } from '../../expression/index.ts';
import type { ElementPlan, Kernel, LaneKind } from '../node/definition.ts';
import type { Column, Single } from '../node/values.ts';

/** Elements that are computed at once; see `chains.ts`. */
export const CHUNK = 4096;

/** A lane's width in numbers. */
export const WIDTH: Record<LaneKind, 1 | 3> = { number: 1, vector: 3 };

/** Who the elements of a chain are. */
export interface Elements {
  readonly count: number;
  readonly on: ColumnPlace;
  readonly owner: string;
}

/** What a lane of a link is filled from: a value, or an earlier link of the same chain. */
export type LaneSource = { from: 'value'; value: Single | Column } | { from: 'link'; link: Link; output: number };

interface LinkParts {
  readonly plan: ElementPlan;
  /** In the order of `plan.inputs`. */
  readonly sources: readonly LaneSource[];
}

/** A node that computes lane by lane with a loop of its own. */
export interface KernelLink extends LinkParts {
  readonly kernel: Kernel;
}

/** A node that says what it computes as operations, so that it can become one loop with its neighbours. */
export interface ProgramLink extends LinkParts {
  readonly program: (b: ProgramBuilder, inputs: readonly FormulaValue[]) => FormulaValue[];
}

/** One per-element node, ready to run. */
export type Link = KernelLink | ProgramLink;

export const isProgram = (link: Link): link is ProgramLink => 'program' in link;
