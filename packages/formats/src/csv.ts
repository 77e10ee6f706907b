import { pointsOf, type MatricesValue, type NumberValue, type Value } from '@umberfish/core';
import { shortest } from './obj-write.ts';

/** Names of the numbers of one element. */
function columnNames(value: NumberValue | MatricesValue): string[] {
  if (value.kind === 'vector') return ['x', 'y', 'z'];
  if (value.kind === 'matrix') return Array.from({ length: 16 }, (_, i) => `m${(i % 4) + 1}${Math.floor(i / 4) + 1}`);
  return ['value'];
}

/** Rows of numbers of a value; what has points gives their positions. */
function rowsOf(value: Value): { names: string[]; rows: number[][] } {
  if (value.form !== 'single' && value.form !== 'column' && value.form !== 'matrices') {
    const p = pointsOf(value) ?? new Float32Array(0);
    return {
      names: ['x', 'y', 'z'],
      rows: Array.from({ length: p.length / 3 }, (_, i) => [p[i * 3], p[i * 3 + 1], p[i * 3 + 2]]),
    };
  }
  const names = columnNames(value);
  const count = value.form === 'single' ? 1 : value.count;
  const rows = Array.from({ length: count }, (_, i) => names.map((_n, c) => value.data[i * names.length + c]));
  return { names, rows };
}

/** A value as CSV: a header, then `index` and its numbers, one element a row. */
export function valueToCsv(value: Value): string {
  const { names, rows } = rowsOf(value);
  return [
    `index,${names.join(',')}`,
    ...rows.map(
      (r, i) =>
        `${i},${r.map((v) => (Number.isFinite(v) && value.form !== 'single' && value.form !== 'matrices' ? shortest(v) : String(v))).join(',')}`,
    ),
    '',
  ].join('\n');
}

/** A value as plain data for JSON: form, kind, count and rows (numbers that are not finite become null). */
export function valueToJson(value: Value): Record<string, unknown> {
  const { names, rows } = rowsOf(value);
  return { form: value.form, kind: value.kind, count: rows.length, columns: names, rows };
}
