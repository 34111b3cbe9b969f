/** Two facing densities on a common grid, each scaled to the same area. */
export interface RiskDensity {
  /** Grid of scores, ascending. */
  grid: number[];
  event: number[];
  none: number[];
}

/** Least bandwidth, as a share of the scale. */
const least = 0.004;

/** With no more different values than this there is no curve to be drawn. */
const fewValues = 6;

/**
 * Kernel density of the scores of both outcomes: normal kernel, bandwidth by Silverman's rule of
 * thumb (1986, Density Estimation, eq. 3.31) on the pooled risks, reflected at the ends so that no
 * mass leaks out of the scale. Counts are binned first, so the cost does not grow with patients.
 */
export function riskDensity(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  { points = 201, from = 0, to = 1 } = {},
): RiskDensity {
  const span = to - from;
  const counts = { event: new Float64Array(points), none: new Float64Array(points) };
  let [nEvent, nNone] = [0, 0];
  for (let i = 0; i < risks.length; i++) {
    const bin = Math.min(
      points - 1,
      Math.max(0, Math.round(((risks[i] - from) / span) * (points - 1))),
    );
    if (events[i]) nEvent++;
    else nNone++;
    counts[events[i] ? 'event' : 'none'][bin]++;
  }
  // A rule gives a few values only: peaks where they are, not a curve between them.
  const distinct = counts.event.reduce((sum, one, i) => sum + Number(one + counts.none[i] > 0), 0);
  const width =
    (distinct <= fewValues ? least : Math.max(least, bandwidth(risks) / span)) * (points - 1);
  return {
    grid: Array.from({ length: points }, (_, i) => from + (span * i) / (points - 1)),
    event: smooth(counts.event, width, nEvent),
    none: smooth(counts.none, width, nNone),
  };
}

function smooth(counts: Float64Array, width: number, total: number): number[] {
  const points = counts.length;
  const reach = Math.ceil(4 * width);
  const kernel = Array.from({ length: reach + 1 }, (_, d) => Math.exp(-0.5 * (d / width) ** 2));
  const sum = kernel[0] + 2 * kernel.slice(1).reduce((a, b) => a + b, 0);
  const out = new Array<number>(points).fill(0);
  if (total === 0) return out;
  for (let i = 0; i < points; i++) {
    if (counts[i] === 0) continue;
    const mass = counts[i] / total / sum;
    for (let d = -reach; d <= reach; d++) {
      let at = i + d;
      if (at < 0) at = -at - 1;
      if (at >= points) at = 2 * points - at - 1;
      if (at >= 0 && at < points) out[at] += mass * kernel[Math.abs(d)] * (points - 1);
    }
  }
  return out;
}

function bandwidth(risks: ArrayLike<number>): number {
  const sorted = Float64Array.from(risks).sort();
  const n = sorted.length;
  if (n === 0) return 0.02;
  const mean = sorted.reduce((a, b) => a + b, 0) / n;
  const sd = Math.sqrt(sorted.reduce((a, b) => a + (b - mean) ** 2, 0) / n);
  const middle = (sorted[Math.floor(0.75 * (n - 1))] - sorted[Math.floor(0.25 * (n - 1))]) / 1.349;
  const spread = middle > 0 ? Math.min(sd, middle) : sd;
  return 0.9 * spread * n ** -0.2;
}
