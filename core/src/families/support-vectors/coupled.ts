/**
 * Shares of levels from what each pair says of a patient (Wu, Lin & Weng 2004, Journal of Machine Learning
 * Research 5:975-1005, second method).
 *
 * @param pairs levels × levels, row-major: how likely the first is if it is one of both
 */
export function coupled(pairs: Float64Array, levels: number): Float64Array {
  // Least of the sum over pairs of (r_ji p_i - r_ij p_j)², with shares that add up to 1: linear equations.
  const size = levels + 1;
  const rows = Array.from({ length: size }, () => new Float64Array(size + 1));
  for (let i = 0; i < levels; i++) {
    for (let j = 0; j < levels; j++) {
      if (i === j) continue;
      rows[i][i] += pairs[j * levels + i] ** 2;
      rows[i][j] = -pairs[j * levels + i] * pairs[i * levels + j];
    }
    rows[i][levels] = 1;
    rows[levels][i] = 1;
  }
  rows[levels][size] = 1;
  for (let k = 0; k < size; k++) {
    let best = k;
    for (let i = k + 1; i < size; i++) if (Math.abs(rows[i][k]) > Math.abs(rows[best][k])) best = i;
    [rows[k], rows[best]] = [rows[best], rows[k]];
    for (let i = 0; i < size; i++) {
      if (i === k) continue;
      const by = rows[i][k] / rows[k][k];
      if (by !== 0) for (let j = k; j <= size; j++) rows[i][j] -= by * rows[k][j];
    }
  }
  const shares = Float64Array.from({ length: levels }, (_, k) =>
    Math.max(0, rows[k][size] / rows[k][k]),
  );
  const total = shares.reduce((sum, one) => sum + one, 0);
  return shares.map((one) => one / total);
}
