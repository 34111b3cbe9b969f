import { symmetricEigen } from '../../numeric/index.ts';

/**
 * The part of `estimates` in the null space of a Gram matrix: what nobody who was summed in it
 * depends on. Undefined where there is no such space.
 *
 * @param gram symmetric, size x size, row-major
 */
export function withinNullSpace(
  gram: Float64Array,
  size: number,
  estimates: Float64Array,
): Float64Array | undefined {
  const { values, vectors } = symmetricEigen(gram, size);
  const direction = new Float64Array(size);
  let found = false;
  values.forEach((value, k) => {
    if (value > 1e-9 * values[0]) return;
    found = true;
    const vector = vectors[k];
    const length = vector.reduce((sum, x, j) => sum + x * estimates[j], 0);
    for (let j = 0; j < size; j++) direction[j] += length * vector[j];
  });
  return found ? direction : undefined;
}
