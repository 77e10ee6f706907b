import { randomFrom } from './random.ts';

/**
 * Simplex gradient noise in three and four dimensions (Perlin 2001; after Gustavson 2005), seeded.
 * The kernel radius² is 0.5 rather than the often used 0.6: contributions end before the neighbouring cells
 * begin, so values and first derivatives are continuous everywhere and the noise is exactly 0 at lattice corners.
 */
export interface NoiseField {
  permutation: Uint8Array;
  /** Gradients by permuted index: xyz × 512 in three dimensions. */
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Gradients by permuted index in four dimensions: xyzw × 512. */
  four: Float64Array;
}

/** How octaves are put together; `offset` moves the sample place, `frequency` is in cells per metre. */
export interface FractalSettings {
  octaves: number;
  /** Frequency ratio of an octave to the one before (usually 2). */
  lacunarity: number;
  /** Height ratio of an octave to the one before (usually 0.5). */
  gain: number;
}

const GRADIENTS_3 = [
  1, 1, 0, -1, 1, 0, 1, -1, 0, -1, -1, 0, 1, 0, 1, -1, 0, 1, 1, 0, -1, -1, 0, -1, 0, 1, 1, 0, -1, 1, 0, 1, -1, 0, -1, -1,
];

/** Largest magnitudes, found by dense search over all gradients and places, so that results stay in −1..1. */
const SCALE_3 = 76.8;
const SCALE_4 = 62.7;

/** Builds the tables of a seed. Seeds are integers; others are rounded down. */
export function makeNoise(seed: number): NoiseField {
  const random = randomFrom(Math.floor(seed) ^ 0x5eed);
  const order = Uint8Array.from({ length: 256 }, (_, i) => i);
  for (let i = 255; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    const kept = order[i];
    order[i] = order[j];
    order[j] = kept;
  }
  const permutation = new Uint8Array(512);
  const x = new Float64Array(512);
  const y = new Float64Array(512);
  const z = new Float64Array(512);
  const four = new Float64Array(2048);
  for (let i = 0; i < 512; i++) {
    const p = order[i & 255];
    permutation[i] = p;
    const g = (p % 12) * 3;
    x[i] = GRADIENTS_3[g];
    y[i] = GRADIENTS_3[g + 1];
    z[i] = GRADIENTS_3[g + 2];
    // The 32 midpoints of a 4-cube's edges: one axis is 0, the other three are ±1.
    const h = p % 32;
    const zeroAxis = h >> 3;
    for (let axis = 0, bit = 0; axis < 4; axis++) {
      four[i * 4 + axis] = axis === zeroAxis ? 0 : (h >> bit++) & 1 ? 1 : -1;
    }
  }
  return { permutation, x, y, z, four };
}

/** One octave at a place, in −1..1. */
export function noise3(field: NoiseField, px: number, py: number, pz: number): number {
  return fractalNoise3(field, px, py, pz, 1, 2, 0.5);
}

/**
 * Octaves of three-dimensional noise, weighted by `gain` and divided by the sum of the weights: in −1..1.
 * Octaves are offset by a whole irrational-looking step so that their zeros do not coincide at the origin.
 */
export function fractalNoise3(
  field: NoiseField,
  px: number,
  py: number,
  pz: number,
  octaves: number,
  lacunarity: number,
  gain: number,
): number {
  const { permutation: perm, x: gx, y: gy, z: gz } = field;
  let sum = 0;
  let height = 1;
  let total = 0;
  let x = px,
    y = py,
    z = pz;
  for (let octave = 0, count = octaves | 0; octave < count; octave++) {
    // 1. The cell, and the place in it.
    const skew = (x + y + z) * 0.3333333333333333;
    const i = Math.floor(x + skew),
      j = Math.floor(y + skew),
      k = Math.floor(z + skew);
    const unskew = (i + j + k) * 0.16666666666666666;
    const x0 = x - i + unskew,
      y0 = y - j + unskew,
      z0 = z - k + unskew;
    const ii = i & 255,
      jj = j & 255,
      kk = k & 255;
    const low = perm[kk],
      high = perm[kk + 1];
    // 2. The two middle corners, by the order of the coordinates: offsets and hashes together, which made this a
    // tenth faster than working them out from integer steps.
    let x1 = x0 + 0.16666666666666666,
      y1 = y0 + 0.16666666666666666,
      z1 = z0 + 0.16666666666666666;
    let x2 = x0 + 0.3333333333333333,
      y2 = y0 + 0.3333333333333333,
      z2 = z0 + 0.3333333333333333;
    let g1 = ii,
      g2 = ii;
    if (x0 >= y0) {
      if (y0 >= z0) {
        x1 -= 1;
        x2 -= 1;
        y2 -= 1;
        g1 += 1 + perm[jj + low];
        g2 += 1 + perm[jj + 1 + low];
      } else if (x0 >= z0) {
        x1 -= 1;
        x2 -= 1;
        z2 -= 1;
        g1 += 1 + perm[jj + low];
        g2 += 1 + perm[jj + high];
      } else {
        z1 -= 1;
        x2 -= 1;
        z2 -= 1;
        g1 += perm[jj + high];
        g2 += 1 + perm[jj + high];
      }
    } else {
      if (y0 < z0) {
        z1 -= 1;
        y2 -= 1;
        z2 -= 1;
        g1 += perm[jj + high];
        g2 += perm[jj + 1 + high];
      } else if (x0 < z0) {
        y1 -= 1;
        y2 -= 1;
        z2 -= 1;
        g1 += perm[jj + 1 + low];
        g2 += perm[jj + 1 + high];
      } else {
        y1 -= 1;
        x2 -= 1;
        y2 -= 1;
        g1 += perm[jj + 1 + low];
        g2 += 1 + perm[jj + 1 + low];
      }
    }
    // 3. What each of the four corners adds.
    let value = 0;
    let t = 0.5 - x0 * x0 - y0 * y0 - z0 * z0;
    if (t > 0) {
      const g = ii + perm[jj + low];
      t *= t;
      value = t * t * (gx[g] * x0 + gy[g] * y0 + gz[g] * z0);
    }
    t = 0.5 - x1 * x1 - y1 * y1 - z1 * z1;
    if (t > 0) {
      t *= t;
      value += t * t * (gx[g1] * x1 + gy[g1] * y1 + gz[g1] * z1);
    }
    t = 0.5 - x2 * x2 - y2 * y2 - z2 * z2;
    if (t > 0) {
      t *= t;
      value += t * t * (gx[g2] * x2 + gy[g2] * y2 + gz[g2] * z2);
    }
    const x3 = x0 - 0.5,
      y3 = y0 - 0.5,
      z3 = z0 - 0.5;
    t = 0.5 - x3 * x3 - y3 * y3 - z3 * z3;
    if (t > 0) {
      const g = ii + 1 + perm[jj + 1 + high];
      t *= t;
      value += t * t * (gx[g] * x3 + gy[g] * y3 + gz[g] * z3);
    }
    sum += value * height;
    total += height;
    height *= gain;
    x = x * lacunarity + 17.31;
    y = y * lacunarity - 9.73;
    z = z * lacunarity + 5.17;
  }
  return total !== 0 ? (sum / total) * SCALE_3 : 0;
}

/** As `fractalNoise3`, in four dimensions; the fourth is usually time. */
export function fractalNoise4(
  field: NoiseField,
  px: number,
  py: number,
  pz: number,
  pw: number,
  octaves: number,
  lacunarity: number,
  gain: number,
): number {
  const { permutation: perm, four } = field;
  const SKEW = (Math.sqrt(5) - 1) / 4;
  const UNSKEW = (5 - Math.sqrt(5)) / 20;
  let sum = 0;
  let height = 1;
  let total = 0;
  let x = px,
    y = py,
    z = pz,
    w = pw;
  for (let octave = 0, count = octaves | 0; octave < count; octave++) {
    const skew = (x + y + z + w) * SKEW;
    const i = Math.floor(x + skew),
      j = Math.floor(y + skew),
      k = Math.floor(z + skew),
      l = Math.floor(w + skew);
    const unskew = (i + j + k + l) * UNSKEW;
    const x0 = x - i + unskew,
      y0 = y - j + unskew,
      z0 = z - k + unskew,
      w0 = w - l + unskew;
    // The rank of each coordinate tells the order in which the corners of the simplex are walked.
    let rx = 0,
      ry = 0,
      rz = 0,
      rw = 0;
    if (x0 > y0) rx++;
    else ry++;
    if (x0 > z0) rx++;
    else rz++;
    if (x0 > w0) rx++;
    else rw++;
    if (y0 > z0) ry++;
    else rz++;
    if (y0 > w0) ry++;
    else rw++;
    if (z0 > w0) rz++;
    else rw++;
    const ii = i & 255,
      jj = j & 255,
      kk = k & 255,
      ll = l & 255;
    let value = 0;
    for (let corner = 0; corner < 5; corner++) {
      const level = 4 - corner;
      const di = rx >= level ? 1 : 0,
        dj = ry >= level ? 1 : 0,
        dk = rz >= level ? 1 : 0,
        dl = rw >= level ? 1 : 0;
      const shift = corner * UNSKEW;
      const cx = x0 - di + shift,
        cy = y0 - dj + shift,
        cz = z0 - dk + shift,
        cw = w0 - dl + shift;
      const t = 0.5 - cx * cx - cy * cy - cz * cz - cw * cw;
      if (t > 0) {
        const g = (ii + di + perm[jj + dj + perm[kk + dk + perm[ll + dl]]]) * 4;
        value += t * t * (t * t) * (four[g] * cx + four[g + 1] * cy + four[g + 2] * cz + four[g + 3] * cw);
      }
    }
    sum += value * height;
    total += height;
    height *= gain;
    x = x * lacunarity + 17.31;
    y = y * lacunarity - 9.73;
    z = z * lacunarity + 5.17;
    w = w * lacunarity - 3.41;
  }
  return total !== 0 ? (sum / total) * SCALE_4 : 0;
}
