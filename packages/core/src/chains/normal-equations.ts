/**
 * Solves `(A + λ² I) x = b` for a symmetric matrix of which the lower half is given, row by row, by Cholesky's
 * factorisation. Undefined where it is not finite. `A` is written over.
 */
export function solveDamped(
  A: Float64Array,
  n: number,
  b: Readonly<Float64Array>,
  lambdaSquared: number,
): Float64Array | undefined {
  for (let i = 0; i < n; i++) A[i * n + i] += lambdaSquared;
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = A[i * n + j];
      for (let k = 0; k < j; k++) sum -= A[i * n + k] * A[j * n + k];
      if (i === j) {
        if (!(sum > 0 && sum < Infinity)) return undefined;
        A[i * n + i] = Math.sqrt(sum);
      } else A[i * n + j] = sum / A[j * n + j];
    }
  }
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= A[i * n + k] * x[k];
    x[i] /= A[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= A[k * n + i] * x[k];
    x[i] /= A[i * n + i];
  }
  return x;
}
