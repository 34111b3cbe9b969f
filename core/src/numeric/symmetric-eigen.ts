import { EigenvalueDecomposition, Matrix } from 'ml-matrix';

export interface Eigen {
  /** Largest first. */
  values: Float64Array;
  /** Row-major, one unit vector a row, in the order of `values`. */
  vectors: Float64Array[];
}

/** Eigenvalues and unit eigenvectors of a symmetric matrix. @param matrix size × size, row-major */
export function symmetricEigen(matrix: Float64Array, size: number): Eigen {
  const rows = Array.from({ length: size }, (_, i) =>
    Array.from(matrix.subarray(i * size, (i + 1) * size)),
  );
  const found = new EigenvalueDecomposition(new Matrix(rows), { assumeSymmetric: true });
  const order = Array.from({ length: size }, (_, i) => i).sort(
    (a, b) => found.realEigenvalues[b] - found.realEigenvalues[a],
  );
  return {
    values: Float64Array.from(order, (i) => found.realEigenvalues[i]),
    vectors: order.map((i) => Float64Array.from(found.eigenvectorMatrix.getColumn(i))),
  };
}
