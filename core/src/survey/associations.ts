/**
 * Mid-ranks of values, 1 for the least; NaN stays NaN. Ties share the mean of their ranks, as in
 * Spearman (1904), American Journal of Psychology 15:72-101.
 */
export function midRanks(values: ArrayLike<number>): Float64Array {
  const order: number[] = [];
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) order.push(i);
  order.sort((a, b) => values[a] - values[b]);
  const ranks = new Float64Array(values.length).fill(NaN);
  for (let start = 0; start < order.length;) {
    let end = start + 1;
    while (end < order.length && values[order[end]] === values[order[start]]) end++;
    for (let i = start; i < end; i++) ranks[order[i]] = (start + 1 + end) / 2;
    start = end;
  }
  return ranks;
}

/**
 * Pearson's correlation over the rows where both are known; of mid-ranks it is Spearman's.
 * NaN when fewer than three rows are left or one side does not vary.
 */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let count = 0;
  let meanA = 0;
  let meanB = 0;
  let squaresA = 0;
  let squaresB = 0;
  let products = 0;
  for (let i = 0; i < a.length; i++) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    // Welford's update keeps the digits that sums of squares would lose.
    count++;
    const fromA = a[i] - meanA;
    const fromB = b[i] - meanB;
    meanA += fromA / count;
    meanB += fromB / count;
    squaresA += fromA * (a[i] - meanA);
    squaresB += fromB * (b[i] - meanB);
    products += fromA * (b[i] - meanB);
  }
  if (count < 3 || squaresA === 0 || squaresB === 0) return NaN;
  return products / Math.sqrt(squaresA * squaresB);
}
