/** Whole numbers near `shares` that sum to `total`. */
export function largestRemainders(shares: number[], total: number): number[] {
  const whole = shares.map(Math.floor);
  const order = shares
    .map((share, i) => ({ i, rest: share - Math.floor(share) }))
    .sort((a, b) => b.rest - a.rest || a.i - b.i);
  let left = total - whole.reduce((sum, count) => sum + count, 0);
  for (const { i } of order) {
    if (left <= 0) break;
    whole[i]++;
    left--;
  }
  return whole;
}
