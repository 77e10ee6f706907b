import { memoize } from '../memo.ts';
import type { Mesh } from './mesh.ts';
import type { Topology } from './topology.ts';

/** How faces count towards the normal of a point they share. */
export type NormalWeighting = 'angle' | 'area';

/** Called now and then in long kernels; throws to stop them. */
export type Checkpoint = () => void;

const BLOCK = 4096;

/**
 * Normals of points, each the sum of its faces' unit normals weighted by the angle at the corner (Thürmer and
 * Wüthrich 1998), or of their normals times area, brought to length 1. Points without faces, and points whose
 * faces cancel out or are degenerate, get (0, 0, 0), never NaN; faces that are not finite do not count.
 *
 * @param out xyz × target count; written.
 * @param cornerTargets the target each corner adds to: `topology.cornerPoints` for points, or shading vertices.
 */
export function computeNormals(
  out: Float32Array,
  positions: Readonly<Float32Array>,
  topology: Topology,
  cornerTargets: Readonly<Int32Array>,
  weighting: NormalWeighting,
  checkpoint: Checkpoint = () => {},
): Float32Array {
  out.fill(0);
  for (let f = 0; f < topology.faceCount; f += BLOCK) {
    checkpoint();
    const end = Math.min(f + BLOCK, topology.faceCount);
    if (weighting === 'area') addAreas(out, positions, topology, cornerTargets, f, end);
    else addAngles(out, positions, topology, cornerTargets, f, end);
  }
  for (let i = 0; i < out.length; i += 3) {
    const x = out[i],
      y = out[i + 1],
      z = out[i + 2];
    const l = Math.sqrt(x * x + y * y + z * z);
    const factor = l > 1e-30 ? 1 / l : 0;
    out[i] = x * factor;
    out[i + 1] = y * factor;
    out[i + 2] = z * factor;
  }
  return out;
}

/** Point normals of a mesh in a new array. */
export function pointNormals(mesh: Mesh, weighting: NormalWeighting = 'angle'): Float32Array {
  const out = new Float32Array(mesh.positions.length);
  return computeNormals(out, mesh.positions, mesh.topology, mesh.topology.cornerPoints, weighting);
}

/** Whether every face has four corners, as those of most meshes do. */
const areQuads = memoize(({ faceStarts, faceCount, cornerCount }: Topology): boolean => {
  if (cornerCount !== faceCount * 4) return false;
  for (let f = 0; f < faceCount; f++) if (faceStarts[f] !== f * 4) return false;
  return true;
});

/** The same for faces of four corners: normal times twice the area is the cross product of their diagonals. */
function addQuads(
  out: Float32Array,
  p: Readonly<Float32Array>,
  corners: Readonly<Int32Array>,
  targets: Readonly<Int32Array>,
  from: number,
  to: number,
): void {
  const isSame = corners === targets;
  for (let s = from; s < to; s += 4) {
    const a = corners[s] * 3,
      b = corners[s + 1] * 3,
      c = corners[s + 2] * 3,
      d = corners[s + 3] * 3;
    const ux = p[c] - p[a],
      uy = p[c + 1] - p[a + 1],
      uz = p[c + 2] - p[a + 2];
    const vx = p[d] - p[b],
      vy = p[d + 1] - p[b + 1],
      vz = p[d + 2] - p[b + 2];
    const x = uy * vz - uz * vy,
      y = uz * vx - ux * vz,
      z = ux * vy - uy * vx;
    if ((x + y + z) * 0 !== 0) continue;
    const ta = isSame ? a : targets[s] * 3,
      tb = isSame ? b : targets[s + 1] * 3,
      tc = isSame ? c : targets[s + 2] * 3,
      td = isSame ? d : targets[s + 3] * 3;
    out[ta] += x;
    out[ta + 1] += y;
    out[ta + 2] += z;
    out[tb] += x;
    out[tb + 1] += y;
    out[tb + 2] += z;
    out[tc] += x;
    out[tc + 1] += y;
    out[tc + 2] += z;
    out[td] += x;
    out[td + 1] += y;
    out[td + 2] += z;
  }
}

function addAreas(
  out: Float32Array,
  p: Readonly<Float32Array>,
  topology: Topology,
  targets: Readonly<Int32Array>,
  from: number,
  to: number,
): void {
  const { faceStarts, cornerPoints } = topology;
  if (areQuads(topology)) return addQuads(out, p, cornerPoints, targets, from * 4, to * 4);
  for (let f = from; f < to; f++) {
    const s = faceStarts[f];
    const e = faceStarts[f + 1];
    if (e - s === 4) {
      addQuads(out, p, cornerPoints, targets, s, e);
      continue;
    }
    const o = cornerPoints[s] * 3;
    const ox = p[o],
      oy = p[o + 1],
      oz = p[o + 2];
    const a = cornerPoints[s + 1] * 3;
    let ux = p[a] - ox,
      uy = p[a + 1] - oy,
      uz = p[a + 2] - oz;
    let nx = 0,
      ny = 0,
      nz = 0;
    for (let c = s + 2; c < e; c++) {
      const b = cornerPoints[c] * 3;
      const vx = p[b] - ox,
        vy = p[b + 1] - oy,
        vz = p[b + 2] - oz;
      nx += uy * vz - uz * vy;
      ny += uz * vx - ux * vz;
      nz += ux * vy - uy * vx;
      ux = vx;
      uy = vy;
      uz = vz;
    }
    if ((nx + ny + nz) * 0 !== 0) continue;
    for (let c = s; c < e; c++) {
      const t = targets[c] * 3;
      out[t] += nx;
      out[t + 1] += ny;
      out[t + 2] += nz;
    }
  }
}

function addAngles(
  out: Float32Array,
  p: Readonly<Float32Array>,
  topology: Topology,
  targets: Readonly<Int32Array>,
  from: number,
  to: number,
): void {
  const { faceStarts, cornerPoints } = topology;
  for (let f = from; f < to; f++) {
    const s = faceStarts[f];
    const e = faceStarts[f + 1];
    const o = cornerPoints[s] * 3;
    const ox = p[o],
      oy = p[o + 1],
      oz = p[o + 2];
    let nx = 0,
      ny = 0,
      nz = 0;
    for (let c = s + 1; c + 1 < e; c++) {
      const a = cornerPoints[c] * 3;
      const b = cornerPoints[c + 1] * 3;
      const ux = p[a] - ox,
        uy = p[a + 1] - oy,
        uz = p[a + 2] - oz;
      const vx = p[b] - ox,
        vy = p[b + 1] - oy,
        vz = p[b + 2] - oz;
      nx += uy * vz - uz * vy;
      ny += uz * vx - ux * vz;
      nz += ux * vy - uy * vx;
    }
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(l > 0 && l < Infinity)) continue;
    nx /= l;
    ny /= l;
    nz /= l;
    for (let c = s; c < e; c++) {
      const i = cornerPoints[c] * 3;
      const a = cornerPoints[c + 1 < e ? c + 1 : s] * 3;
      const b = cornerPoints[c > s ? c - 1 : e - 1] * 3;
      const ux = p[a] - p[i],
        uy = p[a + 1] - p[i + 1],
        uz = p[a + 2] - p[i + 2];
      const vx = p[b] - p[i],
        vy = p[b + 1] - p[i + 1],
        vz = p[b + 2] - p[i + 2];
      const cx = uy * vz - uz * vy,
        cy = uz * vx - ux * vz,
        cz = ux * vy - uy * vx;
      let angle = Math.atan2(Math.sqrt(cx * cx + cy * cy + cz * cz), ux * vx + uy * vy + uz * vz);
      // A reflex corner of a concave polygon turns more than half way round.
      if (cx * nx + cy * ny + cz * nz < 0) angle = 2 * Math.PI - angle;
      const t = targets[c] * 3;
      out[t] += nx * angle;
      out[t + 1] += ny * angle;
      out[t + 2] += nz * angle;
    }
  }
}
