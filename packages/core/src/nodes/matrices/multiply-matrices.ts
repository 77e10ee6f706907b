import { withKernel, type MatrixKernel } from '../../graph/light/matrix-kernel.ts';
import type { NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { multiplyPacked } from '../../maths/matrix.ts';
import { matrixLanes, matrixOutput, matrixPort, matrixResult } from './lanes.ts';

const LETTERS = ['a', 'b', 'c', 'd', 'e', 'f'] as const;
const ORDINALS = ['first', 'then', 'then', 'then', 'then', 'then'];

const rows = (s: Settings): readonly string[] => LETTERS.slice(0, Math.min(6, Math.max(2, Math.round(Number(s.rows) || 2))));

/** How many matrices each pass of the loop takes. */
const STEP = 4096;

const definition: NodeDefinition = {
  id: 'multiply-matrices',
  version: 1,
  title: 'Multiply Matrices',
  group: 'Matrices',
  summary: 'Does what several matrices do, one after the other, read from the child outwards.',
  keywords: ['product', 'combine', 'concatenate', 'chain', 'parent'],
  inputs: (s) =>
    rows(s).map((id, i) =>
      matrixPort(
        id,
        `${ORDINALS[i]} ${id}`,
        i === 0 ? 'What is applied first, nearest to the object.' : 'What is applied next, further out.',
      ),
    ),
  outputs: () => [matrixOutput('matrix', 'matrix', 'The last × … × the first: what is applied first stands rightmost.')],
  settings: [
    {
      id: 'rows',
      label: 'Rows',
      type: 'number',
      whole: true,
      default: 2,
      range: { min: 2, max: 6, hard: true },
      help: 'How many matrices are multiplied.',
    },
  ],
  inOrder: rows,
  sentence: (s, c) =>
    rows(s)
      .map((id, i) => `${ORDINALS[i]} ${c.source?.(id) ?? id}`)
      .join(', '),
  light: true,
  evaluate(context) {
    const { lanes, count, owner } = matrixLanes(context, rows(context.settings));
    const out = context.matrices(count, 'a', 'b');
    for (let from = 0; from < count; from += STEP) {
      context.checkpoint();
      const many = Math.min(STEP, count - from);
      const [a, b] = lanes;
      multiplyPacked(out, from * 16, b.data, from * b.step, b.step, a.data, from * a.step, a.step, many);
      for (const { data, step } of lanes.slice(2))
        multiplyPacked(out, from * 16, data, from * step, step, out, from * 16, 16, many);
    }
    return { matrix: matrixResult(out, owner) };
  },
};

export const multiplyMatrices = withKernel(definition, (settings) => ({
  inputs: rows(settings),
  run: multiplyInSheet,
  values: (made) => ({ matrix: matrixValue(made) }),
}));

const multiplyInSheet: MatrixKernel['run'] = (sheet, to, from, first, count) => {
  multiplyPacked(sheet, to, sheet, from[first + 1], 0, sheet, from[first], 0, 1);
  for (let k = 2; k < count; k++) multiplyPacked(sheet, to, sheet, from[first + k], 0, sheet, to, 0, 1);
  return true;
};
