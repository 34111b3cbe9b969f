import { factorise, solve } from '../../numeric/index.ts';

/**
 * Weights of zero and more that sum to one, with which a weighted sum of predictions has the least
 * squared error (stacking: Breiman 1996, Machine Learning 24:49-64; van der Laan, Polley & Hubbard 2007,
 * Statistical Applications in Genetics and Molecular Biology 6:25).
 *
 * The least lies where some weights are zero and the others solve a linear system: every set of parts
 * is tried, so that it is found exactly. Of sets that are as good the first one stays.
 *
 * @param said by part its predictions, all of the same length
 * @param truth what they should have been
 */
export function leastSquaresWeights(said: Float64Array[], truth: Float64Array): number[] {
  const count = said.length;
  const products = said.map((one) => said.map((other) => distance(one, other, truth)));
  let best = { loss: Infinity, weights: said.map(() => 1 / count) };
  for (let set = 1; set < 1 << count; set++) {
    const places = said.flatMap((_, k) => ((set >> k) & 1 ? [k] : []));
    const own = weightsWithin(products, places);
    if (!own) continue;
    const weights = said.map(() => 0);
    places.forEach((k, i) => (weights[k] = own[i]));
    const loss = quadratic(products, weights);
    // What is only better by rounding is no better.
    if (loss < best.loss * (1 - 1e-12)) best = { loss, weights };
  }
  return best.weights;
}

/** Mean squared error of the weighted sum, times the numbers in `truth`. */
const quadratic = (products: number[][], weights: number[]): number =>
  weights.reduce(
    (sum, one, k) => sum + weights.reduce((own, other, l) => own + one * other * products[k][l], 0),
    0,
  );

/** Sum of the products of two parts' errors: as weights sum to one, all that the loss depends on. */
function distance(one: Float64Array, other: Float64Array, truth: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < truth.length; i++) sum += (one[i] - truth[i]) * (other[i] - truth[i]);
  return sum;
}

/** Weights of these parts alone with the least loss, where all are positive; undefined where parts repeat others. */
function weightsWithin(products: number[][], places: number[]): number[] | undefined {
  const size = places.length;
  if (size === 1) return [1];
  const matrix = Float64Array.from(places.flatMap((k) => places.map((l) => products[k][l])));
  const factor = factorise(matrix, size);
  if (!factor.kept.every(Boolean)) return undefined;
  const solved = solve(factor, new Float64Array(size).fill(1));
  const sum = solved.reduce((total, one) => total + one, 0);
  const weights = Array.from(solved, (one) => one / sum);
  return weights.every((one) => one > 0) ? weights : undefined;
}
