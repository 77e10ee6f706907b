import { ATTRIBUTE_WIDTH, type AttributePlace } from '../../geometry/attributes.ts';
import { elementCount, type Mesh } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import type { GraphRecord } from '../../project/schema.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { isGeometryKind } from '../node/kinds.ts';
import { outputKinds, resolveGraph, type PortRef } from '../network/resolve.ts';
import { chainReadout } from '../../chains/readout.ts';
import type { Chain } from '../../chains/chain.ts';
import type { Curves } from '../../curves/curves.ts';
import { copyPositions, type Copies } from '../../copies/copies.ts';
import { isMeshPlace, isNumbers, type ColumnPlace, type Value } from '../node/values.ts';

/** One column of numbers of a table. */
export interface TableColumn {
  readonly label: string;
  /** x, y, z of vectors; empty for numbers. */
  readonly part: string;
  readonly unit: string;
  readonly data: Readonly<Float32Array | Int32Array | Float64Array>;
  readonly width: number;
  readonly offset: number;
  readonly whole: boolean;
}

/** Rows of elements with everything known of them. */
export interface Table {
  readonly rows: number;
  readonly on: ColumnPlace | 'single';
  readonly columns: readonly TableColumn[];
  /** What each row is called, where they have names. */
  readonly names?: readonly string[];
}

/** The nearest output of geometry at or above a node along wires: what its columns most likely belong to. */
export function contextGeometry(catalogue: Catalogue, graph: GraphRecord, node: string): PortRef | undefined {
  const nodes = resolveGraph(catalogue, graph);
  const kinds = outputKinds(catalogue, graph);
  const queue = [node];
  for (let i = 0; i < queue.length; i++) {
    const at = nodes.get(queue[i]);
    const own = at?.outputs.find((o) => isGeometryKind(o.kind));
    if (own) return { node: queue[i], port: own.id };
    for (const w of at?.wires.values() ?? []) {
      if (isGeometryKind(kinds.get(`${w.from.node}.${w.from.port}`))) return w.from;
      if (!queue.includes(w.from.node)) queue.push(w.from.node);
    }
  }
  return undefined;
}

/**
 * The table of a value: a mesh lists positions and attributes of what it is asked for (`on`); a column lists the
 * positions and attributes of its own mesh where `context` is that mesh, then itself; a single is one row.
 */
export function makeTable(value: Value, label: string, unit: string, on: AttributePlace, context: Mesh | undefined): Table {
  if (value.form === 'geometry') {
    return { rows: elementCount(value.mesh.topology, on), on, columns: meshColumns(value.mesh, on) };
  }
  if (value.form === 'curves') return curvesTable(value.curves);
  if (value.form === 'copies') return copiesTable(value.copies);
  if (value.form === 'chain') return chainTable(value.chain);
  if (!isNumbers(value)) return { rows: 0, on: 'single', columns: [] };
  const width = value.kind === 'vector' ? 3 : value.kind === 'matrix' ? 16 : 1;
  const mine = parts(label, unit, value.data, width, value.kind === 'integer' || value.kind === 'toggle');
  if (value.form === 'single') return { rows: 1, on: 'single', columns: mine };
  const fits =
    context &&
    isMeshPlace(value.on) &&
    elementsId(context.topology, value.on) === value.owner &&
    value.data !== context.positions;
  return {
    rows: value.count,
    on: value.on,
    columns: fits ? [...meshColumns(context, value.on as AttributePlace), ...mine] : mine,
    ...(value.names && { names: value.names }),
  };
}

function curvesTable({ shape, positions, handles, roll, width }: Curves): Table {
  const half = (from: 0 | 3, label: string): TableColumn[] =>
    ['x', 'y', 'z'].map((part, axis) => ({ label, part, unit: 'm', data: handles, width: 6, offset: from + axis, whole: false }));
  const columns = [
    ...parts('position', 'm', positions, 3, false),
    ...parts('width', '', width, 1, false),
    ...parts('roll', 'rad', roll, 1, false),
    ...(shape.types.includes('bezier') ? [...half(0, 'handle back'), ...half(3, 'handle on')] : []),
  ];
  return { rows: shape.pointCount, on: 'point', columns };
}

function copiesTable(copies: Copies): Table {
  const columns = [
    ...parts('position', 'm', copyPositions(copies), 3, false),
    ...parts('source', '', copies.which, 1, true),
    ...copies.attributes.flatMap((a) =>
      parts(a.name, '', a.data, ATTRIBUTE_WIDTH[a.type], a.type === 'integer' || a.type === 'toggle'),
    ),
  ];
  return { rows: copies.count, on: 'copy', columns };
}

/** Joints: where they are, how they are turned as their parents see them (now, at rest, and by how much), how long their bones are. */
function chainTable(chain: Chain): Table {
  const { places, turns, restTurns, angles, rooms, lengths, restLengths } = chainReadout(chain);
  const columns = [
    ...parts('position', 'm', places, 3, false),
    ...parts('turn', '°', turns, 3, false),
    ...parts('turn at rest', '°', restTurns, 3, false),
    ...parts('turned from rest', '°', angles, 1, false),
    ...(chain.traits.some((t) => t.limit) ? parts('inside its limit', '°', rooms, 1, false) : []),
    ...parts('length', 'm', lengths, 1, false),
    ...parts('length at rest', 'm', restLengths, 1, false),
  ];
  return { rows: chain.count, on: 'joint', columns, names: chain.names };
}

function meshColumns(mesh: Mesh, on: AttributePlace): TableColumn[] {
  const { topology } = mesh;
  const columns: TableColumn[] = [];
  if (on === 'point') columns.push(...parts('position', 'm', mesh.positions, 3, false));
  if (on === 'corner') columns.push(...parts('point', '', topology.cornerPoints, 1, true));
  if (on === 'face')
    columns.push({
      label: 'first corner',
      part: '',
      unit: '',
      data: topology.faceStarts,
      width: 1,
      offset: 0,
      whole: true,
    });
  for (const a of mesh.attributes) {
    if (a.on === on)
      columns.push(...parts(a.name, '', a.data, ATTRIBUTE_WIDTH[a.type], a.type === 'integer' || a.type === 'toggle'));
  }
  return columns;
}

function parts(label: string, unit: string, data: TableColumn['data'], width: number, whole: boolean): TableColumn[] {
  const names =
    width === 1
      ? ['']
      : width <= 3
        ? ['x', 'y', 'z'].slice(0, width)
        : Array.from({ length: width }, (_, i) => `${(i % 4) + 1},${Math.floor(i / 4) + 1}`);
  return names.map((part, offset) => ({ label, part, unit, data, width, offset, whole }));
}

/** Numbers of rows `first` .. `first + count − 1` of a table (row by row), in an order of rows if one is given. */
export function tableRows(table: Table, first: number, count: number, order?: Readonly<Int32Array>): Float64Array {
  const size = Math.max(0, Math.min(count, (order?.length ?? table.rows) - first));
  const out = new Float64Array(size * table.columns.length);
  for (let r = 0, o = 0; r < size; r++) {
    const row = order ? order[first + r] : first + r;
    for (const c of table.columns) out[o++] = c.data[row * c.width + c.offset];
  }
  return out;
}

/**
 * The order of a table's rows by one column: ascending or descending, equal values by row, NaN last. A radix sort
 * over 32-bit keys, 8 bits at a time: four passes whatever the values.
 */
export function sortRows(table: Table, column: number, descending: boolean, among?: Readonly<Int32Array>): Int32Array {
  const c = table.columns[column];
  const n = among?.length ?? table.rows;
  const keys = new Uint32Array(table.rows);
  const float = new Float32Array(1);
  const bits = new Uint32Array(float.buffer);
  for (let r = 0; r < table.rows; r++) {
    const v = c.data[r * c.width + c.offset];
    float[0] = v;
    // Orders floats as unsigned integers: negative ones reversed, positive ones above them.
    let key = bits[0] & 0x80000000 ? ~bits[0] : bits[0] | 0x80000000;
    if (c.whole) key = v ^ 0x80000000;
    keys[r] = v !== v ? 0xffffffff : descending ? ~key : key;
  }
  let from = Int32Array.from({ length: n }, (_, i) => (among ? among[i] : i));
  let to = new Int32Array(n);
  const starts = new Int32Array(257);
  for (let shift = 0; shift < 32; shift += 8) {
    starts.fill(0);
    for (let i = 0; i < n; i++) starts[((keys[from[i]] >>> shift) & 255) + 1]++;
    for (let b = 0; b < 256; b++) starts[b + 1] += starts[b];
    for (let i = 0; i < n; i++) to[starts[(keys[from[i]] >>> shift) & 255]++] = from[i];
    [from, to] = [to, from];
  }
  return from;
}
