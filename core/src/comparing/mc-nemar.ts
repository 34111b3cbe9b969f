/**
 * Exact two-sided p of McNemar's test (1947, Psychometrika 12:153-157): of the patients in whom only one of
 * two is right, as many would be expected either way.
 *
 * @param first patients in whom only the first is right
 * @param second those in whom only the second is
 */
export function mcNemar(first: number, second: number): number {
  const all = first + second;
  const fewer = Math.min(first, second);
  if (2 * fewer === all) return 1;
  // Logarithms of binomial probabilities, each from the one before.
  let log = -all * Math.LN2;
  let sum = 0;
  for (let k = 0; k <= fewer; k++) {
    sum += Math.exp(log);
    log += Math.log((all - k) / (k + 1));
  }
  return Math.min(1, 2 * sum);
}
