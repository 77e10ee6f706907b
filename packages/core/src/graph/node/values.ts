import type { AttributePlace, AttributeRole } from '../../geometry/attributes.ts';
import type { Copies } from '../../copies/copies.ts';
import type { Chain } from '../../chains/chain.ts';
import type { Curves } from '../../curves/curves.ts';
import type { Falloff } from '../../falloffs/falloff.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import type { Matrix } from '../../maths/matrix.ts';
import type { Driven } from '../../scene/world.ts';
import type { Vec3 } from '../../maths/vector.ts';

/** Kinds of things that can stand in a column. */
export type ElementKind = 'number' | 'integer' | 'toggle' | 'vector';

/** Kinds of things on a wire. */
export type ValueKind = ElementKind | 'matrix' | 'mesh' | 'curves' | 'copies' | 'falloff' | 'driven' | 'chain';

/** What the elements of a column are: those of a mesh, the points of curves, copies, or the joints of a chain. */
export type ColumnPlace = AttributePlace | 'copy' | 'joint';

/** Whether elements are those of a mesh, or points of curves. */
export const isMeshPlace = (on: ColumnPlace): on is AttributePlace => on !== 'copy' && on !== 'joint';

/** Numbers per element. */
export const KIND_WIDTH: Record<ElementKind, 1 | 3> = { number: 1, integer: 1, toggle: 1, vector: 3 };

/** One value, used for all elements it meets. `data` holds 1, 3 or 16 numbers. */
export interface Single {
  readonly form: 'single';
  readonly kind: ElementKind | 'matrix';
  readonly data: Readonly<Float64Array>;
}

/**
 * Many values, one per element of a geometry (DECISIONS 14, 15). Numbers and vectors are Float32, integers and
 * toggles Int32. `owner` is the topology the elements belong to. A column of one stays a column.
 */
export interface Column {
  readonly form: 'column';
  readonly kind: ElementKind;
  readonly count: number;
  readonly data: Readonly<Float32Array | Int32Array>;
  readonly on: ColumnPlace;
  readonly owner: string;
  readonly role: AttributeRole;
  /** What each element is called, where they have names. */
  readonly names?: readonly string[];
}

/** A whole geometry. */
export interface GeometryValue {
  readonly form: 'geometry';
  readonly kind: 'mesh';
  readonly mesh: Mesh;
}

/** Splines over control points. */
export interface CurvesValue {
  readonly form: 'curves';
  readonly kind: 'curves';
  readonly curves: Curves;
}

/** Meshes shown many times. */
export interface CopiesValue {
  readonly form: 'copies';
  readonly kind: 'copies';
  readonly copies: Copies;
}

/** A function from places to weights. */
export interface FalloffValue {
  readonly form: 'falloff';
  readonly kind: 'falloff';
  readonly falloff: Falloff;
}

/** Many matrices, one per copy or object: sixteen numbers each, column by column. */
export interface MatricesValue {
  readonly form: 'matrices';
  readonly kind: 'matrix';
  readonly count: number;
  readonly data: Readonly<Float64Array>;
  /** What they belong to: columns with the same owner go together. */
  readonly owner: string;
}

/** What a node puts into objects, by object: carriers, and numbers of channels. */
export interface DrivenValue {
  readonly form: 'driven';
  readonly kind: 'driven';
  readonly driven: ReadonlyMap<string, Driven>;
}

/** Joints with where they rest and where they are. */
export interface ChainValue {
  readonly form: 'chain';
  readonly kind: 'chain';
  readonly chain: Chain;
}

export type Value =
  Single | Column | MatricesValue | GeometryValue | CurvesValue | CopiesValue | FalloffValue | DrivenValue | ChainValue;

/** Values that are numbers: what stands in tables, lanes and statistics. */
export type NumberValue = Single | Column;

export const isNumbers = (v: Value): v is NumberValue => v.form === 'single' || v.form === 'column';

export const numberValue = (v: number): Single => ({
  form: 'single',
  kind: 'number',
  data: Float64Array.of(v),
});
export const integerValue = (v: number): Single => ({
  form: 'single',
  kind: 'integer',
  data: Float64Array.of(v),
});
export const toggleValue = (v: boolean): Single => ({
  form: 'single',
  kind: 'toggle',
  data: Float64Array.of(v ? 1 : 0),
});
export const vectorValue = (v: Vec3): Single => ({
  form: 'single',
  kind: 'vector',
  data: Float64Array.of(v[0], v[1], v[2]),
});
export const matrixValue = (m: Readonly<Matrix>): Single => ({ form: 'single', kind: 'matrix', data: m });
export const matricesValue = (data: Readonly<Float64Array>, owner: string): MatricesValue => ({
  form: 'matrices',
  kind: 'matrix',
  count: data.length / 16,
  data,
  owner,
});
export const drivenValue = (driven: ReadonlyMap<string, Driven>): DrivenValue => ({
  form: 'driven',
  kind: 'driven',
  driven,
});
export const meshValue = (mesh: Mesh): GeometryValue => ({ form: 'geometry', kind: 'mesh', mesh });

export const curvesValue = (curves: Curves): CurvesValue => ({ form: 'curves', kind: 'curves', curves });
export const copiesValue = (copies: Copies): CopiesValue => ({ form: 'copies', kind: 'copies', copies });
export const falloffValue = (falloff: Falloff): FalloffValue => ({
  form: 'falloff',
  kind: 'falloff',
  falloff,
});

export const chainValue = (chain: Chain): ChainValue => ({ form: 'chain', kind: 'chain', chain });

/** A column with one entry per joint. */
export const jointColumn = (
  chain: Chain,
  kind: ElementKind,
  data: Readonly<Float32Array | Int32Array>,
  role: AttributeRole = 'plain',
): Column => ({ form: 'column', kind, count: chain.count, data, on: 'joint', owner: chain.id, role });

/** A column with one entry per copy. */
export function copyColumn(
  copies: Copies,
  kind: ElementKind,
  data: Readonly<Float32Array | Int32Array>,
  role: AttributeRole = 'plain',
): Column {
  return { form: 'column', kind, count: copies.count, data, on: 'copy', owner: copies.id, role };
}

/** A column over the control points of curves. */
export function curveColumn(
  curves: Curves,
  kind: ElementKind,
  data: Readonly<Float32Array | Int32Array>,
  role: AttributeRole = 'plain',
): Column {
  const { id, pointCount } = curves.shape;
  return { form: 'column', kind, count: pointCount, data, on: 'point', owner: id, role };
}

/** A column over the points of a mesh. */
export function pointColumn(
  mesh: Mesh,
  kind: ElementKind,
  data: Readonly<Float32Array | Int32Array>,
  role: AttributeRole = 'plain',
): Column {
  return {
    form: 'column',
    kind,
    count: mesh.topology.pointCount,
    data,
    on: 'point',
    owner: elementsId(mesh.topology, 'point'),
    role,
  };
}

/** A result with one entry for each of an input: a column on the same elements, or a single for a single. */
export const valuesLike = (
  input: NumberValue,
  kind: ElementKind,
  data: Float32Array | Int32Array,
  role: AttributeRole = 'plain',
): NumberValue =>
  input.form === 'column' ? { ...input, kind, data, role } : { form: 'single', kind, data: Float64Array.from(data) };
