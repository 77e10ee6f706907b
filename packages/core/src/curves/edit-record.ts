import type { ControlPoint, CurveRecord, SplineRecord } from '../project/fields.ts';
import type { Vec3 } from '../maths/vector.ts';
import { curvesOf, smoothHandles } from './curves.ts';

/** Edits of drawn curves: pure functions from a record to the next. Places are in the curve's own space. */

/** A control point without handles. */
export const controlPoint = (at: Vec3): ControlPoint => ({
  at,
  in: [0, 0, 0],
  out: [0, 0, 0],
  roll: 0,
  width: 1,
});

/** The part of a control point that is taken hold of: itself, or one of its handles. */
export type PointPart = 'at' | 'in' | 'out';

/** Where on a curve one has taken hold. */
export interface CurvePick {
  readonly spline: number;
  readonly point: number;
  readonly part: PointPart;
}

/** A curve with one spline changed. */
export const withSpline = (curve: CurveRecord, at: number, change: (s: SplineRecord) => SplineRecord): CurveRecord => ({
  splines: curve.splines.map((s, i) => (i === at ? change(s) : s)),
});

/** Handles of a spline made smooth: of all its points, or only of some. */
export function smoothed(spline: SplineRecord, only?: (point: number) => boolean): SplineRecord {
  const { handles } = smoothHandles(curvesOf({ splines: [spline] }), only);
  const h = (i: number, from: number): Vec3 => [handles[i * 6 + from], handles[i * 6 + from + 1], handles[i * 6 + from + 2]];
  return {
    ...spline,
    points: spline.points.map((p, i) => (only && !only(i) ? p : { ...p, in: h(i, 0), out: h(i, 3) })),
  };
}

/** A point added at the end; the handles there are made smooth. */
export function appendPoint(spline: SplineRecord, at: Vec3): SplineRecord {
  const last = spline.points.at(-1);
  const added = { ...controlPoint(at), roll: last?.roll ?? 0, width: last?.width ?? 1 };
  const points = [...spline.points, added];
  return smoothed({ ...spline, points }, (i) => i >= points.length - 2);
}

/**
 * A point put half way between one and the next; on a Bézier spline by de Casteljau's rule, so that the curve stays as
 * it was. After the last point of an open spline it goes on straight.
 */
export function insertPoint(spline: SplineRecord, after: number): SplineRecord {
  const { points, closed, type } = spline;
  const a = points[after];
  const b = points[after + 1] ?? (closed ? points[0] : undefined);
  if (!a) return spline;
  if (!b) {
    const before = points[after - 1];
    const step = before ? minus(a.at, before.at) : ([0.5, 0, 0] as Vec3);
    return appendPoint(spline, plus(a.at, step));
  }
  const half = (p: Vec3, q: Vec3): Vec3 => [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2];
  const made = {
    ...controlPoint(half(a.at, b.at)),
    roll: (a.roll + b.roll) / 2,
    width: (a.width + b.width) / 2,
  };
  const next = [...points];
  if (type === 'bezier') {
    const [p1, p2] = [plus(a.at, a.out), plus(b.at, b.in)];
    const [q0, q1, q2] = [half(a.at, p1), half(p1, p2), half(p2, b.at)];
    const [r0, r1] = [half(q0, q1), half(q1, q2)];
    const at = half(r0, r1);
    Object.assign(made, { at, in: minus(r0, at), out: minus(r1, at) });
    next[after] = { ...a, out: minus(q0, a.at) };
    next[(after + 1) % points.length] = { ...b, in: minus(q2, b.at) };
  }
  next.splice(after + 1, 0, made);
  return { ...spline, points: next };
}

export const removePoint = (spline: SplineRecord, at: number): SplineRecord => ({
  ...spline,
  points: spline.points.filter((_, i) => i !== at),
});

/** A point or a handle put somewhere. A handle turns the other one with it, which keeps its length; unless `free`. */
export function movePart(spline: SplineRecord, point: number, part: PointPart, to: Vec3, free = false): SplineRecord {
  const points = spline.points.map((p, i) => {
    if (i !== point) return p;
    if (part === 'at') return { ...p, at: to };
    const handle = minus(to, p.at);
    const other = part === 'in' ? 'out' : 'in';
    const length = Math.hypot(...p[other]);
    const mine = Math.hypot(...handle);
    const turned: Vec3 = [-handle[0] * (length / mine), -handle[1] * (length / mine), -handle[2] * (length / mine)];
    return { ...p, [part]: handle, ...(free || !(mine > 0) ? {} : { [other]: turned }) };
  });
  return { ...spline, points };
}

/** Where a part of a point is. */
export function placeOfPart(spline: SplineRecord | undefined, point: number, part: PointPart): Vec3 | undefined {
  const p = spline?.points[point];
  return p && (part === 'at' ? p.at : plus(p.at, p[part]));
}

const plus = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
