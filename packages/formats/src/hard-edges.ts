import { edgesOf, type Topology } from '@umberfish/core';

/**
 * Finds hard edges of a mesh from what a file says about shading: an edge between two faces is hard where the
 * corners' normals differ at either end, or the faces' smoothing groups differ (0 is smooth with nobody).
 * Edges of one face, or of more than two, are soft.
 * @param normals xyz per corner, NaN where a corner has none; or undefined.
 * @param smoothing group per face; or undefined.
 * @returns a toggle per edge, or undefined when no edge is hard.
 */
export function findHardEdges(
  topology: Topology,
  normals: Readonly<Float32Array> | undefined,
  smoothing: Readonly<Int32Array> | undefined,
): Int32Array | undefined {
  if (!normals && !smoothing) return undefined;
  const { faceStarts, cornerPoints, faceCount } = topology;
  const { count, cornerEdges } = edgesOf(topology);
  const firstCorner = new Int32Array(count).fill(-1);
  const firstFace = new Int32Array(count).fill(-1);
  const hard = new Int32Array(count);
  let any = false;
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const edge = cornerEdges[c];
      if (firstCorner[edge] < 0) {
        firstCorner[edge] = c;
        firstFace[edge] = f;
        continue;
      }
      const other = firstCorner[edge];
      const g = firstFace[edge];
      const next = c + 1 < faceStarts[f + 1] ? c + 1 : faceStarts[f];
      const otherNext = other + 1 < faceStarts[g + 1] ? other + 1 : faceStarts[g];
      const opposite = cornerPoints[c] !== cornerPoints[other];
      const differ =
        (smoothing !== undefined && (smoothing[f] !== smoothing[g] || smoothing[f] === 0)) ||
        (normals !== undefined &&
          (normalsDiffer(normals, c, opposite ? otherNext : other) ||
            normalsDiffer(normals, next, opposite ? other : otherNext)));
      if (differ) {
        hard[edge] = 1;
        any = true;
      }
    }
  }
  return any ? hard : undefined;
}

function normalsDiffer(n: Readonly<Float32Array>, a: number, b: number): boolean {
  const x = n[a * 3],
    y = n[a * 3 + 1],
    z = n[a * 3 + 2],
    u = n[b * 3],
    v = n[b * 3 + 1],
    w = n[b * 3 + 2];
  const product = Math.sqrt((x * x + y * y + z * z) * (u * u + v * v + w * w));
  return product > 0 && (x * u + y * v + z * w) / product < 0.9999;
}

/**
 * Hard edges that a file's shading cannot tell, as pairs of points: those inside an area that is smooth all round them,
 * and those of one face. Writers put them beside the shading, and readers take them from there.
 * @param told what `findHardEdges` makes of the shading that is written.
 */
export function untoldEdges(
  topology: Topology,
  hard: Readonly<ArrayLike<number>> | undefined,
  told: Readonly<Int32Array> | undefined,
): number[] {
  const pairs: number[] = [];
  if (!hard) return pairs;
  const { count, points } = edgesOf(topology);
  for (let e = 0; e < count; e++) if (hard[e] !== 0 && !told?.[e]) pairs.push(points[e * 2], points[e * 2 + 1]);
  return pairs;
}

/** Hard edges with those of some pairs of points; pairs that are no edge are passed over. */
export function withEdges(topology: Topology, hard: Int32Array | undefined, pairs: readonly number[]): Int32Array | undefined {
  if (pairs.length === 0) return hard;
  const { count, points } = edgesOf(topology);
  const named = new Set<number>();
  const name = (a: number, b: number) => Math.min(a, b) * topology.pointCount + Math.max(a, b);
  for (let i = 0; i + 1 < pairs.length; i += 2) named.add(name(pairs[i], pairs[i + 1]));
  const out = hard ?? new Int32Array(count);
  let any = hard !== undefined;
  for (let e = 0; e < count; e++) {
    if (!named.has(name(points[e * 2], points[e * 2 + 1]))) continue;
    out[e] = 1;
    any = true;
  }
  return any ? out : undefined;
}
