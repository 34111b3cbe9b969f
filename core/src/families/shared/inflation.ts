import { blockRows, factorise, invert } from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { fillBlock, newBlock } from './blocks.ts';
import { centre } from './centred.ts';

/**
 * Variance inflation factor 1 / (1 - R²) of each input that is kept: the diagonal of the inverse
 * correlation matrix (Belsley, Kuh & Welsch 1980, Regression Diagnostics, 3.1).
 *
 * @returns by name; nothing for inputs that are left out
 */
export function inflationFactors(
  inputs: Inputs,
  kept: boolean[],
  weights?: Float64Array,
): Map<string, { inflation: number }> {
  const places = kept.flatMap((one, j) => (one ? [j] : []));
  if (places.length === 0) return new Map();
  const chosen = { ...inputs, columns: places.map((j) => inputs.columns[j]) };
  const centred = centre(chosen, weights);
  const size = places.length + 1;
  const block = newBlock(size);
  block.weights.fill(1);
  block.sums.fill(0);
  let total = 0;
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    fillBlock(block, centred, start, rows);
    for (let i = 0; i < rows; i++) {
      const weight = weights ? weights[start + i] : 1;
      block.weights[i] = weight;
      total += weight;
    }
    block.add();
  }
  const matrix = new Float64Array(places.length ** 2);
  for (let i = 0; i < places.length; i++)
    for (let j = 0; j <= i; j++)
      matrix[i * places.length + j] = block.sums[(i + 1) * size + j + 1] / total;
  const inverse = invert(factorise(matrix, places.length, 0));
  return new Map(
    places.map((place, i) => [inputs.names[place], { inflation: inverse[i * places.length + i] }]),
  );
}
