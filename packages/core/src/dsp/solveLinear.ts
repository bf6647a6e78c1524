/**
 * Solves a system of linear equations by Gauss's elimination with pivots, in place; a column without one
 * gets 0.
 *
 * @param matrix rows of coefficients, each with its right side last
 */
export function solveLinear(matrix: Float64Array[]): Float64Array {
  const size = matrix.length;
  for (let c = 0; c < size; c++) {
    let pivot = c;
    for (let r = c + 1; r < size; r++) if (Math.abs(matrix[r][c]) > Math.abs(matrix[pivot][c])) pivot = r;
    [matrix[c], matrix[pivot]] = [matrix[pivot], matrix[c]];
    if (Math.abs(matrix[c][c]) < 1e-9) continue;
    for (let r = 0; r < size; r++) {
      if (r === c) continue;
      const factor = matrix[r][c] / matrix[c][c];
      for (let k = c; k <= size; k++) matrix[r][k] -= factor * matrix[c][k];
    }
  }
  return Float64Array.from(matrix, (row, r) => (Math.abs(row[r]) < 1e-9 ? 0 : row[size] / row[r]));
}
