/**
 * A smooth line through a cloud of points: at each place a straight line fitted to the nearest
 * `span` of the points with tricube weights, Cleveland (1979), Journal of the American Statistical
 * Association 74:829-836, without the rounds against outliers.
 *
 * @param x, y rows where both are known count
 * @returns the line at `points` places evenly from the least x to the greatest, NaN within gaps in
 *   which nobody lies (a tenth of the range or more); empty for fewer than four points or an x that
 *   does not vary
 */
export function localRegression(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  span = 0.5,
  points = 60,
): { x: number; y: number }[] {
  const known: { x: number; y: number }[] = [];
  for (let i = 0; i < x.length; i++)
    if (!Number.isNaN(x[i]) && !Number.isNaN(y[i])) known.push({ x: x[i], y: y[i] });
  known.sort((a, b) => a.x - b.x);
  const least = known[0]?.x;
  const greatest = known.at(-1)?.x;
  if (known.length < 4 || least === undefined || greatest === undefined || least === greatest)
    return [];
  const nearest = Math.max(3, Math.min(known.length, Math.ceil(span * known.length)));
  // Of few points each stretch between two is long.
  const openFrom = Math.max(gapShare, 5 / known.length) * (greatest - least);
  let from = 0;
  let next = 0;
  return Array.from({ length: points }, (_, i) => {
    const at = least + (i * (greatest - least)) / (points - 1);
    // The window of the nearest points only ever moves to the right.
    while (from + nearest < known.length && known[from + nearest].x - at < at - known[from].x)
      from++;
    while (next < known.length && known[next].x < at) next++;
    const gap = next > 0 && next < known.length ? known[next].x - known[next - 1].x : 0;
    const nobody = gap > openFrom && known[next].x !== at;
    return { x: at, y: nobody ? NaN : lineAt(known, from, from + nearest, at) };
  });
}

/** A stretch without a single point that is longer than this share of the range is left open. */
const gapShare = 0.1;

/** The weighted line's height; the weighted mean where the window holds one x only. */
function lineAt(points: { x: number; y: number }[], from: number, to: number, at: number): number {
  // A little beyond the farthest point, which would otherwise weigh nothing at all.
  const reach = 1.0001 * Math.max(at - points[from].x, points[to - 1].x - at) || 1;
  let weights = 0;
  let meanX = 0;
  let meanY = 0;
  let squares = 0;
  let products = 0;
  for (let i = from; i < to; i++) {
    const { x, y } = points[i];
    const weight = (1 - (Math.abs(x - at) / reach) ** 3) ** 3;
    weights += weight;
    const awayX = x - meanX;
    meanX += (weight / weights) * awayX;
    const awayY = y - meanY;
    meanY += (weight / weights) * awayY;
    squares += weight * awayX * (x - meanX);
    products += weight * awayX * (y - meanY);
  }
  return squares > 1e-12 * reach * reach * weights
    ? meanY + (products / squares) * (at - meanX)
    : meanY;
}
