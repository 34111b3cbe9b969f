/**
 * Column-by-column Cholesky factor of a symmetric matrix, which also finds the columns that
 * repeat earlier ones: a column whose remaining pivot is below `tolerance` times its diagonal is
 * left out and its row and column are treated as absent. A general-purpose decomposition would
 * only say that the matrix is singular, not which predictor is to blame.
 *
 * @param matrix size × size, row-major; only the lower triangle is read
 */
export function factorise(matrix: Float64Array, size: number, tolerance = 1e-11): Factor {
  const lower = new Float64Array(size * size);
  const kept: boolean[] = [];
  for (let j = 0; j < size; j++) {
    let pivot = matrix[j * size + j];
    for (let k = 0; k < j; k++) pivot -= lower[j * size + k] ** 2;
    kept[j] = pivot > tolerance * matrix[j * size + j] && pivot > 0;
    if (!kept[j]) continue;
    const root = Math.sqrt(pivot);
    lower[j * size + j] = root;
    for (let i = j + 1; i < size; i++) {
      let sum = matrix[i * size + j];
      for (let k = 0; k < j; k++) sum -= lower[i * size + k] * lower[j * size + k];
      lower[i * size + j] = sum / root;
    }
  }
  return { lower, size, kept };
}

export interface Factor {
  lower: Float64Array;
  size: number;
  /** False where a column is a combination of earlier ones. */
  kept: boolean[];
}

/** Solves A x = b for the kept columns; left-out entries of x are 0. */
export function solve({ lower, size, kept }: Factor, right: ArrayLike<number>): Float64Array {
  const x = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    if (!kept[i]) continue;
    let sum = right[i];
    for (let k = 0; k < i; k++) sum -= lower[i * size + k] * x[k];
    x[i] = sum / lower[i * size + i];
  }
  for (let i = size - 1; i >= 0; i--) {
    if (!kept[i]) continue;
    let sum = x[i];
    for (let k = i + 1; k < size; k++) sum -= lower[k * size + i] * x[k];
    x[i] = sum / lower[i * size + i];
  }
  return x;
}

/** Inverse over the kept columns (row-major); rows and columns of left-out ones are 0. */
export function invert(factor: Factor): Float64Array {
  const { size, kept } = factor;
  const inverse = new Float64Array(size * size);
  const unit = new Float64Array(size);
  for (let j = 0; j < size; j++) {
    if (!kept[j]) continue;
    unit.fill(0);
    unit[j] = 1;
    const column = solve(factor, unit);
    for (let i = 0; i < size; i++) inverse[i * size + j] = column[i];
  }
  return inverse;
}

/** The factor over fewer columns: those that `kept` leaves out are treated as absent. */
export function keepOnly(factor: Factor, kept: boolean[]): Factor {
  return { ...factor, kept: factor.kept.map((usable, j) => usable && kept[j]) };
}
