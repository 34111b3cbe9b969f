import { blockRows, chiSquareUpperTail, fUpperTail, logistic } from '../../numeric/index.ts';
import type { Clusters } from '../../measures/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import type { Proportionality, ProportionalityTest } from '../facets.ts';
import { maximiseLikelihood, type Maximum } from '../logistic/index.ts';
import {
  along,
  centre,
  type Centred,
  clusterCovariance,
  fillBlock,
  newBlock,
  waldStatistic,
} from '../shared/index.ts';

/**
 * Whether the slopes are the same at every threshold: each threshold has a logistic regression of its
 * own, and their slopes are compared by a Wald test, for all inputs and for each. Brant (1990),
 * Biometrics 46:1171-1178. Undefined where one of them has no finite estimate, or there is but one.
 *
 * @param codes level of each patient, from 0, in their order
 * @param clusters where rows are of one patient or group: the covariance is then robust by cluster, and F with
 *   clusters less 1 degrees of freedom is in place of chi-square
 */
export function testProportionality(
  inputs: Inputs,
  codes: ArrayLike<number>,
  present: number[],
  kept: boolean[],
  iterations: number,
  weights?: Float64Array,
  clusters?: Clusters,
): Proportionality | undefined {
  const places = kept.flatMap((one, j) => (one ? [j] : []));
  const cuts = present.slice(1);
  if (cuts.length < 2 || places.length === 0) return undefined;
  const chosen: Inputs = {
    rowCount: inputs.rowCount,
    names: places.map((j) => inputs.names[j]),
    columns: scaled(centre({ ...inputs, columns: places.map((j) => inputs.columns[j]) }, weights)),
  };
  const fits: Maximum[] = [];
  for (const cut of cuts) {
    const above = Int8Array.from({ length: codes.length }, (_, i) => Number(codes[i] >= cut));
    const fit = maximiseLikelihood(chosen, above, { iterations, weights });
    if (!fit.converged || fit.restless || fit.kept.includes(false)) return undefined;
    fits.push(fit);
  }
  const count = places.length;
  const covariance = clusters
    ? jointByCluster(chosen, codes, cuts, fits, clusters, weights)
    : jointCovariance(chosen, fits, weights);
  const slopes = fits.flatMap(({ estimates }) => Array.from(estimates.subarray(1)));
  const compare = (members: number[]) =>
    compareSlopes(slopes, covariance, members, fits.length, count, clusters);
  const overall = compare(places.map((_, i) => i));
  const single = chosen.names.map((input, i) => ({ input, test: compare([i]) }));
  if (!overall || single.some(({ test }) => !test)) return undefined;
  return { overall, inputs: single.map(({ input, test }) => ({ input, ...test! })) };
}

function scaled({ columns, means, factors }: Centred): Float64Array[] {
  return columns.map((column, j) => column.map((value) => (value - means[j]) * factors[j]));
}

/** Covariance of the slopes of all fits, fit after fit: A⁻¹ B C⁻¹ for each pair. */
function jointCovariance(inputs: Inputs, fits: Maximum[], weights?: Float64Array): Float64Array {
  const size = inputs.columns.length + 1;
  const count = size - 1;
  const width = fits.length * count;
  const whole = new Float64Array(width * width);
  const plain = unscaled(inputs);
  const risks = fits.map(({ estimates }) => along(plain, estimates).map(logistic));
  const block = newBlock(size);
  fits.forEach((one, a) => {
    fits.forEach((other, b) => {
      if (b < a) return;
      block.sums.fill(0);
      for (let start = 0; start < inputs.rowCount; start += blockRows) {
        const rows = Math.min(blockRows, inputs.rowCount - start);
        fillBlock(block, plain, start, rows);
        for (let i = 0; i < rows; i++) {
          const weight = weights ? weights[start + i] : 1;
          block.weights[i] = weight * risks[b][start + i] * (1 - risks[a][start + i]);
        }
        block.weights.fill(0, rows);
        block.add();
      }
      const between = sandwich(one.covariance, block.sums, other.covariance, size);
      for (let i = 0; i < count; i++)
        for (let j = 0; j < count; j++) {
          const value = between[(i + 1) * size + j + 1];
          whole[(a * count + i) * width + b * count + j] = value;
          whole[(b * count + j) * width + a * count + i] = value;
        }
    });
  });
  return whole;
}

/** The same where rows are dependent: the scores of all fits together, summed by cluster. */
function jointByCluster(
  inputs: Inputs,
  codes: ArrayLike<number>,
  cuts: number[],
  fits: Maximum[],
  clusters: Clusters,
  weights?: Float64Array,
): Float64Array {
  const size = inputs.columns.length + 1;
  const width = fits.length * size;
  const inverse = new Float64Array(width * width);
  fits.forEach(({ covariance }, f) => {
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++)
        inverse[(f * size + j) * width + f * size + k] = covariance[j * size + k];
  });
  const plain = unscaled(inputs);
  const risks = fits.map(({ estimates }) => along(plain, estimates).map(logistic));
  const score = (row: number, into: Float64Array) =>
    cuts.forEach((cut, f) => {
      const own = (weights?.[row] ?? 1) * (Number(codes[row] >= cut) - risks[f][row]);
      into[f * size] = own;
      inputs.columns.forEach((column, j) => (into[f * size + j + 1] = own * column[row]));
    });
  const whole = clusterCovariance(inverse, width, size, clusters, score);
  const slopes = fits.flatMap((_, f) =>
    Array.from({ length: size - 1 }, (_, j) => f * size + j + 1),
  );
  return Float64Array.from(slopes.flatMap((j) => slopes.map((k) => whole[j * width + k])));
}

/** Inputs that are as they shall be. */
const unscaled = (inputs: Inputs): Centred => ({
  ...inputs,
  means: inputs.columns.map(() => 0),
  scales: inputs.columns.map(() => 1),
  factors: inputs.columns.map(() => 1),
});

/** A L B, where L is given by its lower triangle. */
function sandwich(a: Float64Array, lower: Float64Array, b: Float64Array, size: number) {
  const at = (i: number, j: number) => lower[Math.max(i, j) * size + Math.min(i, j)];
  const half = new Float64Array(size * size);
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++) half[i * size + j] += a[i * size + k] * at(k, j);
  const whole = new Float64Array(size * size);
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++) whole[i * size + j] += half[i * size + k] * b[k * size + j];
  return whole;
}

/** Wald test that these inputs have the same slope in the first fit as in each other. */
function compareSlopes(
  slopes: number[],
  covariance: Float64Array,
  members: number[],
  fits: number,
  count: number,
  clusters?: Clusters,
): ProportionalityTest | undefined {
  const width = fits * count;
  const contrasts = Array.from({ length: fits - 1 }, (_, fit) =>
    members.map((i) => [i, (fit + 1) * count + i]),
  ).flat();
  const difference = contrasts.map(([first, other]) => slopes[first] - slopes[other]);
  const size = contrasts.length;
  const matrix = new Float64Array(size * size);
  const v = (i: number, j: number) => covariance[i * width + j];
  contrasts.forEach(([a, b], i) => {
    contrasts.forEach(([c, d], j) => {
      matrix[i * size + j] = v(a, c) - v(a, d) - v(b, c) + v(b, d);
    });
  });
  const chiSquare = waldStatistic(difference, matrix);
  if (chiSquare === undefined) return undefined;
  const p =
    clusters === undefined
      ? chiSquareUpperTail(chiSquare, size)
      : fUpperTail(chiSquare / size, size, clusters.count - 1);
  return { chiSquare, degrees: size, p };
}
