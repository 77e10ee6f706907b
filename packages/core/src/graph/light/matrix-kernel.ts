import type { Matrix } from '../../maths/matrix.ts';
import type { Project } from '../../project/schema.ts';
import type { NodeDefinition, Settings } from '../node/definition.ts';
import type { Value } from '../node/values.ts';

/**
 * How a light node makes one matrix from others, when all of them are single: in rigs of thousands of such nodes,
 * anything else that is made for each of them takes longer than the matrix.
 */
export interface MatrixKernel {
  /** The inputs it takes, in order; all must be connected. */
  readonly inputs: readonly string[];
  /**
   * Writes the matrix to place `to` of a sheet that holds all of them, from the `count` at places `from[first]`,
   * `from[first + 1]` and so on. False where there is something to say, which `evaluate` does. The same function for
   * all nodes of a type: what is called is then close at hand. Left out, the one input is the matrix.
   */
  run?(sheet: Float64Array, to: number, from: Readonly<Int32Array>, first: number, count: number): boolean;
  /** Whether the matrix is the carrier of the one object that the node drives. */
  readonly isCarrier?: boolean;
  /** The outputs of the node for what was made. */
  values(made: Readonly<Matrix>): Readonly<Record<string, Value>>;
}

type MakeKernel = (settings: Settings, project: Project) => MatrixKernel | undefined;

const kernels = new WeakMap<NodeDefinition, MakeKernel>();

/**
 * Gives a light node the short way for single matrices, the same to the bit as its `evaluate`.
 * @param kernel undefined with settings that have none.
 */
export function withKernel(definition: NodeDefinition, kernel: MakeKernel): NodeDefinition {
  kernels.set(definition, kernel);
  return definition;
}

/** The short way of a type of nodes, where it has one. */
export const kernelOf = (definition: NodeDefinition): MakeKernel | undefined => kernels.get(definition);
