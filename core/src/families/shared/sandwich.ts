import type { Clusters } from '../../measures/index.ts';
import type { Inputs } from '../../preparation/index.ts';

/** Variances of estimates where rows are of one patient or group, and how many such clusters there are. */
export interface ClusterVariances {
  variances: Float64Array;
  clusters: number;
}

/**
 * Cluster-robust variances of estimates: the diagonal of clusterCovariance.
 *
 * @example one row a cluster gives the heteroskedasticity-consistent variances
 */
export function clusterVariances(...given: Parameters<typeof clusterCovariance>): ClusterVariances {
  const [, size, , { count }] = given;
  const covariance = clusterCovariance(...given);
  const variances = Float64Array.from({ length: size }, (_, j) => covariance[j * size + j]);
  return { variances, clusters: count };
}

/**
 * Cluster-robust covariance of estimates, row-major q × q: the inverse information around the cross-products of the
 * scores summed by cluster, times k / (k − 1) × (n − 1) / (n − q) (Liang & Zeger 1986, Biometrika 73:13-22; the
 * correction for few clusters is common practice). Judge by Student's t with k − 1 degrees of freedom.
 *
 * @param inverse information inverted, row-major q × q; zero rows for what is left out
 * @param size q, the number of estimates
 * @param parameters estimates that are not left out, or effective degrees of freedom
 * @param score writes the score of row i, one number per estimate
 */
export function clusterCovariance(
  inverse: ArrayLike<number>,
  size: number,
  parameters: number,
  { codes, count }: Clusters,
  score: (row: number, into: Float64Array) => void,
): Float64Array {
  const sums = new Float64Array(count * size);
  const own = new Float64Array(size);
  for (let row = 0; row < codes.length; row++) {
    score(row, own);
    const at = codes[row] * size;
    for (let j = 0; j < size; j++) sums[at + j] += own[j];
  }
  const covariance = new Float64Array(size * size);
  const moved = new Float64Array(size);
  for (let cluster = 0; cluster < count; cluster++) {
    const at = cluster * size;
    for (let j = 0; j < size; j++) {
      let sum = 0;
      for (let k = 0; k < size; k++) sum += inverse[j * size + k] * sums[at + k];
      moved[j] = sum;
    }
    for (let j = 0; j < size; j++)
      for (let k = 0; k <= j; k++) covariance[j * size + k] += moved[j] * moved[k];
  }
  const rows = codes.length;
  const correction = ((count / (count - 1)) * (rows - 1)) / Math.max(1, rows - parameters);
  for (let j = 0; j < size; j++)
    for (let k = 0; k <= j; k++) covariance[k * size + j] = covariance[j * size + k] *= correction;
  return covariance;
}

/** What a row adds to the score of an intercept and slopes: its residual times 1 and its inputs. */
export const scoreOfLine =
  ({ columns }: Inputs, residual: (row: number) => number) =>
  (row: number, into: Float64Array): void => {
    const own = residual(row);
    into[0] = own;
    columns.forEach((column, j) => (into[j + 1] = own * column[row]));
  };
