import type { InputPort, NodeContext, OutputPort } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { matricesValue, matrixValue, vectorValue, type MatricesValue, type Single, type Value } from '../../graph/node/values.ts';
import type { Matrix } from '../../maths/matrix.ts';
import { decompose } from '../../maths/factors.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
import { normalize, scale } from '../../maths/vector.ts';

/** A matrix input: one, or one per copy or object. */
export const matrixPort = (id: string, label: string, help: string, extras: Partial<InputPort> = {}): InputPort => ({
  id,
  label,
  kind: 'matrix',
  help,
  ...extras,
});

export const matrixOutput = (id: string, label: string, help: string): OutputPort => ({
  id,
  label,
  kind: 'matrix',
  help,
});

/** A single matrix at an input. @throws NodeError where many arrive */
export function singleMatrix(context: NodeContext, port: string): Readonly<Matrix> {
  const v = context.input(port);
  if (v?.form === 'matrices') throw new NodeError({ code: 'needs-single', port, count: v.count });
  return (v as Single).data;
}

/** Place, turns (degrees), size, shear and axes of a matrix as values, by name. */
export function partsOf(m: Readonly<Matrix>, order: RotationOrder) {
  const parts = decompose(m, order);
  const axis = (c: number) => vectorValue(normalize([m[c], m[c + 1], m[c + 2]]));
  return {
    place: vectorValue(parts.translate),
    turn: vectorValue(scale(parts.anglesInRadians, 1 / RADIANS_PER_DEGREE)),
    size: vectorValue(parts.scale),
    shear: vectorValue(parts.shear),
    axes: { axisX: axis(0), axisY: axis(4), axisZ: axis(8) },
  };
}

/**
 * Matrix inputs side by side: `step` 0 repeats a single one, 16 goes through many.
 * @throws NodeError when two of them are of different counts
 */
export function matrixLanes(
  context: NodeContext,
  ports: readonly string[],
): {
  count: number;
  lanes: { data: Readonly<Float64Array>; step: 0 | 16 }[];
  owner: string | undefined;
} {
  let first: { port: string; value: MatricesValue } | undefined;
  const lanes = ports.map((port) => {
    const v = context.input(port) as Single | MatricesValue;
    if (v.form === 'single') return { data: v.data, step: 0 as const };
    if (first && first.value.count !== v.count)
      throw new NodeError({
        code: 'column-counts',
        first: first.port,
        firstCount: first.value.count,
        second: port,
        secondCount: v.count,
      });
    first ??= { port, value: v };
    return { data: v.data, step: 16 as const };
  });
  return { count: first?.value.count ?? 1, lanes, owner: first?.value.owner };
}

/** Matrices as one value: a single one where nothing came as many. */
export const matrixResult = (data: Float64Array, owner: string | undefined): Value =>
  owner === undefined ? matrixValue(data) : matricesValue(data, owner);
