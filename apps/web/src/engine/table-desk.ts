import { transfer } from 'comlink';
import {
  counted,
  compareTables,
  findAttribute,
  makeTable,
  sortRows,
  tableRows,
  withPositions,
  type Evaluation,
  type Mesh,
  type PortRef,
  type Table,
  type Value,
} from '@umberfish/core';
import type { CompareRequest, Side, TableHeader, TableRequest } from './protocol.ts';

export type Sort = { column: number; descending: boolean } | null;

/** The table that is looked at: made with each picture, then read a window of rows at a time. */
export class TableDesk {
  private table: Table | null = null;
  /** The rows that are shown, when they are not all. */
  private among: Int32Array | undefined;
  private version = 0;
  private order: { column: number; descending: boolean; rows: Int32Array; version: number } | null = null;

  /** Lays out the table of one output. */
  open(asked: TableRequest | null, evaluation: Evaluation): TableHeader | null {
    const value = asked ? evaluation.value(asked.ref) : undefined;
    if (!asked || !value) {
      this.table = null;
      return null;
    }
    return this.lay(makeTable(value, asked.label, asked.unit, asked.on, contextOf(asked.context, evaluation)));
  }

  /** Lays out two outputs side by side. */
  compare(asked: CompareRequest, a: SideValue | undefined, b: SideValue | undefined): TableHeader | null {
    if (!a || !b) {
      this.table = null;
      return null;
    }
    const tableOf = (side: Side, { value, context }: SideValue) => makeTable(value, side.label, side.unit, asked.on, context);
    const compared = compareTables(tableOf(asked.a, a), tableOf(asked.b, b));
    const notes = [
      compared.columns.length === 0 ? 'A and B have no values of the same name to compare.' : '',
      compared.unpaired > 0 ? `Left out: ${counted(compared.unpaired, 'row')} only in one of them.` : '',
      (asked.a.rest && !a.hasRest) || (asked.b.rest && !b.hasRest)
        ? 'The mesh has no restPosition: add Remember Rest before what moves it.'
        : '',
    ];
    const header = this.lay(compared, asked.onlyChanged ? compared.changed : undefined);
    return {
      ...header,
      changed: compared.changed.length,
      note: notes.filter(Boolean).join(' ') || undefined,
    };
  }

  /** Numbers of some rows, and which elements they are. */
  rows(first: number, count: number, sort: Sort): { numbers: Float64Array; elements: Int32Array } | null {
    const { table } = this;
    if (!table) return null;
    const order = this.ordered(sort);
    const numbers = tableRows(table, first, count, order);
    const size = table.columns.length > 0 ? numbers.length / table.columns.length : 0;
    const elements = Int32Array.from({ length: size }, (_, i) => (order ? order[first + i] : first + i));
    return transfer({ numbers, elements }, [numbers.buffer, elements.buffer]);
  }

  /** The whole table as CSV, as it is shown; null when there is none. */
  async csv(sort: Sort): Promise<string | null> {
    const { tableToCsv } = await import('@umberfish/formats');
    return this.table && tableToCsv(this.table, this.ordered(sort));
  }

  /** The row in which an element stands, −1 when it is not shown. */
  rowOf(element: number, sort: Sort): number {
    const order = this.ordered(sort);
    return order ? order.indexOf(element) : element;
  }

  /** Elements whose value in a column lies within a range. */
  within(column: number, from: number, to: number): number[] {
    const c = this.table?.columns[column];
    if (!this.table || !c) return [];
    const found: number[] = [];
    for (let r = 0; r < this.table.rows; r++) {
      const v = c.data[r * c.width + c.offset];
      if (v >= from && v <= to) found.push(r);
    }
    return found;
  }

  private lay(table: Table, among?: Int32Array): TableHeader {
    this.table = table;
    this.among = among;
    this.version++;
    const columns = table.columns.map(({ label, part, unit, whole }) => ({ label, part, unit, whole }));
    return {
      rows: among?.length ?? table.rows,
      on: table.on,
      columns,
      version: this.version,
      ...(table.names ? { names: table.names } : {}),
    };
  }

  private ordered(sort: Sort): Int32Array | undefined {
    const { table, version } = this;
    if (!table || !sort || sort.column >= table.columns.length) return this.among;
    const { column, descending } = sort;
    const known = this.order;
    if (!known || known.column !== column || known.descending !== descending || known.version !== version)
      this.order = { column, descending, rows: sortRows(table, column, descending, this.among), version };
    return this.order?.rows;
  }
}

/** What one side of a comparison is, with the mesh it belongs to. */
export interface SideValue {
  readonly value: Value;
  readonly context: Mesh | undefined;
  readonly hasRest: boolean;
}

/** Reads one side from an evaluation at its frame. */
export function sideValue(side: Side, evaluation: Evaluation): SideValue | undefined {
  const value = evaluation.value(side.ref);
  if (!value) return undefined;
  const context = value.form === 'geometry' ? value.mesh : contextOf(side.context, evaluation);
  if (!side.rest || value.form !== 'geometry') return { value, context, hasRest: !side.rest };
  const rest = findAttribute(value.mesh, 'restPosition', 'point')?.data;
  if (!(rest instanceof Float32Array)) return { value, context, hasRest: false };
  const mesh = withPositions(value.mesh, rest);
  return { value: { ...value, mesh }, context: mesh, hasRest: true };
}

function contextOf(ref: PortRef | null, evaluation: Evaluation): Mesh | undefined {
  const found = ref ? evaluation.value(ref) : undefined;
  return found?.form === 'geometry' ? found.mesh : undefined;
}
