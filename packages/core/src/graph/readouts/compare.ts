import type { Table, TableColumn } from './table.ts';

/** Two tables side by side: for every column both have, what A has, what B has, and B − A. */
export interface Comparison extends Table {
  /** Rows in which anything differs. */
  readonly changed: Int32Array;
  /** Rows only one of the two has. */
  readonly unpaired: number;
}

/** Which of the three a column of a comparison is, in turn: A, B, difference. */
export const COMPARED = ['A', 'B', 'B − A'] as const;

/**
 * Pairs two tables row by row and column by column (by label and part; lone columns pair whatever they are called).
 * Two values that are both NaN count as the same.
 */
export function compareTables(a: Table, b: Table): Comparison {
  const rows = Math.min(a.rows, b.rows);
  const columns: TableColumn[] = [];
  const differs = new Uint8Array(rows);
  const alone = a.columns.length === b.columns.length && !a.columns.some((c) => partner(c, b));
  a.columns.forEach((left, i) => {
    const right = partner(left, b) ?? (alone ? b.columns[i] : undefined);
    if (!right) return;
    const difference = new Float64Array(rows);
    for (let r = 0; r < rows; r++) {
      const from = left.data[r * left.width + left.offset];
      const to = right.data[r * right.width + right.offset];
      difference[r] = to - from;
      if (from !== to && (from === from || to === to)) differs[r] = 1;
    }
    const label = left.label === right.label ? left.label : `${left.label} / ${right.label}`;
    columns.push(
      { ...left, label, part: `${left.part} A`.trim() },
      { ...right, label, part: `${right.part} B`.trim() },
      { ...left, label, part: `${left.part} B − A`.trim(), data: difference, width: 1, offset: 0 },
    );
  });
  return {
    rows,
    on: a.on,
    columns,
    changed: Int32Array.from(rowsOf(differs)),
    unpaired: Math.abs(a.rows - b.rows),
  };
}

const partner = (c: TableColumn, table: Table): TableColumn | undefined =>
  table.columns.find((d) => d.label === c.label && d.part === c.part);

function* rowsOf(flags: Uint8Array): Generator<number> {
  for (let r = 0; r < flags.length; r++) if (flags[r]) yield r;
}
