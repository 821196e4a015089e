/**
 * Solves a small dense system in place by Gaussian elimination with row pivoting.
 * @param matrix n x n, row-major; overwritten
 * @param rightSide length n; overwritten with the solution
 * @returns false when the matrix is singular to working precision (contents then undefined)
 */
export function solveLinear(matrix: Float64Array, rightSide: Float64Array): boolean {
  const n = rightSide.length;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let row = column + 1; row < n; row++) {
      if (Math.abs(matrix[row * n + column]) > Math.abs(matrix[pivot * n + column])) pivot = row;
    }
    const top = matrix[pivot * n + column];
    if (!(Math.abs(top) > 0) || !Number.isFinite(top)) return false;
    if (pivot !== column) {
      for (let k = 0; k < n; k++) {
        const swap = matrix[column * n + k];
        matrix[column * n + k] = matrix[pivot * n + k];
        matrix[pivot * n + k] = swap;
      }
      const swap = rightSide[column];
      rightSide[column] = rightSide[pivot];
      rightSide[pivot] = swap;
    }
    for (let row = column + 1; row < n; row++) {
      const factor = matrix[row * n + column] / top;
      if (factor === 0) continue;
      for (let k = column; k < n; k++) matrix[row * n + k] -= factor * matrix[column * n + k];
      rightSide[row] -= factor * rightSide[column];
    }
  }
  for (let row = n - 1; row >= 0; row--) {
    let sum = rightSide[row];
    for (let k = row + 1; k < n; k++) sum -= matrix[row * n + k] * rightSide[k];
    rightSide[row] = sum / matrix[row * n + row];
  }
  return true;
}
