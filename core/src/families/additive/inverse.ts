import type { Factor } from '../../numeric/index.ts';

/** Of each column of the inverse of the factor, its numbers from the diagonal on, row-major by column. */
function columnsOf({ lower, size, kept }: Factor): Float64Array {
  const columns = new Float64Array(size * size);
  for (let j = 0; j < size; j++) {
    if (!kept[j]) continue;
    const own = j * size;
    columns[own + j] = 1 / lower[own + j];
    for (let i = j + 1; i < size; i++) {
      if (!kept[i]) continue;
      const row = i * size;
      let sum = 0;
      for (let k = j; k < i; k++) sum += lower[row + k] * columns[own + k];
      columns[own + i] = -sum / lower[row + i];
    }
  }
  return columns;
}

/**
 * The inverse within blocks, row-major with 0 elsewhere: a third of the work where they are small.
 *
 * @param blocks ends of those along the diagonal, one behind the other
 */
export function inverseWithin(factor: Factor, blocks: number[]): Float64Array {
  const { size } = factor;
  const columns = columnsOf(factor);
  const inverse = new Float64Array(size * size);
  let from = 0;
  for (const to of blocks) {
    for (let a = from; a < to; a++)
      for (let b = from; b <= a; b++) {
        let sum = 0;
        for (let k = a; k < size; k++) sum += columns[a * size + k] * columns[b * size + k];
        inverse[a * size + b] = inverse[b * size + a] = sum;
      }
    from = to;
  }
  return inverse;
}
