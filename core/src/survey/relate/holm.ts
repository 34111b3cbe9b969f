/**
 * p adjusted for as many looks as there are tests: Holm (1979), Scandinavian Journal of Statistics
 * 6:65-70. NaN stays NaN and is not counted.
 */
export function holm(p: number[]): number[] {
  const order = p
    .flatMap((value, i) => (Number.isNaN(value) ? [] : [i]))
    .sort((a, b) => p[a] - p[b]);
  const adjusted = p.map(() => NaN);
  let largest = 0;
  order.forEach((i, place) => {
    largest = Math.max(largest, Math.min(1, p[i] * (order.length - place)));
    adjusted[i] = largest;
  });
  return adjusted;
}
