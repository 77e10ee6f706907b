import { ofTopology } from './derive.ts';
import type { Topology } from './topology.ts';
import { turnedCorners } from './turn.ts';

/** Polygons cut into triangles. */
export interface Triangles {
  readonly count: number;
  /** Three corners per triangle (not points: corners also know uv and normals). */
  readonly corners: Int32Array;
  /** Three points per triangle. */
  readonly points: Int32Array;
  /** The face each triangle was cut from. */
  readonly faces: Int32Array;
}

/**
 * Triangles of a topology, from its source positions, once (DECISIONS 16): a face of n corners gives n − 2.
 * Quads are cut along the diagonal that keeps both halves facing as the quad does (the shorter where both do);
 * larger polygons by ear clipping in the plane of their normal (Meisters 1975). Degenerate polygons are fanned.
 * Faces that were turned round are cut as they were before, each triangle turned round.
 */
export const trianglesOf = ofTopology((topology: Topology): Triangles => {
  if (topology.turnedFrom) return turnedRound(trianglesOf(topology.turnedFrom), topology);
  const { faceStarts, cornerPoints, faceCount, cornerCount, sourcePositions: positions } = topology;
  const count = cornerCount - 2 * faceCount;
  const corners = new Int32Array(count * 3);
  const faces = new Int32Array(count);
  let written = 0;
  const emit = (a: number, b: number, c: number, face: number) => {
    faces[written] = face;
    corners[written * 3] = a;
    corners[written * 3 + 1] = b;
    corners[written * 3 + 2] = c;
    written++;
  };
  for (let f = 0; f < faceCount; f++) {
    const s = faceStarts[f];
    const n = faceStarts[f + 1] - s;
    if (n === 3) emit(s, s + 1, s + 2, f);
    else if (n === 4) {
      if (cutFirstDiagonal(positions, cornerPoints, s)) {
        emit(s, s + 1, s + 2, f);
        emit(s, s + 2, s + 3, f);
      } else {
        emit(s, s + 1, s + 3, f);
        emit(s + 1, s + 2, s + 3, f);
      }
    } else clipEars(positions, cornerPoints, s, n, (a, b, c) => emit(a, b, c, f));
  }
  const points = new Int32Array(corners.length);
  for (let i = 0; i < corners.length; i++) points[i] = cornerPoints[corners[i]];
  return { count, corners, points, faces };
});

/** The same triangles, their second and third corner exchanged. */
function turnedRound({ count, corners: before, faces }: Triangles, topology: Topology): Triangles {
  const now = turnedCorners(topology);
  const corners = new Int32Array(before.length);
  for (let i = 0; i < corners.length; i += 3) {
    corners[i] = now[before[i]];
    corners[i + 1] = now[before[i + 2]];
    corners[i + 2] = now[before[i + 1]];
  }
  return { count, corners, points: corners.map((c) => topology.cornerPoints[c]), faces };
}

function cutFirstDiagonal(positions: Readonly<Float32Array>, cornerPoints: Readonly<Int32Array>, s: number): boolean {
  const p = (i: number, axis: number) => positions[cornerPoints[s + i] * 3 + axis];
  const normal = (i: number, j: number, k: number) => {
    const ux = p(j, 0) - p(i, 0),
      uy = p(j, 1) - p(i, 1),
      uz = p(j, 2) - p(i, 2);
    const vx = p(k, 0) - p(i, 0),
      vy = p(k, 1) - p(i, 1),
      vz = p(k, 2) - p(i, 2);
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  };
  const agree = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2] > 0;
  const squared = (i: number, j: number) => (p(i, 0) - p(j, 0)) ** 2 + (p(i, 1) - p(j, 1)) ** 2 + (p(i, 2) - p(j, 2)) ** 2;
  const first = agree(normal(0, 1, 2), normal(0, 2, 3));
  const second = agree(normal(0, 1, 3), normal(1, 2, 3));
  if (first !== second) return first;
  return squared(0, 2) <= squared(1, 3);
}

function clipEars(
  positions: Readonly<Float32Array>,
  cornerPoints: Readonly<Int32Array>,
  s: number,
  n: number,
  emit: (a: number, b: number, c: number) => void,
): void {
  const at = (i: number, axis: number) => positions[cornerPoints[s + i] * 3 + axis];
  // Newell's normal picks the plane to flatten onto.
  const normal = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    for (let axis = 0; axis < 3; axis++) {
      const u = (axis + 1) % 3;
      const v = (axis + 2) % 3;
      normal[axis] += (at(i, u) - at(j, u)) * (at(i, v) + at(j, v));
    }
  }
  const drop = [0, 1, 2].reduce((m, a) => (Math.abs(normal[a]) > Math.abs(normal[m]) ? a : m), 0);
  const sign = normal[drop] < 0 ? -1 : 1;
  const x = (i: number) => at(i, (drop + 1) % 3);
  const y = (i: number) => at(i, (drop + 2) % 3) * sign;
  const turn = (a: number, b: number, c: number) => (x(b) - x(a)) * (y(c) - y(a)) - (y(b) - y(a)) * (x(c) - x(a));
  const left = Array.from({ length: n }, (_, i) => i);
  while (left.length > 3) {
    let ear = -1;
    for (let i = 0; i < left.length && ear < 0; i++) {
      const a = left[(i + left.length - 1) % left.length];
      const b = left[i];
      const c = left[(i + 1) % left.length];
      if (!(turn(a, b, c) > 0)) continue;
      const blocked = left.some(
        (q) => q !== a && q !== b && q !== c && turn(a, b, q) >= 0 && turn(b, c, q) >= 0 && turn(c, a, q) >= 0,
      );
      if (!blocked) ear = i;
    }
    if (ear < 0) ear = 1;
    emit(s + left[(ear + left.length - 1) % left.length], s + left[ear], s + left[(ear + 1) % left.length]);
    left.splice(ear, 1);
  }
  emit(s + left[0], s + left[1], s + left[2]);
}
