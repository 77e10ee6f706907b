import type { NodeDefinition, Settings } from '../../graph/definition.ts';
import { matrixValue } from '../../graph/values.ts';
import { multiply, newMatrix } from '../../maths/matrix.ts';
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
  kernel(settings) {
    const inputs = rows(settings);
    return {
      inputs,
      run(m) {
        const out = multiply(newMatrix(), m[1], m[0]);
        for (let k = 2; k < inputs.length; k++) multiply(out, m[k], out);
        return out;
      },
      values: (made) => ({ matrix: matrixValue(made) }),
    };
  },
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

/**
 * `out[i] = A[i] × B[i]` for a range of packed matrices; a step of 0 repeats one. `out` may be `A` or `B`: both are read
 * before anything is written. Indices are kept in 32 bits, which spares a check for overflow at each of 48 accesses (a
 * quarter of the time).
 */
export function multiplyPacked(out: Float64Array, a: Lane, b: Lane, from: number, to: number): void {
  const A = a.data;
  const B = b.data;
  for (let i = from, o = from * 16; i < to; i++, o += 16) {
    const p = (i * a.step) | 0;
    const q = (i * b.step) | 0;
    const b0 = B[q], b1 = B[(q + 1) | 0], b2 = B[(q + 2) | 0], b3 = B[(q + 3) | 0]; // prettier-ignore
    const b4 = B[(q + 4) | 0], b5 = B[(q + 5) | 0], b6 = B[(q + 6) | 0], b7 = B[(q + 7) | 0]; // prettier-ignore
    const b8 = B[(q + 8) | 0], b9 = B[(q + 9) | 0], b10 = B[(q + 10) | 0], b11 = B[(q + 11) | 0]; // prettier-ignore
    const b12 = B[(q + 12) | 0], b13 = B[(q + 13) | 0], b14 = B[(q + 14) | 0], b15 = B[(q + 15) | 0]; // prettier-ignore
    const x0 = A[p], y0 = A[(p + 4) | 0], z0 = A[(p + 8) | 0], w0 = A[(p + 12) | 0]; // prettier-ignore
    const x1 = A[(p + 1) | 0], y1 = A[(p + 5) | 0], z1 = A[(p + 9) | 0], w1 = A[(p + 13) | 0]; // prettier-ignore
    const x2 = A[(p + 2) | 0], y2 = A[(p + 6) | 0], z2 = A[(p + 10) | 0], w2 = A[(p + 14) | 0]; // prettier-ignore
    const x3 = A[(p + 3) | 0], y3 = A[(p + 7) | 0], z3 = A[(p + 11) | 0], w3 = A[(p + 15) | 0]; // prettier-ignore
    out[o] = x0 * b0 + y0 * b1 + z0 * b2 + w0 * b3;
    out[(o + 4) | 0] = x0 * b4 + y0 * b5 + z0 * b6 + w0 * b7;
    out[(o + 8) | 0] = x0 * b8 + y0 * b9 + z0 * b10 + w0 * b11;
    out[(o + 12) | 0] = x0 * b12 + y0 * b13 + z0 * b14 + w0 * b15;
    out[(o + 1) | 0] = x1 * b0 + y1 * b1 + z1 * b2 + w1 * b3;
    out[(o + 5) | 0] = x1 * b4 + y1 * b5 + z1 * b6 + w1 * b7;
    out[(o + 9) | 0] = x1 * b8 + y1 * b9 + z1 * b10 + w1 * b11;
    out[(o + 13) | 0] = x1 * b12 + y1 * b13 + z1 * b14 + w1 * b15;
    out[(o + 2) | 0] = x2 * b0 + y2 * b1 + z2 * b2 + w2 * b3;
    out[(o + 6) | 0] = x2 * b4 + y2 * b5 + z2 * b6 + w2 * b7;
    out[(o + 10) | 0] = x2 * b8 + y2 * b9 + z2 * b10 + w2 * b11;
    out[(o + 14) | 0] = x2 * b12 + y2 * b13 + z2 * b14 + w2 * b15;
    out[(o + 3) | 0] = x3 * b0 + y3 * b1 + z3 * b2 + w3 * b3;
    out[(o + 7) | 0] = x3 * b4 + y3 * b5 + z3 * b6 + w3 * b7;
    out[(o + 11) | 0] = x3 * b8 + y3 * b9 + z3 * b10 + w3 * b11;
    out[(o + 15) | 0] = x3 * b12 + y3 * b13 + z3 * b14 + w3 * b15;
  }
}
