import { faceMiddles } from '../geometry/face-middles.ts';
import { ATTRIBUTE_WIDTH } from '../geometry/attributes.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { makeTopology, type Topology } from '../geometry/topology.ts';
import { ofMesh, ofTopology } from '../geometry/derive.ts';
import { normalsOf } from '../geometry/derived.ts';
import { fractalNoise3, makeNoise } from '../maths/noise.ts';

/** A topology whose faces share no points: every corner is a point. */
const looseTopology = ofTopology((topology: Topology): Topology => {
  const { cornerCount, cornerPoints, sourcePositions: p } = topology;
  const corners = Int32Array.from({ length: cornerCount }, (_, i) => i);
  const positions = new Float32Array(cornerCount * 3);
  for (let c = 0; c < cornerCount; c++)
    for (let axis = 0; axis < 3; axis++) positions[c * 3 + axis] = p[cornerPoints[c] * 3 + axis];
  return makeTopology(Int32Array.from(topology.faceStarts), corners, positions);
});

/** The point attribute that shades a loosened mesh as if it were whole. */
export const SHADE_NORMAL = 'shadeNormal';

export interface LoosenOptions {
  /** Metres along the face's normal at full weight. */
  readonly drift: number;
  /** Radians, at most, at full weight. */
  readonly spin: number;
  /** Of the noise that chooses each face's spin and adds to its drift; per metre, and its place. */
  readonly frequency: number;
  readonly seed: number;
  readonly time: number;
  /** How much smaller faces get at full weight, 0..1. */
  readonly shrink: number;
}

/** The middle of each face: xyz × faces; worked out once per mesh. */
export const faceCentres = ofMesh((mesh: Mesh): Float32Array =>
  faceMiddles(new Float32Array(mesh.topology.faceCount * 3), 0, mesh.topology, mesh.positions),
);

/**
 * Takes faces apart and moves each as a whole: out along its normal, spun about its middle by an axis and angle from
 * noise. The points of the result are the corners of the mesh, whatever the weights are, so that its point order does
 * not change in time.
 * @param weight one per face.
 */
export function loosenFaces(mesh: Mesh, weight: Readonly<Float32Array>, options: LoosenOptions, checkpoint: () => void): Mesh {
  const { topology, positions: p } = mesh;
  const { faceCount, faceStarts, cornerPoints, cornerCount } = topology;
  const loose = looseTopology(topology);
  const out = new Float32Array(cornerCount * 3);
  const smooth = normalsOf(mesh, 'angle', checkpoint);
  const shade = new Float32Array(cornerCount * 3);
  const centres = faceCentres(mesh);
  const fields = [0, 1, 2, 3].map((i) => makeNoise(options.seed + i * 101));
  const r = new Float64Array(9);
  const { frequency, time } = options;
  const n = new Float64Array(3);
  for (let f = 0; f < faceCount; f++) {
    if ((f & 4095) === 0) checkpoint();
    const w = weight[f];
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    if (w === 0) {
      for (let c = start, o = c * 3; c < end; c++, o += 3) {
        const i = cornerPoints[c] * 3;
        for (let axis = 0; axis < 3; axis++) {
          out[o + axis] = p[i + axis];
          shade[o + axis] = smooth[i + axis];
        }
      }
      continue;
    }
    const cx = centres[f * 3],
      cy = centres[f * 3 + 1],
      cz = centres[f * 3 + 2];
    const x = cx * frequency,
      y = cy * frequency,
      z = cz * frequency + time;
    newell(n, p, cornerPoints, start, end);
    const a = fractalNoise3(fields[0], x, y, z, 1, 2, 0.5);
    const b = fractalNoise3(fields[1], x, y, z, 1, 2, 0.5);
    const d = fractalNoise3(fields[2], x, y, z, 1, 2, 0.5);
    const move = w * options.drift * (1 + 0.8 * fractalNoise3(fields[3], x, y, z, 1, 2, 0.5));
    turn(r, a, b, d, w * options.spin);
    const size = 1 - w * options.shrink;
    for (let c = start, o = c * 3; c < end; c++, o += 3) {
      const i = cornerPoints[c] * 3;
      const dx = (p[i] - cx) * size,
        dy = (p[i + 1] - cy) * size,
        dz = (p[i + 2] - cz) * size;
      out[o] = cx + r[0] * dx + r[3] * dy + r[6] * dz + n[0] * move;
      out[o + 1] = cy + r[1] * dx + r[4] * dy + r[7] * dz + n[1] * move;
      out[o + 2] = cz + r[2] * dx + r[5] * dy + r[8] * dz + n[2] * move;
      const sx = smooth[i],
        sy = smooth[i + 1],
        sz = smooth[i + 2];
      shade[o] = r[0] * sx + r[3] * sy + r[6] * sz;
      shade[o + 1] = r[1] * sx + r[4] * sy + r[7] * sz;
      shade[o + 2] = r[2] * sx + r[5] * sy + r[8] * sz;
    }
  }
  const attributes = mesh.attributes
    .filter((a) => a.on !== 'edge')
    .map((a) => {
      if (a.on !== 'point') return a;
      const width = ATTRIBUTE_WIDTH[a.type];
      const data = a.data instanceof Int32Array ? new Int32Array(cornerCount * width) : new Float32Array(cornerCount * width);
      for (let c = 0; c < cornerCount; c++)
        for (let k = 0; k < width; k++) data[c * width + k] = a.data[cornerPoints[c] * width + k];
      return { ...a, data };
    });
  const shading = { name: SHADE_NORMAL, on: 'point', type: 'vector', role: 'normal', data: shade } as const;
  return {
    ...mesh,
    topology: loose,
    positions: out,
    attributes: [...attributes.filter((a) => a.name !== SHADE_NORMAL), shading],
  };
}

/** Unit normal of a polygon by the sum of its sides (Newell). */
function newell(out: Float64Array, p: Readonly<Float32Array>, corners: Readonly<Int32Array>, start: number, end: number): void {
  let x = 0,
    y = 0,
    z = 0;
  for (let c = start; c < end; c++) {
    const a = corners[c] * 3;
    const b = corners[c + 1 < end ? c + 1 : start] * 3;
    x += (p[a + 1] - p[b + 1]) * (p[a + 2] + p[b + 2]);
    y += (p[a + 2] - p[b + 2]) * (p[a] + p[b]);
    z += (p[a] - p[b]) * (p[a + 1] + p[b + 1]);
  }
  const l = Math.sqrt(x * x + y * y + z * z) || 1;
  out[0] = x / l;
  out[1] = y / l;
  out[2] = z / l;
}

/** The rotation about a vector by its length × angle (Rodrigues), nine numbers column by column. */
function turn(out: Float64Array, x: number, y: number, z: number, angle: number): void {
  const l = Math.sqrt(x * x + y * y + z * z);
  const ux = l > 0 ? x / l : 1,
    uy = l > 0 ? y / l : 0,
    uz = l > 0 ? z / l : 0;
  const a = l * angle * 1.7;
  const c = Math.cos(a);
  const s = Math.sin(a);
  const e = 1 - c;
  out[0] = c + ux * ux * e;
  out[1] = uy * ux * e + uz * s;
  out[2] = uz * ux * e - uy * s;
  out[3] = ux * uy * e - uz * s;
  out[4] = c + uy * uy * e;
  out[5] = uz * uy * e + ux * s;
  out[6] = ux * uz * e + uy * s;
  out[7] = uy * uz * e - ux * s;
  out[8] = c + uz * uz * e;
}
