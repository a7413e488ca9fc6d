/** Small systems of linear equations. */

/**
 * Solves A·x = b for a symmetric positive definite A of n × n, row by row (Cholesky). Null where A is not positive
 * definite. Leaves A and b as they are.
 */
export function solveSymmetric(a: ArrayLike<number>, b: ArrayLike<number>, n: number): number[] | null {
  const l = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= l[i * n + k]! * l[j * n + k]!;
      if (i !== j) l[i * n + j] = sum / l[j * n + j]!;
      else if (sum > 1e-300) l[i * n + i] = Math.sqrt(sum);
      else return null;
    }
  const x = new Array<number>(n).fill(0);
  for (let i = 0; i < n; i++) {
    let sum = b[i]!;
    for (let k = 0; k < i; k++) sum -= l[i * n + k]! * x[k]!;
    x[i] = sum / l[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    let sum = x[i]!;
    for (let k = i + 1; k < n; k++) sum -= l[k * n + i]! * x[k]!;
    x[i] = sum / l[i * n + i]!;
  }
  return x;
}

/** Diagonal of the inverse of a symmetric positive definite matrix of n × n; null where it is not one. */
export function inverseDiagonal(a: ArrayLike<number>, n: number): number[] | null {
  const diagonal: number[] = [];
  for (let i = 0; i < n; i++) {
    const unit = new Array<number>(n).fill(0);
    unit[i] = 1;
    const column = solveSymmetric(a, unit, n);
    if (!column) return null;
    diagonal.push(column[i]!);
  }
  return diagonal;
}

/**
 * Solves A·x = b for several b and a symmetric positive definite A of n × n whose numbers are 0 farther than `reach` from
 * the diagonal (banded Cholesky; n·reach² steps). `band` has reach + 1 numbers a row: A[i][i], A[i][i − 1], and so on
 * down to A[i][i − reach]. It is overwritten, as are the b, which become the x and are given back.
 */
export function solveBanded(
  band: Float64Array,
  reach: number,
  rights: readonly Float64Array[],
): readonly Float64Array[] {
  // prettier-ignore
  const row = reach + 1;
  const n = band.length / row;
  for (let i = 0; i < n; i++)
    for (let j = Math.max(0, i - reach); j <= i; j++) {
      let sum = band[i * row + i - j]!;
      for (let k = Math.max(0, i - reach); k < j; k++) sum -= band[i * row + i - k]! * band[j * row + j - k]!;
      band[i * row + i - j] = i === j ? Math.sqrt(sum) : sum / band[j * row]!;
    }
  for (const x of rights) {
    for (let i = 0; i < n; i++) {
      for (let k = Math.max(0, i - reach); k < i; k++) x[i]! -= band[i * row + i - k]! * x[k]!;
      x[i]! /= band[i * row]!;
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let k = i + 1; k <= Math.min(n - 1, i + reach); k++) x[i]! -= band[k * row + k - i]! * x[k]!;
      x[i]! /= band[i * row]!;
    }
  }
  return rights;
}
