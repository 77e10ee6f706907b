import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  makeGrid,
  pointColumn,
  meshValue,
  withPositions,
  type Evaluation,
  type Mesh,
  type PortRef,
  type Value,
} from '@umberfish/core';
import type { CompareRequest, Side } from './protocol.ts';
import { sideValue, TableDesk } from './table-desk.ts';

const grid = makeGrid([2, 2], [3, 2]);
const count = grid.topology.pointCount;

/** An evaluation in which outputs have these values, by port. */
const evaluationOf = (values: Readonly<Record<string, Value>>): Evaluation =>
  ({ value: ({ port }: PortRef) => values[port] }) as unknown as Evaluation;

const column = (mesh: Mesh, numbers: readonly number[]) => pointColumn(mesh, 'number', Float32Array.from(numbers));
const ask = (port: string) => ({
  ...{ ref: { node: 'n', port }, label: port, unit: 'm', on: 'point' as const },
  context: { node: 'n', port: 'mesh' },
});

/** A desk on which a column of numbers lies, with the mesh it belongs to. */
function deskWith(numbers: readonly number[]) {
  const desk = new TableDesk();
  const header = desk.open(ask('values'), evaluationOf({ values: column(grid, numbers), mesh: meshValue(grid) }));
  const at = header?.columns.findIndex((c) => c.label === 'values') ?? -1;
  return { desk, header, at };
}

const numbersOf = (desk: TableDesk, at: number, sort: { column: number; descending: boolean } | null) => {
  const rows = desk.rows(0, count, sort);
  const width = (rows?.numbers.length ?? 0) / count;
  return Array.from({ length: count }, (_, r) => rows?.numbers[r * width + at] ?? NaN);
};

describe('the table that is looked at', () => {
  test('rows come by windows, in their order or sorted, and elements are found again in it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ noNaN: true, min: -8, max: 8 }), { minLength: count, maxLength: count }),
        fc.boolean(),
        fc.nat(count - 1),
        (numbers, descending, first) => {
          const { desk, at } = deskWith(numbers);
          expect(numbersOf(desk, at, null)).toEqual(numbers);
          const sort = { column: at, descending };
          const sorted = [...numbers].sort((a, b) => (descending ? b - a : a - b));
          expect(numbersOf(desk, at, sort).map((v) => v + 0)).toEqual(sorted.map((v) => v + 0));
          const window = desk.rows(first, 3, sort);
          window?.elements.forEach((element, i) => expect(desk.rowOf(element, sort)).toBe(first + i));
          expect(window?.elements.length).toBe(Math.min(3, count - first));
        },
      ),
      { numRuns: 60 },
    );
  });

  test('elements whose value lies within a range are found; what is not a number never', () => {
    const numbers = Array.from({ length: count }, (_, i) => (i === 4 ? NaN : i));
    const { desk, at } = deskWith(numbers);
    expect(desk.within(at, 2, 5)).toEqual([2, 3, 5]);
    expect(desk.within(99, 2, 5)).toEqual([]);
  });

  test('a new table has a new version, so that an order of the old one is not used; nothing asked is nothing', async () => {
    const { desk, header, at } = deskWith(Array.from({ length: count }, (_, i) => i));
    const sort = { column: at, descending: true };
    expect(desk.rows(0, 1, sort)?.elements[0]).toBe(count - 1);
    const turned = evaluationOf({
      values: column(
        grid,
        Array.from({ length: count }, (_, i) => -i),
      ),
      mesh: meshValue(grid),
    });
    const next = desk.open(ask('values'), turned);
    expect(next?.version).not.toBe(header?.version);
    expect(desk.rows(0, 1, sort)?.elements[0]).toBe(0);
    const csv = await desk.csv(sort);
    expect(csv?.trim().split(/\r?\n/)).toHaveLength(count + 1);
    expect(desk.open(null, turned)).toBeNull();
    expect([desk.rows(0, 1, null), await desk.csv(null), desk.within(0, 0, 1)]).toEqual([null, null, []]);
  });

  test('two sides are laid side by side, only what changed where that is asked, and it is said what is missing', () => {
    const moved = withPositions(
      grid,
      grid.positions.map((v, i) => (i === 3 * 5 + 1 ? v + 2 : v)),
    );
    const side = (port: string, rest = false): Side => ({
      ...{ ref: { node: 'n', port }, label: port, unit: 'm', frame: null, rest, context: null },
    });
    const evaluation = evaluationOf({ a: meshValue(grid), b: meshValue(moved) });
    const request: CompareRequest = { a: side('a'), b: side('b'), on: 'point', onlyChanged: true, needles: false };
    const desk = new TableDesk();
    const header = desk.compare(request, sideValue(request.a, evaluation), sideValue(request.b, evaluation));
    expect([header?.rows, header?.changed, header?.note]).toEqual([1, 1, undefined]);
    expect(desk.rows(0, 5, null)?.elements).toEqual(Int32Array.of(5));
    const all = desk.compare(
      { ...request, onlyChanged: false },
      sideValue(request.a, evaluation),
      sideValue(request.b, evaluation),
    );
    expect(all?.rows).toBe(count);
    expect(sideValue(side('a', true), evaluation)?.hasRest).toBe(false);
    const asked = { ...request, a: side('a', true) };
    expect(desk.compare(asked, sideValue(asked.a, evaluation), sideValue(asked.b, evaluation))?.note).toContain('Remember Rest');
    expect(desk.compare(request, undefined, sideValue(request.b, evaluation))).toBeNull();
  });
});
