/** Where the closest point of a primitive lies: weights of its second and third corner; the first has the rest. */
export const closest = { b: 0, c: 0 };

/** Squared distance of a place to point number `o / 3` of packed xyz. */
export function toPoint(p: Readonly<Float32Array>, o: number, x: number, y: number, z: number): number {
  const dx = x - p[o],
    dy = y - p[o + 1],
    dz = z - p[o + 2];
  closest.b = closest.c = 0;
  return dx * dx + dy * dy + dz * dz;
}

/** Squared distance of a place to the segment between two packed points; a segment of length 0 is a point. */
export function toSegment(p: Readonly<Float32Array>, o: number, x: number, y: number, z: number): number {
  const ax = p[o],
    ay = p[o + 1],
    az = p[o + 2];
  const ux = p[o + 3] - ax,
    uy = p[o + 4] - ay,
    uz = p[o + 5] - az;
  const px = x - ax,
    py = y - ay,
    pz = z - az;
  const length = ux * ux + uy * uy + uz * uz;
  let t = length > 0 ? (px * ux + py * uy + pz * uz) / length : 0;
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const dx = px - ux * t,
    dy = py - uy * t,
    dz = pz - uz * t;
  closest.b = t;
  closest.c = 0;
  return dx * dx + dy * dy + dz * dz;
}

/**
 * Squared distance of a place to the triangle of three packed points, by the Voronoi regions of its corners, edges and
 * inside (Ericson, Real-Time Collision Detection, 2005, 5.1.5). Triangles without an area are their longest edge.
 */
export function toTriangle(p: Readonly<Float32Array>, o: number, x: number, y: number, z: number): number {
  const ax = p[o],
    ay = p[o + 1],
    az = p[o + 2];
  const ux = p[o + 3] - ax,
    uy = p[o + 4] - ay,
    uz = p[o + 5] - az;
  const vx = p[o + 6] - ax,
    vy = p[o + 7] - ay,
    vz = p[o + 8] - az;
  const px = x - ax,
    py = y - ay,
    pz = z - az;
  const d1 = ux * px + uy * py + uz * pz;
  const d2 = vx * px + vy * py + vz * pz;
  let b = 0;
  let c = 0;
  if (d1 > 0 || d2 > 0) {
    const uu = ux * ux + uy * uy + uz * uz;
    const uv = ux * vx + uy * vy + uz * vz;
    const vv = vx * vx + vy * vy + vz * vz;
    const d3 = d1 - uu;
    const d4 = d2 - uv;
    const d5 = d1 - uv;
    const d6 = d2 - vv;
    const va = d3 * d6 - d5 * d4;
    const vb = d5 * d2 - d1 * d6;
    const vc = d1 * d4 - d3 * d2;
    if (d3 >= 0 && d4 <= d3) b = 1;
    else if (d6 >= 0 && d5 <= d6) c = 1;
    else if (vc <= 0 && d1 >= 0 && d3 <= 0) b = d1 / (d1 - d3);
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) c = d2 / (d2 - d6);
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      c = (d4 - d3) / (d4 - d3 + (d5 - d6));
      b = 1 - c;
    } else {
      const all = va + vb + vc;
      b = vb / all;
      c = vc / all;
    }
    // A flat triangle can leave 0 / 0; its corners decide.
    if (!(b >= 0 && c >= 0)) return flat(p, o, x, y, z);
  }
  const dx = px - ux * b - vx * c,
    dy = py - uy * b - vy * c,
    dz = pz - uz * b - vz * c;
  closest.b = b;
  closest.c = c;
  return dx * dx + dy * dy + dz * dz;
}

const edge = new Float32Array(6);

/** The nearest of a triangle's three edges. */
function flat(p: Readonly<Float32Array>, o: number, x: number, y: number, z: number): number {
  let best = Infinity;
  let at = 0;
  let t = 0;
  for (let e = 0; e < 3; e++) {
    const from = o + e * 3,
      to = o + ((e + 1) % 3) * 3;
    for (let axis = 0; axis < 3; axis++) {
      edge[axis] = p[from + axis];
      edge[axis + 3] = p[to + axis];
    }
    const d = toSegment(edge, 0, x, y, z);
    if (d < best) [best, at, t] = [d, e, closest.b];
  }
  const weights = [0, 0, 0];
  weights[at] = 1 - t;
  weights[(at + 1) % 3] += t;
  closest.b = weights[1];
  closest.c = weights[2];
  return best;
}
