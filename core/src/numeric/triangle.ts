/** Solves R x = b for an upper triangle. @param triangle size x size, row-major */
export function solveTriangle(
  triangle: Float64Array,
  size: number,
  right: ArrayLike<number>,
): Float64Array {
  const x = new Float64Array(size);
  for (let i = size - 1; i >= 0; i--) {
    let sum = right[i];
    for (let k = i + 1; k < size; k++) sum -= triangle[i * size + k] * x[k];
    x[i] = sum / triangle[i * size + i];
  }
  return x;
}

/** (Rᵗ R)⁻¹ = R⁻¹ R⁻ᵗ of an upper triangle, row-major. */
export function invertTriangle(triangle: Float64Array, size: number): Float64Array {
  const inverse: Float64Array[] = [];
  const unit = new Float64Array(size);
  for (let j = 0; j < size; j++) {
    unit.fill(0);
    unit[j] = 1;
    inverse.push(solveTriangle(triangle, size, unit));
  }
  const product = new Float64Array(size * size);
  for (let i = 0; i < size; i++)
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      // Columns of R⁻¹ before the later of the two have nothing in its row.
      for (let k = i; k < size; k++) sum += inverse[k][i] * inverse[k][j];
      product[i * size + j] = product[j * size + i] = sum;
    }
  return product;
}
