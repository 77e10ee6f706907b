import { Vector3 } from 'three';
import {
  curvesOf,
  identity,
  invert,
  memoize,
  placeOfPart,
  tracksOf,
  transformPoint,
  type CurvePick,
  type CurveRecord,
  type Matrix,
  type PointPart,
  type Vec3,
} from '@umberfish/core';
import type { View } from './view.ts';

/** Samples of a drawn curve as line segments in its own space. */
export const drawnLines = memoize((curve: CurveRecord): Float32Array => {
  const lines = tracksOf(curvesOf(curve)).flatMap((t) =>
    Array.from({ length: Math.max(0, t.count - 1) }, (_, i) => Array.from(t.positions.subarray(i * 3, i * 3 + 6))),
  );
  return Float32Array.from(lines.flat());
});

/** Lines from points to their handles, of one point or of all. */
export function handleLines(curve: CurveRecord, only: CurvePick | null): Float32Array {
  const out: number[] = [];
  curve.splines.forEach((s, spline) =>
    s.points.forEach((p, point) => {
      if (s.type !== 'bezier' || only?.spline !== spline || only.point !== point) return;
      for (const part of partsShown(curve, { spline, point, part: 'at' }))
        if (part !== 'at') out.push(...p.at, ...(placeOfPart(s, point, part) as Vec3));
    }),
  );
  return Float32Array.from(out);
}

/** A B-spline's points are not on it: lines through them show what belongs to what. */
export function controlLines(curve: CurveRecord): Float32Array {
  const out: number[] = [];
  for (const s of curve.splines) {
    if (s.type !== 'b-spline') continue;
    const { points } = s;
    for (let i = 0; i + 1 < points.length; i++) out.push(...points[i].at, ...points[i + 1].at);
    if (s.closed && points.length > 2) out.push(...(points.at(-1)?.at ?? []), ...points[0].at);
  }
  return Float32Array.from(out);
}

/** What of a point can be taken hold of: its handles only while it is picked. */
function partsShown(curve: CurveRecord, pick: CurvePick): PointPart[] {
  const s = curve.splines[pick.spline];
  if (s?.type !== 'bezier') return ['at'];
  const first = pick.point === 0 && !s.closed;
  const last = pick.point === s.points.length - 1 && !s.closed;
  return ['at', ...(first ? [] : (['in'] as const)), ...(last ? [] : (['out'] as const))];
}

/** Every place that can be taken hold of, in the curve's own space. */
export function holds(curve: CurveRecord, picked: CurvePick | null): { pick: CurvePick; at: Vec3 }[] {
  return curve.splines.flatMap((s, spline) =>
    s.points.flatMap((_, point) => {
      const open = picked?.spline === spline && picked.point === point;
      const parts = open ? partsShown(curve, { spline, point, part: 'at' }) : (['at'] as const);
      return parts.map((part) => ({
        pick: { spline, point, part },
        at: placeOfPart(s, point, part) as Vec3,
      }));
    }),
  );
}

/** Where a place in the world is on the canvas, in pixels from its corner; undefined where it is behind the eye. */
export function onCanvas(view: Pick<View, 'camera'>, box: DOMRect, at: Vec3): readonly [number, number] | undefined {
  const p = new Vector3(...at).project(view.camera);
  return p.z > 1 ? undefined : [((p.x + 1) / 2) * box.width, ((1 - p.y) / 2) * box.height];
}

/** The hold under the pointer (pixels on the canvas), handles before points. */
export function holdAt(
  curve: CurveRecord,
  matrix: Matrix,
  picked: CurvePick | null,
  view: View,
  box: DOMRect,
  x: number,
  y: number,
): CurvePick | null {
  let best: CurvePick | null = null;
  let least = 11;
  for (const { pick, at } of holds(curve, picked)) {
    const p = onCanvas(view, box, transformPoint(matrix, at));
    const d = p ? Math.hypot(p[0] - x, p[1] - y) : Infinity;
    if (d < least) [least, best] = [d, pick];
  }
  return best;
}

/** Whether the pointer is on the line of a curve. */
export const isOnCurve = (curve: CurveRecord, matrix: Matrix, view: View, box: DOMRect, x: number, y: number): boolean =>
  awayFromLines(drawnLines(curve), matrix, view, box, x, y, 6) < 6;

/** How far a place on the canvas is from lines (pixels), what is behind the eye left out; it stops where that is less than `near`. */
export function awayFromLines(
  lines: ArrayLike<number>,
  matrix: Matrix,
  view: Pick<View, 'camera'>,
  box: DOMRect,
  x: number,
  y: number,
  near: number,
): number {
  let least = Infinity;
  for (let i = 0; i < lines.length && least >= near; i += 6) {
    const a = onCanvas(view, box, transformPoint(matrix, [lines[i], lines[i + 1], lines[i + 2]]));
    const b = onCanvas(view, box, transformPoint(matrix, [lines[i + 3], lines[i + 4], lines[i + 5]]));
    if (!a || !b) continue;
    const [ax, ay, bx, by] = [...a, ...b];
    const l = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = l > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l)) : 0;
    least = Math.min(least, Math.hypot(ax + (bx - ax) * t - x, ay + (by - ay) * t - y));
  }
  return least;
}

/** Places are kept to the tenth of a millimetre. */
const tidy = (v: Vec3): Vec3 => [0, 1, 2].map((k) => Number(v[k].toFixed(4)) + 0) as unknown as Vec3;

/** A place in the world brought to the grid of 10 cm, if that is what snapping asks for. */
export const snapped = (at: Vec3, snap: 'none' | 'grid' | 'surface'): Vec3 =>
  snap === 'grid' ? tidy([0, 1, 2].map((k) => Math.round(at[k] * 10) / 10) as unknown as Vec3) : at;

/** A place in the world in an object's own space; undefined when its matrix has no inverse. */
export function toOwn(matrix: Matrix, at: Vec3): Vec3 | undefined {
  const inverse = identity();
  return invert(inverse, matrix) ? tidy(transformPoint(inverse, at)) : undefined;
}
