import { kindOf, type Matrix, type ObjectRecord } from '@umberfish/core';

/** A bone as it is drawn: which joint turns it, and where it goes from and to, in the world. */
export interface Bone {
  readonly joint: string;
  readonly from: readonly number[];
  readonly to: readonly number[];
  /** The world of the joint, whose own axes its sides follow. */
  readonly matrix: Matrix;
}

/** Bones from each joint to those under it; the last of a row has a short one, as wide as long. */
export function bonesOf(objects: readonly ObjectRecord[], matrixOf: (id: string) => Matrix): Bone[] {
  const joints = objects.filter((o) => kindOf(o).drawn === 'joint');
  const ids = new Set(joints.map((j) => j.id));
  const at = (m: Matrix) => [m[12], m[13], m[14]];
  const under = new Map<string, ObjectRecord[]>();
  for (const j of joints) if (j.parent !== null && ids.has(j.parent)) under.set(j.parent, [...(under.get(j.parent) ?? []), j]);
  return joints.flatMap((j): Bone[] => {
    const matrix = matrixOf(j.id);
    const below = under.get(j.id) ?? [];
    const from = at(matrix);
    if (below.length > 0) return below.map((c) => ({ joint: j.id, from, to: at(matrixOf(c.id)), matrix }));
    // As it goes on from the one above.
    const above = j.parent !== null && ids.has(j.parent) ? at(matrixOf(j.parent)) : undefined;
    const d = above ? from.map((v, k) => v - above[k]) : [0, END, 0];
    const l = Math.hypot(...d);
    const short = l > 0 ? Math.min(END * 4, l * 0.3) / l : 0;
    return [{ joint: j.id, from, to: from.map((v, k) => v + d[k] * (l > 0 ? short : 0)), matrix }];
  });
}

const END = 0.06;
/** Where the widest place is along a bone, and how wide it is there. */
const WAIST = 0.14;
const WIDTH = 0.07;

/** The corners of a tapered bone: its beginning, four about its waist, its end. */
function cornersOf({ from, to, matrix }: Bone): number[][] {
  const d = to.map((v, k) => v - from[k]);
  const l = Math.hypot(...d) || 1e-9;
  const u = d.map((v) => v / l);
  // Sides along the joint's own axes, as far as they lie across the bone.
  const axes = [0, 4, 8].map((o) => [matrix[o], matrix[o + 1], matrix[o + 2]]);
  const flat = axes.map((a) => {
    const s = a[0] * u[0] + a[1] * u[1] + a[2] * u[2];
    return a.map((v, k) => v - s * u[k]);
  });
  const side = flat.reduce((a, b) => (Math.hypot(...b) > Math.hypot(...a) * 1.0001 ? b : a));
  const w = Math.hypot(...side);
  const a = w > 0 ? side.map((v) => (v / w) * l * WIDTH) : [l * WIDTH, 0, 0];
  const b = [u[1] * a[2] - u[2] * a[1], u[2] * a[0] - u[0] * a[2], u[0] * a[1] - u[1] * a[0]];
  const waist = from.map((v, k) => v + d[k] * WAIST);
  const off = (x: number[], sign: number) => waist.map((v, k) => v + sign * x[k]);
  return [[...from], off(a, 1), off(b, 1), off(a, -1), off(b, -1), [...to]];
}

const EDGES = [0, 1, 0, 2, 0, 3, 0, 4, 1, 2, 2, 3, 3, 4, 4, 1, 5, 1, 5, 2, 5, 3, 5, 4];
const FACES = [0, 2, 1, 0, 3, 2, 0, 4, 3, 0, 1, 4, 5, 1, 2, 5, 2, 3, 5, 3, 4, 5, 4, 1];
/** Numbers that a bone's lines and faces take. */
export const BONE_LINES = EDGES.length * 3;
export const BONE_FACES = FACES.length * 3;

/** The lines of bones, as pairs of xyz, and their faces, as triangles. */
export function boneLines(bones: readonly Bone[]): Float32Array {
  return Float32Array.from(bones.flatMap((b) => pick(cornersOf(b), EDGES)));
}
export function boneFaces(bones: readonly Bone[]): Float32Array {
  return Float32Array.from(bones.flatMap((b) => pick(cornersOf(b), FACES)));
}
const pick = (corners: number[][], order: readonly number[]): number[] => order.flatMap((i) => corners[i]);
