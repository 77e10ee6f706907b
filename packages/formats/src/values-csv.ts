import { pointsOf, type MatricesValue, type NumberValue, type Table, type Value } from '@umberfish/core';
import { writeCsv } from './csv.ts';
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

/** A value as CSV: a header, then `index` and its numbers, one element a row. Numbers kept as Float32 are the shortest that read back to the same. */
export function valueToCsv(value: Value): string {
  const { names, rows } = rowsOf(value);
  const isWhole = value.form === 'single' || value.form === 'matrices';
  const cell = (n: number): number => (isWhole || !Number.isFinite(n) ? n : Number(shortest(n)));
  return writeCsv(
    ['index', ...names],
    rows.map((r, i) => [i, ...r.map(cell)]),
  );
}

/** A whole table as CSV, in an order (or choice) of rows if one is given: a header, then the element and its numbers. */
export function tableToCsv(table: Table, order?: Readonly<Int32Array>): string {
  const names = table.columns.map((c) => (c.part ? `${c.label}.${c.part}` : c.label));
  const rowAt = (r: number): number[] => {
    const row = order ? order[r] : r;
    const numbers = table.columns.map((c) => {
      const n = c.data[row * c.width + c.offset];
      return c.whole || c.data instanceof Float64Array ? n : Number(n.toPrecision(9));
    });
    return [row, ...numbers];
  };
  return writeCsv(
    [table.on === 'single' ? 'index' : table.on, ...names],
    Array.from({ length: order?.length ?? table.rows }, (_, r) => rowAt(r)),
  );
}

/** A value as plain data for JSON: form, kind, count and rows (numbers that are not finite become null). */
export function valueToJson(value: Value): Record<string, unknown> {
  const { names, rows } = rowsOf(value);
  return { form: value.form, kind: value.kind, count: rows.length, columns: names, rows };
}
