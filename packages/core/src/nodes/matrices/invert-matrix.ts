import { withKernel, type MatrixKernel } from '../../graph/light/matrix-kernel.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { identity, invertAt } from '../../maths/matrix.ts';
import { matrixLanes, matrixOutput, matrixPort, matrixResult } from './lanes.ts';

const definition: NodeDefinition = {
  id: 'invert-matrix',
  version: 1,
  title: 'Invert Matrix',
  group: 'Matrices',
  summary: 'Undoes what a matrix does: from its own space back into the world.',
  keywords: ['inverse', 'undo', 'back', 'relative'],
  inputs: () => [matrixPort('matrix', 'matrix', 'The matrix to undo.')],
  outputs: () => [matrixOutput('matrix', 'inverse', 'Its inverse; the identity where there is none.')],
  settings: [],
  sentence: (_, c) => `undoes ${c.source?.('matrix') ?? 'a matrix'}`,
  light: true,
  evaluate(context) {
    const { lanes, count, owner } = matrixLanes(context, ['matrix']);
    const out = context.matrices(count, 'matrix');
    const [{ data, step }] = lanes;
    let bad = 0;
    for (let i = 0; i < count; i++) {
      if ((i & 1023) === 0) context.checkpoint();
      if (invertAt(out, i * 16, data, i * step)) continue;
      bad++;
      out.set(identity(), i * 16);
    }
    if (bad > 0)
      context.report({
        code: 'matrix-flat',
        what: count === 1 ? 'The matrix' : `${bad} of ${count} matrices`,
        severity: 'warning',
      });
    return { matrix: matrixResult(out, owner) };
  },
};

export const invertMatrix = withKernel(definition, () => ({
  inputs: ['matrix'],
  run: invertInSheet,
  values: (made) => ({ matrix: matrixValue(made) }),
}));

const invertInSheet: MatrixKernel['run'] = (sheet, to, from, first) => invertAt(sheet, to, sheet, from[first]);
