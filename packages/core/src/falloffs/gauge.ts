/** Shapes about the origin: their unit boundary reaches to 1 along each axis. */
export const FALLOFF_SHAPES = ['sphere', 'box', 'cylinder', 'cone', 'capsule', 'plane'] as const;
export type FalloffShape = (typeof FALLOFF_SHAPES)[number];

/**
 * How much a shape has to grow about its centre to reach a place (its gauge): 1 on the unit boundary, and twice as far
 * out 2. Cylinder, cone and capsule stand along y; the cone has its tip at y = 1 and its base, of radius 1, at y = −1;
 * the capsule is half as wide as high. A plane has no width: it is y itself, so that everything below counts as inside.
 */
export function gaugeAt(shape: FalloffShape, rounding: number, x: number, y: number, z: number): number {
  switch (shape) {
    case 'sphere':
      return Math.sqrt(x * x + y * y + z * z);
    case 'box':
      return boxGauge(rounding, x, y, z);
    case 'cylinder':
      return Math.max(Math.sqrt(x * x + z * z), Math.abs(y));
    case 'cone':
      return Math.max(-y, 2 * Math.sqrt(x * x + z * z) + y);
    case 'capsule': {
      const across = x * x + z * z;
      const up = Math.abs(y);
      return up * up <= across ? 2 * Math.sqrt(across) : (across + up * up) / up;
    }
    case 'plane':
      return y;
  }
}

/**
 * Gauge of a unit box whose edges are rounded by r: the d for which the place is at distance d·r from a box of half
 * size d·(1 − r). Which of the three coordinates reach beyond that box decides the equation.
 */
function boxGauge(r: number, x: number, y: number, z: number): number {
  let a = Math.abs(x);
  let b = Math.abs(y);
  let c = Math.abs(z);
  if (a < b) [a, b] = [b, a];
  if (b < c) [b, c] = [c, b];
  if (a < b) [a, b] = [b, a];
  const q = 1 - r;
  if (!(r > 0) || b <= a * q) return a;
  let d = rounded(2, a + b, a * a + b * b, q, r);
  if (c > d * q) d = rounded(3, a + b + c, a * a + b * b + c * c, q, r);
  return d;
}

/** Smaller positive solution of (n·q² − r²)·d² − 2·q·sum·d + squares = 0, in the form that does not cancel. */
function rounded(n: number, sum: number, squares: number, q: number, r: number): number {
  const half = q * sum;
  const below = half + Math.sqrt(Math.max(0, half * half - (n * q * q - r * r) * squares));
  return below > 0 ? squares / below : 0;
}
