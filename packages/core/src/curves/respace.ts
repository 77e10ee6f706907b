import type { Mesh } from '../geometry/mesh.ts';
import { edgesOf } from '../geometry/edges.ts';
import { makeCurves, makeShape, smoothHandles, type Curves, type SplineParts, type SplineType } from './curves.ts';
import { placeOn } from './on-track.ts';
import { tracksOf } from './track.ts';

/**
 * Curves with their points evenly spaced along the length. Closed ones have no doubled point.
 * @param countOf points of a spline of that length (at least 2, of a closed one 3). @param type how the new ones run;
 * Bézier splines get smooth handles.
 */
export function respace(curves: Curves, countOf: (length: number, closed: boolean) => number, type: SplineType): Curves {
  const splines = tracksOf(curves).map((track): SplineParts => {
    const count = Math.max(track.closed ? 3 : 2, Math.round(countOf(track.length, track.closed)));
    const positions: number[] = [];
    const roll: number[] = [];
    const width: number[] = [];
    for (let i = 0; i < count; i++) {
      const at = placeOn(track, (track.length * i) / (track.closed ? count : count - 1));
      positions.push(...at.position);
      roll.push(at.roll);
      width.push(at.width);
    }
    return { type, closed: track.closed, positions, roll, width };
  });
  return smoothHandles(makeCurves(splines));
}

/** Every edge of a mesh as a straight spline of two points. */
export function edgesToCurves(mesh: Mesh): Curves {
  const { points, count } = edgesOf(mesh.topology);
  const positions = new Float32Array(points.length * 3);
  for (let i = 0; i < points.length; i++)
    for (let axis = 0; axis < 3; axis++) positions[i * 3 + axis] = mesh.positions[points[i] * 3 + axis];
  const starts = Int32Array.from({ length: count + 1 }, (_, i) => i * 2);
  const shape = makeShape(starts, new Array<SplineType>(count).fill('poly'), new Array<boolean>(count).fill(false));
  return {
    kind: 'curves',
    shape,
    positions,
    handles: new Float32Array(points.length * 6),
    roll: new Float32Array(points.length),
    width: new Float32Array(points.length).fill(1),
  };
}
