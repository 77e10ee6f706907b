import { hashArrays, hashText } from '../hash.ts';
import { isMirroring, transformPacked, type Matrix } from '../maths/matrix.ts';
import type { CurveRecord } from '../project/fields.ts';

/** How a spline runs between its points: straight, by handles, or drawn towards them. */
export const SPLINE_TYPES = ['poly', 'bezier', 'b-spline'] as const;
export type SplineType = (typeof SPLINE_TYPES)[number];

/** How many splines there are and how they run; shared by every deformation of them. */
export interface CurveShape {
  /** Content hash: equal shapes have equal ids. */
  readonly id: string;
  readonly pointCount: number;
  readonly splineCount: number;
  /** First point of each spline, splineCount + 1 numbers. */
  readonly starts: Readonly<Int32Array>;
  readonly types: readonly SplineType[];
  readonly closed: readonly boolean[];
}

/**
 * Several splines over control points. Immutable, like a mesh.
 * `positions`: xyz × points, metres. `handles`: six numbers a point, offsets of its handle towards the point before and
 * of the one towards the next; only Bézier splines use them. `roll`: radians. `width`: factor, 1 is plain.
 */
export interface Curves {
  readonly kind: 'curves';
  readonly shape: CurveShape;
  readonly positions: Readonly<Float32Array>;
  readonly handles: Readonly<Float32Array>;
  readonly roll: Readonly<Float32Array>;
  readonly width: Readonly<Float32Array>;
}

/** One spline as `makeCurves` takes it; what is left out is 0 (handles, roll) or 1 (width). */
export interface SplineParts {
  readonly type: SplineType;
  readonly closed: boolean;
  readonly positions: ArrayLike<number>;
  readonly handles?: ArrayLike<number>;
  readonly roll?: ArrayLike<number>;
  readonly width?: ArrayLike<number>;
}

/** Builds curves from splines, copying their numbers. */
export function makeCurves(splines: readonly SplineParts[]): Curves {
  const starts = new Int32Array(splines.length + 1);
  splines.forEach((s, i) => (starts[i + 1] = starts[i] + s.positions.length / 3));
  const count = starts[splines.length];
  const positions = new Float32Array(count * 3);
  const handles = new Float32Array(count * 6);
  const roll = new Float32Array(count);
  const width = new Float32Array(count).fill(1);
  splines.forEach((s, i) => {
    positions.set(s.positions, starts[i] * 3);
    if (s.handles) handles.set(s.handles, starts[i] * 6);
    if (s.roll) roll.set(s.roll, starts[i]);
    if (s.width) width.set(s.width, starts[i]);
  });
  const shape = makeShape(
    starts,
    splines.map((s) => s.type),
    splines.map((s) => s.closed),
  );
  return { kind: 'curves', shape, positions, handles, roll, width };
}

/** A shape from where splines start (one number more than there are) and how each runs. */
export function makeShape(starts: Int32Array, types: readonly SplineType[], closed: readonly boolean[]): CurveShape {
  const id = `curves-${hashArrays(starts)}${hashText(types.map((t, i) => `${t}${closed[i]}`).join())}`;
  return { id, pointCount: starts[starts.length - 1], splineCount: types.length, starts, types, closed };
}

/** Curves with no points. */
export const emptyCurves = (): Curves => makeCurves([]);

/** The same curves, with one or more splines running otherwise. */
export const withShape = (curves: Curves, types: readonly SplineType[], closed: readonly boolean[]): Curves => ({
  ...curves,
  shape: makeShape(curves.shape.starts as Int32Array, types, closed),
});

/** A curve object's record as curves in its own space. Roll is in degrees in the record. */
export function curvesOf(record: CurveRecord): Curves {
  return makeCurves(
    record.splines.map((s) => ({
      type: s.type,
      closed: s.closed,
      positions: s.points.flatMap((p) => p.at),
      handles: s.points.flatMap((p) => [...p.in, ...p.out]),
      roll: s.points.map((p) => (p.roll * Math.PI) / 180),
      width: s.points.map((p) => p.width),
    })),
  );
}

/** The curves taken through a matrix; width stays, roll turns the other way where the matrix mirrors. */
export function transformCurves(curves: Curves, m: Readonly<Matrix>): Curves {
  return {
    ...curves,
    positions: transformPacked(new Float32Array(curves.positions.length), curves.positions, m, 'position'),
    handles: transformPacked(new Float32Array(curves.handles.length), curves.handles, m, 'direction'),
    roll: isMirroring(m) ? curves.roll.map((r) => -r) : curves.roll,
  };
}

/**
 * Handles that make a Bézier spline run smoothly through its points: along the line between both neighbours, a third of
 * the way to each (as in Catmull and Rom 1974). The ends of an open spline point at their neighbour's handle.
 * @param only change these points; all when left out.
 */
export function smoothHandles(curves: Curves, only?: (point: number) => boolean): Curves {
  const { starts, closed, splineCount } = curves.shape;
  const p = curves.positions;
  const handles = Float32Array.from(curves.handles);
  const length = (a: number, b: number) =>
    Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
  for (let s = 0; s < splineCount; s++) {
    const [first, end] = [starts[s], starts[s + 1]];
    const count = end - first;
    const near = (i: number) => (closed[s] ? first + ((i - first + count) % count) : Math.min(end - 1, Math.max(first, i)));
    const isInner = (i: number) => closed[s] || (i > first && i < end - 1);
    for (let i = first; i < end; i++) {
      if (!isInner(i) || (only && !only(i))) continue;
      const [a, b] = [near(i - 1), near(i + 1)];
      const span = length(a, b);
      for (let axis = 0; axis < 3; axis++) {
        const along = span > 0 ? (p[b * 3 + axis] - p[a * 3 + axis]) / span : 0;
        handles[i * 6 + axis] = (-along * length(a, i)) / 3;
        handles[i * 6 + 3 + axis] = (along * length(i, b)) / 3;
      }
    }
    for (let i = first; i < end; i++) {
      if (isInner(i) || (only && !only(i))) continue;
      const other = i === first ? near(i + 1) : near(i - 1);
      const theirs = i === first ? 0 : 3;
      const inner = isInner(other);
      for (let axis = 0; axis < 3; axis++) {
        const towards = p[other * 3 + axis] - p[i * 3 + axis];
        const h = inner ? (towards + handles[other * 6 + theirs + axis]) / 2 : towards / 3;
        handles[i * 6 + 3 + axis] = i === first ? h : -h;
        handles[i * 6 + axis] = i === first ? -h : h;
      }
    }
  }
  return { ...curves, handles };
}

/** The same curves run the other way: points in reverse, handles swapped, roll turned round. */
export function reverseCurves(curves: Curves): Curves {
  const { starts, splineCount, pointCount } = curves.shape;
  const from = new Int32Array(pointCount);
  for (let s = 0; s < splineCount; s++)
    for (let i = starts[s]; i < starts[s + 1]; i++) from[i] = starts[s + 1] - 1 - (i - starts[s]);
  const handles = new Float32Array(curves.handles.length);
  const positions = new Float32Array(curves.positions.length);
  for (let i = 0; i < pointCount; i++) {
    for (let axis = 0; axis < 3; axis++) {
      positions[i * 3 + axis] = curves.positions[from[i] * 3 + axis];
      handles[i * 6 + axis] = curves.handles[from[i] * 6 + 3 + axis];
      handles[i * 6 + 3 + axis] = curves.handles[from[i] * 6 + axis];
    }
  }
  return {
    ...curves,
    positions,
    handles,
    roll: Float32Array.from(from, (i) => -curves.roll[i]),
    width: Float32Array.from(from, (i) => curves.width[i]),
  };
}

/** Several curves as one, splines in the order given. */
export function joinCurves(all: readonly Curves[]): Curves {
  return makeCurves(
    all.flatMap((c) =>
      c.shape.types.map((type, s) => {
        const [a, b] = [c.shape.starts[s], c.shape.starts[s + 1]];
        return {
          type,
          closed: c.shape.closed[s],
          positions: c.positions.slice(a * 3, b * 3),
          handles: c.handles.slice(a * 6, b * 6),
          roll: c.roll.slice(a, b),
          width: c.width.slice(a, b),
        };
      }),
    ),
  );
}
