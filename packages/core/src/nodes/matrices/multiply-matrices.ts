import type { NodeDefinition, Settings } from '../../graph/definition.ts';
import { newMatrix } from '../../maths/matrix.ts';
import { matrixLanes, matrixOutput, matrixPort, matrixResult } from './lanes.ts';

const LETTERS = ['a', 'b', 'c', 'd', 'e', 'f'] as const;
const ORDINALS = ['first', 'then', 'then', 'then', 'then', 'then'];

const rows = (s: Settings): readonly string[] =>
  LETTERS.slice(0, Math.min(6, Math.max(2, Math.round(Number(s.rows) || 2))));

/** How many matrices each pass of the loop takes. */
const STEP = 4096;

export const multiplyMatrices: NodeDefinition = {
  id: 'multiply-matrices',
  version: 1,
  title: 'Multiply Matrices',
  group: 'Matrices',
  summary: 'Does what several matrices do, one after the other, read from the child outwards.',
  keywords: ['product', 'combine', 'concatenate', 'chain', 'parent'],
  inputs: (s) =>
    rows(s).map(
      (id, i) =>
      matrixPort(id, `${ORDINALS[i]} ${id}`, i === 0 ? 'What is applied first, nearest to the object.' : 'What is applied next, further out.'), // prettier-ignore
    ),
  outputs: () => [matrixOutput('matrix', 'matrix', 'The last × … × the first: what is applied first stands rightmost.')], // prettier-ignore
  settings: [
    { id: 'rows', label: 'Rows', type: 'number', default: 2, range: { min: 2, max: 6, hard: true }, help: 'How many matrices are multiplied.' }, // prettier-ignore
  ],
  sentence: (s, c) =>
    rows(s)
      .map((id, i) => `${ORDINALS[i]} ${c.source?.(id) ?? id}`)
      .join(', '),
  light: true,
  evaluate(context) {
    const { lanes, count, owner } = matrixLanes(context, rows(context.settings));
    const out = count === 1 ? newMatrix() : new Float64Array(count * 16);
    for (let from = 0; from < count; from += STEP) {
      context.checkpoint();
      const to = Math.min(count, from + STEP);
      multiplyPacked(out, lanes[1], lanes[0], from, to);
      for (let k = 2; k < lanes.length; k++) multiplyPacked(out, lanes[k], { data: out, step: 16 }, from, to);
    }
    return { matrix: matrixResult(out, owner) };
  },
};

interface Lane {
  data: Readonly<Float64Array>;
  step: 0 | 16;
}

/** `out[i] = A[i] × B[i]` for a range of packed matrices; a step of 0 repeats one. */
export function multiplyPacked(out: Float64Array, a: Lane, b: Lane, from: number, to: number): void {
  const A = a.data;
  const B = b.data;
  for (let i = from, o = from * 16; i < to; i++, o += 16) {
    const p = i * a.step;
    const q = i * b.step;
    const a0 = A[p], a1 = A[p + 1], a2 = A[p + 2], a3 = A[p + 3]; // prettier-ignore
    const a4 = A[p + 4], a5 = A[p + 5], a6 = A[p + 6], a7 = A[p + 7]; // prettier-ignore
    const a8 = A[p + 8], a9 = A[p + 9], a10 = A[p + 10], a11 = A[p + 11]; // prettier-ignore
    const a12 = A[p + 12], a13 = A[p + 13], a14 = A[p + 14], a15 = A[p + 15]; // prettier-ignore
    let b0 = B[q], b1 = B[q + 1], b2 = B[q + 2], b3 = B[q + 3]; // prettier-ignore
    out[o] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
    out[o + 1] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
    out[o + 2] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
    out[o + 3] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
    b0 = B[q + 4];
    b1 = B[q + 5];
    b2 = B[q + 6];
    b3 = B[q + 7];
    out[o + 4] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
    out[o + 5] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
    out[o + 6] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
    out[o + 7] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
    b0 = B[q + 8];
    b1 = B[q + 9];
    b2 = B[q + 10];
    b3 = B[q + 11];
    out[o + 8] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
    out[o + 9] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
    out[o + 10] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
    out[o + 11] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
    b0 = B[q + 12];
    b1 = B[q + 13];
    b2 = B[q + 14];
    b3 = B[q + 15];
    out[o + 12] = a0 * b0 + a4 * b1 + a8 * b2 + a12 * b3;
    out[o + 13] = a1 * b0 + a5 * b1 + a9 * b2 + a13 * b3;
    out[o + 14] = a2 * b0 + a6 * b1 + a10 * b2 + a14 * b3;
    out[o + 15] = a3 * b0 + a7 * b1 + a11 * b2 + a15 * b3;
  }
}
