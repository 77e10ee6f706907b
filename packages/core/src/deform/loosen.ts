import { moveValues } from '../geometry/spread.ts';
import { ATTRIBUTE_WIDTH } from '../geometry/attributes.ts';
import { makeTopology, type Mesh, type Topology } from '../geometry/mesh.ts';
import { pointNormals } from '../geometry/normals.ts';
import { fractalNoise3, makeNoise } from '../maths/noise.ts';
import { memoize } from '../memo.ts';

/** A topology whose faces share no points: every corner is a point. */
const looseTopology = memoize((topology: Topology): Topology => {
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

/** The middle of each face: xyz × faces. */
export function faceCentres(mesh: Mesh): Float32Array {
  return moveValues(mesh.topology, mesh.positions, 3, 'point', 'face');
}

/**
 * Takes faces apart and moves each as a whole: out along its normal, spun about its middle by an axis and angle from
 * noise. The points of the result are the corners of the mesh, whatever the weights are, so that its point order does
 * not change in time.
 * @param weight one per face.
 */
export function loosenFaces(
  mesh: Mesh,
  weight: Readonly<Float32Array>,
  options: LoosenOptions,
  checkpoint: () => void,
): Mesh {
  const { topology, positions: p } = mesh;
  const { faceCount, faceStarts, cornerPoints, cornerCount } = topology;
  const loose = looseTopology(topology);
  const out = new Float32Array(cornerCount * 3);
  const smooth = pointNormals(mesh);
  const shade = new Float32Array(cornerCount * 3);
  const centres = faceCentres(mesh);
  const fields = [0, 1, 2, 3].map((i) => makeNoise(options.seed + i * 101));
  const rotation = new Float64Array(9);
  for (let f = 0; f < faceCount; f++) {
    if ((f & 4095) === 0) checkpoint();
    const w = weight[f];
    const [cx, cy, cz] = [centres[f * 3], centres[f * 3 + 1], centres[f * 3 + 2]];
    const [start, end] = [faceStarts[f], faceStarts[f + 1]];
    let move = 0;
    let n: readonly number[] = [0, 0, 0];
    rotation.fill(0);
    rotation[0] = rotation[4] = rotation[8] = 1;
    if (w !== 0) {
      n = newell(p, cornerPoints, start, end);
      const at = fields.map((field) => fractalNoise3(field, cx * options.frequency, cy * options.frequency, cz * options.frequency + options.time, 1, 2, 0.5)); // prettier-ignore
      move = w * options.drift * (1 + 0.8 * at[3]);
      turn(rotation, at[0], at[1], at[2], w * options.spin);
    }
    const size = 1 - w * options.shrink;
    for (let c = start; c < end; c++) {
      const i = cornerPoints[c] * 3;
      const x = (p[i] - cx) * size, y = (p[i + 1] - cy) * size, z = (p[i + 2] - cz) * size; // prettier-ignore
      for (let axis = 0; axis < 3; axis++) {
        const centre = axis === 0 ? cx : axis === 1 ? cy : cz;
        const turned = rotation[axis] * x + rotation[3 + axis] * y + rotation[6 + axis] * z;
        out[c * 3 + axis] = w === 0 ? p[i + axis] : centre + turned + n[axis] * move;
        shade[c * 3 + axis] = rotation[axis] * smooth[i] + rotation[3 + axis] * smooth[i + 1] + rotation[6 + axis] * smooth[i + 2]; // prettier-ignore
      }
    }
  }
  const attributes = mesh.attributes
    .filter((a) => a.on !== 'edge')
    .map((a) => {
      if (a.on !== 'point') return a;
      const width = ATTRIBUTE_WIDTH[a.type];
      const data =
        a.data instanceof Int32Array
          ? new Int32Array(cornerCount * width)
          : new Float32Array(cornerCount * width);
      for (let c = 0; c < cornerCount; c++)
        for (let k = 0; k < width; k++) data[c * width + k] = a.data[cornerPoints[c] * width + k];
      return { ...a, data };
    });
  const shading = { name: SHADE_NORMAL, on: 'point', type: 'vector', role: 'normal', data: shade } as const;
  return { ...mesh, topology: loose, positions: out, attributes: [...attributes.filter((a) => a.name !== SHADE_NORMAL), shading] }; // prettier-ignore
}

/** Unit normal of a polygon by the sum of its sides (Newell). */
function newell(
  p: Readonly<Float32Array>,
  corners: Readonly<Int32Array>,
  start: number,
  end: number,
): readonly number[] {
  let x = 0, y = 0, z = 0; // prettier-ignore
  for (let c = start; c < end; c++) {
    const a = corners[c] * 3;
    const b = corners[c + 1 < end ? c + 1 : start] * 3;
    x += (p[a + 1] - p[b + 1]) * (p[a + 2] + p[b + 2]);
    y += (p[a + 2] - p[b + 2]) * (p[a] + p[b]);
    z += (p[a] - p[b]) * (p[a + 1] + p[b + 1]);
  }
  const l = Math.hypot(x, y, z) || 1;
  return [x / l, y / l, z / l];
}

/** The rotation about a vector by its length × angle (Rodrigues), nine numbers column by column. */
function turn(out: Float64Array, x: number, y: number, z: number, angle: number): void {
  const l = Math.hypot(x, y, z);
  const a = l * angle * 1.7;
  if (!(l > 1e-9)) return;
  const [ux, uy, uz] = [x / l, y / l, z / l];
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const e = 1 - c;
  out.set([c + ux * ux * e, uy * ux * e + uz * s, uz * ux * e - uy * s, ux * uy * e - uz * s, c + uy * uy * e, uz * uy * e + ux * s, ux * uz * e + uy * s, uy * uz * e - ux * s, c + uz * uz * e]); // prettier-ignore
}
