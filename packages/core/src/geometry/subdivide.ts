import { ATTRIBUTE_WIDTH, type Attribute } from './attributes.ts';
import { ofTopology } from './derive.ts';
import { edgesOf } from './edges.ts';
import { faceMiddles } from './face-middles.ts';
import type { Mesh } from './mesh.ts';
import { soundTopology, type Topology } from './topology.ts';

/** What one level of subdivision makes of a topology; worked out once, whatever becomes of the points. */
interface Level {
  readonly topology: Topology;
  /** Points: the old ones, then one per face, then one per edge. */
  readonly firstFacePoint: number;
  readonly firstEdgePoint: number;
  /** Of each edge its two faces; −1 where it has none, and both −1 where it has more than two. */
  readonly edgeFaces: Int32Array;
  /** Edges and faces at each point, packed: those of point p from `pointStarts[p]` on. */
  readonly edgeStarts: Int32Array;
  readonly pointEdges: Int32Array;
  readonly faceStartsOfPoint: Int32Array;
  readonly pointFaces: Int32Array;
}

const levelOf = ofTopology((topology: Topology): Level => {
  const { pointCount, faceCount, cornerCount, faceStarts, cornerPoints } = topology;
  const { count: edgeCount, points: edgePoints, cornerEdges } = edgesOf(topology);
  const firstFacePoint = pointCount;
  const firstEdgePoint = pointCount + faceCount;
  const corners = new Int32Array(cornerCount * 4);
  const edgeFaces = new Int32Array(edgeCount * 2).fill(-1);
  const uses = new Int32Array(edgeCount);
  for (let f = 0; f < faceCount; f++) {
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    for (let c = start; c < end; c++) {
      const before = cornerEdges[c > start ? c - 1 : end - 1];
      const after = cornerEdges[c];
      corners[c * 4] = cornerPoints[c];
      corners[c * 4 + 1] = firstEdgePoint + after;
      corners[c * 4 + 2] = firstFacePoint + f;
      corners[c * 4 + 3] = firstEdgePoint + before;
      if (uses[after] < 2) edgeFaces[after * 2 + uses[after]] = f;
      uses[after]++;
    }
  }
  for (let e = 0; e < edgeCount; e++) if (uses[e] > 2) edgeFaces[e * 2] = edgeFaces[e * 2 + 1] = -1;
  const starts = new Int32Array(cornerCount + 1);
  for (let f = 0; f <= cornerCount; f++) starts[f] = f * 4;
  const [edgeStarts, pointEdges] = invertList(pointCount, edgePoints, 2);
  const [faceStartsOfPoint, places] = invertList(pointCount, cornerPoints, 1);
  const faceOfCorner = new Int32Array(cornerCount);
  for (let f = 0; f < faceCount; f++) for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) faceOfCorner[c] = f;
  const pointFaces = new Int32Array(cornerCount);
  for (let i = 0; i < cornerCount; i++) pointFaces[i] = faceOfCorner[places[i]];
  const source = subdividePoints(topology, topology.sourcePositions, {
    firstFacePoint,
    firstEdgePoint,
    edgeFaces,
    edgeStarts,
    pointEdges,
    faceStartsOfPoint,
    pointFaces,
  });
  const made = soundTopology(`${topology.id} subdivided`, starts, corners, source);
  return { topology: made, firstFacePoint, firstEdgePoint, edgeFaces, edgeStarts, pointEdges, faceStartsOfPoint, pointFaces };
});

/** Which entries of a list name each point: where those of a point start, and the entries (÷ `width`). */
function invertList(pointCount: number, list: Readonly<Int32Array>, width: number): [Int32Array, Int32Array] {
  const starts = new Int32Array(pointCount + 1);
  for (let i = 0; i < list.length; i++) starts[list[i] + 1]++;
  for (let p = 0; p < pointCount; p++) starts[p + 1] += starts[p];
  const next = starts.slice();
  const entries = new Int32Array(list.length);
  for (let i = 0; i < list.length; i++) entries[next[list[i]]++] = width === 2 ? i >> 1 : i;
  return [starts, entries];
}

/**
 * One level of Catmull and Clark's subdivision (1978) with creases between 0 and 1 (after DeRose, Kass and Truong 1998):
 * a crease of 1 is sharp, less mixes both rules. Borders, and edges of more than two faces, are sharp. A point on a crease
 * follows it, where three sharp edges meet it stays: the one by as much as its second sharpest edge is sharper than its
 * third, the other by the third, so that nothing jumps when an edge becomes a little sharp (DECISIONS 33).
 * @param p xyz × points. @param creases one per edge; none are 0.
 * @returns xyz of the old points, one per face and one per edge.
 */
function subdividePoints(
  topology: Topology,
  p: Readonly<Float32Array>,
  level: Omit<Level, 'topology'>,
  creases?: Readonly<Float32Array>,
): Float32Array {
  const { pointCount, faceCount } = topology;
  const { count: edgeCount, points: edgePoints } = edgesOf(topology);
  const { firstFacePoint, firstEdgePoint, edgeFaces, edgeStarts, pointEdges, faceStartsOfPoint, pointFaces } = level;
  const out = new Float32Array((pointCount + faceCount + edgeCount) * 3);
  // 1. The middle of each face.
  faceMiddles(out, firstFacePoint, topology, p);
  // 2. A point on each edge: its middle when sharp, with the faces' middles when smooth.
  for (let e = 0, o = firstEdgePoint * 3; e < edgeCount; e++, o += 3) {
    const a = edgePoints[e * 2] * 3;
    const b = edgePoints[e * 2 + 1] * 3;
    const f = edgeFaces[e * 2];
    const g = edgeFaces[e * 2 + 1];
    const sharp = g < 0 ? 1 : creases ? creases[e] : 0;
    const mx = (p[a] + p[b]) / 2,
      my = (p[a + 1] + p[b + 1]) / 2,
      mz = (p[a + 2] + p[b + 2]) / 2;
    if (sharp >= 1) {
      out[o] = mx;
      out[o + 1] = my;
      out[o + 2] = mz;
      continue;
    }
    const i = (firstFacePoint + f) * 3;
    const j = (firstFacePoint + g) * 3;
    // Half way between both middles, but for the sharp part.
    const soft = (1 - sharp) / 2;
    out[o] = mx + ((out[i] + out[j]) / 2 - mx) * soft;
    out[o + 1] = my + ((out[i + 1] + out[j + 1]) / 2 - my) * soft;
    out[o + 2] = mz + ((out[i + 2] + out[j + 2]) / 2 - mz) * soft;
  }
  // 3. The old points.
  for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
    const from = edgeStarts[i];
    const to = edgeStarts[i + 1];
    const n = to - from;
    // The three sharpest edges, and where the first two lead.
    let first = 0,
      second = 0,
      third = 0,
      firstTo = 0,
      secondTo = 0;
    let mx = 0,
      my = 0,
      mz = 0;
    for (let k = from; k < to; k++) {
      const e = pointEdges[k];
      const other = (edgePoints[e * 2] + edgePoints[e * 2 + 1] - i) * 3;
      const sharp = edgeFaces[e * 2 + 1] < 0 ? 1 : creases ? creases[e] : 0;
      mx += p[other];
      my += p[other + 1];
      mz += p[other + 2];
      if (!(sharp > 0)) continue;
      if (sharp > first) {
        third = second;
        second = first;
        secondTo = firstTo;
        first = sharp;
        firstTo = other;
      } else if (sharp > second) {
        third = second;
        second = sharp;
        secondTo = other;
      } else if (sharp > third) third = sharp;
    }
    const x = p[o],
      y = p[o + 1],
      z = p[o + 2];
    const faces = faceStartsOfPoint[i + 1] - faceStartsOfPoint[i];
    let qx = x,
      qy = y,
      qz = z;
    if (n > 0 && faces > 0) {
      let fx = 0,
        fy = 0,
        fz = 0;
      for (let k = faceStartsOfPoint[i]; k < faceStartsOfPoint[i + 1]; k++) {
        const f = (firstFacePoint + pointFaces[k]) * 3;
        fx += out[f];
        fy += out[f + 1];
        fz += out[f + 2];
      }
      // (Q + 2R + (n − 3)S) / n with R the mean of the edges' middles, (S + mean of neighbours) / 2.
      const share = 1 / n;
      const ofFaces = share / faces;
      const own = (n - 2) * share;
      const ofOthers = share * share;
      qx = fx * ofFaces + mx * ofOthers + x * own;
      qy = fy * ofFaces + my * ofOthers + y * own;
      qz = fz * ofFaces + mz * ofOthers + z * own;
    }
    if (!(second > 0)) {
      out[o] = qx;
      out[o + 1] = qy;
      out[o + 2] = qz;
      continue;
    }
    const smooth = 1 - second;
    const crease = second - third;
    out[o] = qx * smooth + ((6 * x + p[firstTo] + p[secondTo]) / 8) * crease + x * third;
    out[o + 1] = qy * smooth + ((6 * y + p[firstTo + 1] + p[secondTo + 1]) / 8) * crease + y * third;
    out[o + 2] = qz * smooth + ((6 * z + p[firstTo + 2] + p[secondTo + 2]) / 8) * crease + z * third;
  }
  return out;
}

/**
 * A mesh subdivided so many times. Old points keep their numbers; attributes of points and corners go along (positions
 * by the same rule, others as means), those of faces are inherited, those of edges by both halves.
 * @param creases one per edge of the mesh, 0 to 1.
 */
export function subdivide(mesh: Mesh, levels: number, creases?: Readonly<Float32Array>, checkpoint: () => void = () => {}): Mesh {
  let result = mesh;
  let sharp = creases;
  for (let l = 0; l < levels; l++) {
    checkpoint();
    const level = levelOf(result.topology);
    // The source positions were subdivided when the level was made.
    const known = !sharp && result.positions === result.topology.sourcePositions;
    const positions = known ? level.topology.sourcePositions : subdividePoints(result.topology, result.positions, level, sharp);
    const attributes = result.attributes.map((a) => subdivideAttribute(result.topology, level, a, sharp));
    const before = result.topology;
    result = { ...result, topology: level.topology, positions, attributes };
    sharp = sharp && (onEdges(before, level, sharp, 1) as Float32Array);
  }
  return result;
}

function subdivideAttribute(topology: Topology, level: Level, a: Attribute, creases?: Readonly<Float32Array>): Attribute {
  const width = ATTRIBUTE_WIDTH[a.type];
  if (a.on === 'point' && a.role === 'position' && a.data instanceof Float32Array)
    return { ...a, data: subdividePoints(topology, a.data, level, creases) };
  if (a.on === 'point') return { ...a, data: onPoints(topology, level, a.data, width) };
  if (a.on === 'corner') return { ...a, data: onCorners(topology, a.data, width) };
  if (a.on === 'edge') return { ...a, data: onEdges(topology, level, a.data, width) };
  const data = likeArray(a.data, topology.cornerCount * width);
  for (let f = 0; f < topology.faceCount; f++)
    for (let c = topology.faceStarts[f]; c < topology.faceStarts[f + 1]; c++)
      for (let k = 0; k < width; k++) data[c * width + k] = a.data[f * width + k];
  return { ...a, data };
}

const likeArray = (like: Readonly<Float32Array | Int32Array>, count: number) =>
  like instanceof Int32Array ? new Int32Array(count) : new Float32Array(count);

function onPoints(topology: Topology, level: Level, data: Readonly<Float32Array | Int32Array>, width: number) {
  const { pointCount, faceCount, faceStarts, cornerPoints } = topology;
  const { count: edgeCount, points } = edgesOf(topology);
  const out = likeArray(data, (pointCount + faceCount + edgeCount) * width);
  out.set(data);
  for (let k = 0; k < width; k++) {
    for (let f = 0; f < faceCount; f++) {
      let sum = 0;
      for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) sum += data[cornerPoints[c] * width + k];
      out[(level.firstFacePoint + f) * width + k] = sum / (faceStarts[f + 1] - faceStarts[f]);
    }
    for (let e = 0; e < edgeCount; e++)
      out[(level.firstEdgePoint + e) * width + k] = (data[points[e * 2] * width + k] + data[points[e * 2 + 1] * width + k]) / 2;
  }
  return out;
}

function onCorners(topology: Topology, data: Readonly<Float32Array | Int32Array>, width: number) {
  const { faceCount, faceStarts, cornerCount } = topology;
  const out = likeArray(data, cornerCount * 4 * width);
  for (let f = 0; f < faceCount; f++) {
    const [start, end] = [faceStarts[f], faceStarts[f + 1]];
    for (let k = 0; k < width; k++) {
      let middle = 0;
      for (let c = start; c < end; c++) middle += data[c * width + k];
      middle /= end - start;
      for (let c = start; c < end; c++) {
        const at = (corner: number) => data[corner * width + k];
        const before = c > start ? c - 1 : end - 1;
        const after = c + 1 < end ? c + 1 : start;
        out[(c * 4 + 0) * width + k] = at(c);
        out[(c * 4 + 1) * width + k] = (at(c) + at(after)) / 2;
        out[(c * 4 + 2) * width + k] = middle;
        out[(c * 4 + 3) * width + k] = (at(c) + at(before)) / 2;
      }
    }
  }
  return out;
}

/** Both halves of an edge get what it had; the new edges across faces get 0. */
function onEdges(topology: Topology, level: Level, data: Readonly<Float32Array | Int32Array>, width: number) {
  const { cornerEdges } = edgesOf(topology);
  const made = edgesOf(level.topology);
  const out = likeArray(data, made.count * width);
  for (let f = 0; f < topology.faceCount; f++) {
    for (let c = topology.faceStarts[f]; c < topology.faceStarts[f + 1]; c++) {
      const before = cornerEdges[c > topology.faceStarts[f] ? c - 1 : topology.faceStarts[f + 1] - 1];
      for (let k = 0; k < width; k++) {
        out[made.cornerEdges[c * 4] * width + k] = data[cornerEdges[c] * width + k];
        out[made.cornerEdges[c * 4 + 3] * width + k] = data[before * width + k];
      }
    }
  }
  return out;
}
