import { factorise } from '../maths/factors.ts';
import { identity, invertAt, matrixAt, multiplyPacked } from '../maths/matrix.ts';
import { quaternionFromRotation, type Quaternion } from '../maths/rotation.ts';
import type { Chain } from './chain.ts';
import type { PackedWeights } from './skin-weights.ts';

/** What takes points from rest to where joints are. */
export interface SkinPose {
  /** `posed · rest⁻¹`, 16 numbers a joint, column by column. */
  readonly matrices: Float64Array;
  /** The joint that each hangs under, which comes before it; −1 for none. */
  readonly parents: Readonly<Int32Array>;
}

/** The pose of a chain, as skins take it. A joint whose rest has no inverse (`flat`) moves nothing. */
export function skinPose(chain: Chain): SkinPose & { readonly flat: readonly number[] } {
  const matrices = new Float64Array(chain.count * 16);
  const inverse = identity();
  const flat: number[] = [];
  for (let j = 0; j < chain.count; j++) {
    if (invertAt(inverse, 0, chain.rest, j * 16)) multiplyPacked(matrices, j * 16, chain.posed, j * 16, 16, inverse, 0, 0, 1);
    else {
      flat.push(j);
      matrices.set(identity(), j * 16);
    }
  }
  return { matrices, parents: chain.parents, flat };
}

/** Twelve numbers a joint, row by row: what a point is taken through. */
function rowsOf(matrices: Readonly<Float64Array>): Float64Array {
  const count = matrices.length / 16;
  const rows = new Float64Array(count * 12);
  for (let j = 0; j < count; j++)
    for (let r = 0; r < 3; r++) for (let c = 0; c < 4; c++) rows[j * 12 + r * 4 + c] = matrices[j * 16 + c * 4 + r];
  return rows;
}

/**
 * Linear skin: `p′ = (Σ w · posed · rest⁻¹) p`. Points without weights stay. `out` may be `source`; xyz × count.
 * @param share how much of it each point gets; left out: all.
 */
export function skinLinear(
  out: Float32Array,
  source: Readonly<Float32Array>,
  { starts, joints, weights }: PackedWeights,
  matrices: Readonly<Float64Array>,
  checkpoint: () => void = () => {},
): Float32Array {
  const rows = rowsOf(matrices);
  const count = (source.length / 3) | 0;
  for (let p = 0, o = 0; p < count; p++, o += 3) {
    if ((p & 0xffff) === 0) checkpoint();
    const x = source[o],
      y = source[o + 1],
      z = source[o + 2];
    let px = 0,
      py = 0,
      pz = 0;
    const start = starts[p];
    const end = starts[p + 1];
    for (let k = start; k < end; k++) {
      const w = weights[k];
      const m = (joints[k] * 12) | 0;
      px += w * (rows[m] * x + rows[m + 1] * y + rows[m + 2] * z + rows[m + 3]);
      py += w * (rows[m + 4] * x + rows[m + 5] * y + rows[m + 6] * z + rows[m + 7]);
      pz += w * (rows[m + 8] * x + rows[m + 9] * y + rows[m + 10] * z + rows[m + 11]);
    }
    const stays = start === end;
    out[o] = stays ? x : px;
    out[o + 1] = stays ? y : py;
    out[o + 2] = stays ? z : pz;
  }
  return out;
}

/**
 * Skin by dual quaternions (Kavan, Collins, Žára and O’Sullivan, Geometric Skinning with Approximate Dual Quaternion
 * Blending, 2008): turns and places of joints are mixed as screws, so that a bent or twisted limb keeps its thickness.
 * Sizes and shears are mixed linearly before (DECISIONS 41). Points without weights stay. `out` may be `source`.
 *
 * A turn has two quaternions, and which of them is mixed decides which way round a point goes. Each joint's is the one
 * nearer to its parent's, so that nothing changes sides as long as no joint turns by half a turn against its parent,
 * however far the chain is curled in all (DECISIONS 50). Where opposite ones cancel out, the heaviest joint counts alone.
 */
export function skinDual(
  out: Float32Array,
  source: Readonly<Float32Array>,
  { starts, joints, weights }: PackedWeights,
  pose: SkinPose,
  checkpoint: () => void = () => {},
): Float32Array {
  const { duals, sizes, isRigid } = dualsOf(pose);
  const count = (source.length / 3) | 0;
  for (let p = 0, o = 0; p < count; p++, o += 3) {
    if ((p & 0xffff) === 0) checkpoint();
    let x = source[o],
      y = source[o + 1],
      z = source[o + 2];
    const start = starts[p];
    const end = starts[p + 1];
    if (start === end) {
      out[o] = x;
      out[o + 1] = y;
      out[o + 2] = z;
      continue;
    }
    if (!isRigid) {
      let sx = 0,
        sy = 0,
        sz = 0;
      for (let k = start; k < end; k++) {
        const w = weights[k];
        const m = (joints[k] * 9) | 0;
        sx += w * (sizes[m] * x + sizes[m + 1] * y + sizes[m + 2] * z);
        sy += w * (sizes[m + 3] * x + sizes[m + 4] * y + sizes[m + 5] * z);
        sz += w * (sizes[m + 6] * x + sizes[m + 7] * y + sizes[m + 8] * z);
      }
      x = sx;
      y = sy;
      z = sz;
    }
    let a = 0,
      b = 0,
      c = 0,
      d = 0,
      e = 0,
      g = 0,
      h = 0,
      i = 0;
    for (let k = start; k < end; k++) {
      const m = (joints[k] * 8) | 0;
      const w = weights[k];
      a += w * duals[m];
      b += w * duals[m + 1];
      c += w * duals[m + 2];
      d += w * duals[m + 3];
      e += w * duals[m + 4];
      g += w * duals[m + 5];
      h += w * duals[m + 6];
      i += w * duals[m + 7];
    }
    const square = a * a + b * b + c * c + d * d;
    if (square < 1e-12) {
      const m = heaviest(joints, weights, start, end) * 8;
      [a, b, c, d, e, g, h, i] = duals.subarray(m, m + 8);
    }
    const n = square < 1e-12 ? 1 : 1 / Math.sqrt(square);
    a *= n;
    b *= n;
    c *= n;
    d *= n;
    e *= n;
    g *= n;
    h *= n;
    i *= n;
    // q p q* + 2 (ε part) q*: twice the cross product of the vector parts, and the place.
    const tx = 2 * (b * z - c * y),
      ty = 2 * (c * x - a * z),
      tz = 2 * (a * y - b * x);
    out[o] = x + d * tx + b * tz - c * ty + 2 * (d * e - i * a + b * h - c * g);
    out[o + 1] = y + d * ty + c * tx - a * tz + 2 * (d * g - i * b + c * e - a * h);
    out[o + 2] = z + d * tz + a * ty - b * tx + 2 * (d * h - i * c + a * g - b * e);
  }
  return out;
}

/** Of joints with weights, the one that weighs most. */
function heaviest(joints: Int32Array, weights: Float32Array, start: number, end: number): number {
  let most = start;
  for (let k = start + 1; k < end; k++) if (weights[k] > weights[most]) most = k;
  return joints[most];
}

/** Each joint's rigid part as a dual quaternion (x, y, z, w, then its dual part), and what comes before it, row by row. */
function dualsOf({ matrices, parents }: SkinPose) {
  const count = matrices.length / 16;
  const duals = new Float64Array(count * 8);
  const sizes = new Float64Array(count * 9);
  let isRigid = true;
  for (let j = 0; j < count; j++) {
    const { translate: t, rotation, scale: s, shear: h } = factorise(matrixAt(matrices, j));
    const q = nearerTo(duals, parents[j] * 8, quaternionFromRotation(rotation));
    duals.set(q, j * 8);
    // ½ (0, t) q.
    duals[j * 8 + 4] = (t[0] * q[3] + t[1] * q[2] - t[2] * q[1]) / 2;
    duals[j * 8 + 5] = (t[1] * q[3] + t[2] * q[0] - t[0] * q[2]) / 2;
    duals[j * 8 + 6] = (t[2] * q[3] + t[0] * q[1] - t[1] * q[0]) / 2;
    duals[j * 8 + 7] = -(t[0] * q[0] + t[1] * q[1] + t[2] * q[2]) / 2;
    // H · S: unit upper-triangular shear times the sizes.
    sizes.set([s[0], h[0] * s[1], h[1] * s[2], 0, s[1], h[2] * s[2], 0, 0, s[2]], j * 9);
    const off = [s[0] - 1, s[1] - 1, s[2] - 1, ...h];
    if (off.some((v) => Math.abs(v) > 1e-12)) isRigid = false;
  }
  return { duals, sizes, isRigid };
}

/** The one of the two quaternions of a turn that is nearer to another, which stands at a place of an array; itself where the place is before it. */
function nearerTo(others: Readonly<Float64Array>, at: number, q: Quaternion): Quaternion {
  if (at < 0) return q;
  const side = q[0] * others[at] + q[1] * others[at + 1] + q[2] * others[at + 2] + q[3] * others[at + 3];
  return side < 0 ? [-q[0], -q[1], -q[2], -q[3]] : q;
}
