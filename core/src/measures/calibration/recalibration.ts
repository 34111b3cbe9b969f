import { logistic, softplus } from '../../numeric/index.ts';
import { reachOf, variationBetween, type Clusters } from '../clusters.ts';
import type { Interval } from '../intervals.ts';

export interface Estimate {
  value: number;
  standardError: number;
  /** 95%, Wald; by cluster where there are clusters. */
  interval: Interval;
}

/** How risks would have to be moved to fit what happened, on the log-odds. */
export interface Recalibration {
  /** Added to all log-odds: 0 where risks are right on the whole. */
  large: Estimate;
  /** Multiplies the log-odds: below 1 where risks are too extreme. */
  slope: Estimate;
  /** Added beside the slope. */
  constant: Estimate;
}

/**
 * Calibration in the large, and slope, by logistic regression of the outcome on the log-odds of the risk:
 * Cox (1958), Biometrika 45:562-565; Van Calster et al. (2019), BMC Medicine 17:230. Undefined where a
 * risk is 0 or 1, where outcomes or risks do not vary, or where no finite estimate was found.
 *
 * @example risks that are right: large 0, constant 0 and slope 1, but for chance
 */
export function recalibration(
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
  clusters?: Clusters,
): Recalibration | undefined {
  const odds = Float64Array.from(risks, (risk) => Math.log(risk / (1 - risk)));
  if (!odds.every(Number.isFinite) || !varies(events)) return undefined;
  const large = maximise(odds, events, 1, clusters);
  const both = varies(odds) ? maximise(odds, events, 2, clusters) : undefined;
  if (!large || !both) return undefined;
  return { large: large[0], constant: both[0], slope: both[1] };
}

function varies(values: ArrayLike<number>): boolean {
  for (let i = 1; i < values.length; i++) if (values[i] !== values[0]) return true;
  return false;
}

const mostSteps = 50;

/** Newton's steps over the constant alone, beside a slope of 1, or over both. */
function maximise(
  odds: Float64Array,
  events: ArrayLike<number>,
  free: 1 | 2,
  clusters?: Clusters,
): Estimate[] | undefined {
  let [constant, slope] = [0, 1];
  let height = likelihood(odds, events, constant, slope);
  for (let step = 0; step < mostSteps; step++) {
    let [g0, g1, h00, h01, h11] = [0, 0, 0, 0, 0];
    for (let i = 0; i < odds.length; i++) {
      const risk = logistic(constant + slope * odds[i]);
      const [rest, weight] = [events[i] - risk, risk * (1 - risk)];
      g0 += rest;
      g1 += rest * odds[i];
      h00 += weight;
      h01 += weight * odds[i];
      h11 += weight * odds[i] ** 2;
    }
    const determinant = free === 1 ? h00 : h00 * h11 - h01 ** 2;
    if (!(determinant > 0)) return undefined;
    const by0 = free === 1 ? g0 / h00 : (h11 * g0 - h01 * g1) / determinant;
    const by1 = free === 1 ? 0 : (h00 * g1 - h01 * g0) / determinant;
    if (Math.abs(by0) > 1e-10 || Math.abs(by1) > 1e-10) {
      // A step may lead past the summit where risks are extreme: as much of it as leads up.
      let part = Math.min(1, 5 / Math.max(Math.abs(by0), Math.abs(by1)));
      const rounding = 1e-12 * Math.abs(height);
      let reached = likelihood(odds, events, constant + part * by0, slope + part * by1);
      for (let halved = 0; reached < height - rounding && halved < 30; halved++) {
        part /= 2;
        reached = likelihood(odds, events, constant + part * by0, slope + part * by1);
      }
      constant += part * by0;
      slope += part * by1;
      height = reached;
      continue;
    }
    const inverse =
      free === 1
        ? [[1 / h00, 0]]
        : [
            [h11 / determinant, -h01 / determinant],
            [-h01 / determinant, h00 / determinant],
          ];
    /** Wald's variance, or by what each cluster adds to the score (sandwich). */
    const varianceOf = (row: number[], j: number) =>
      clusters
        ? variationBetween(
            odds.map(
              (own, i) => (events[i] - logistic(constant + slope * own)) * (row[0] + row[1] * own),
            ),
            clusters,
          )
        : row[j];
    return inverse.map((row, j) =>
      estimate([constant, slope][j], varianceOf(row, j), reachOf(clusters)),
    );
  }
  return undefined;
}

/** Logarithm of the likelihood under these two. */
function likelihood(
  odds: Float64Array,
  events: ArrayLike<number>,
  constant: number,
  slope: number,
): number {
  let sum = 0;
  for (let i = 0; i < odds.length; i++) {
    const own = constant + slope * odds[i];
    sum += events[i] * own - softplus(own);
  }
  return sum;
}

function estimate(value: number, variance: number, quantile: number): Estimate {
  const standardError = Math.sqrt(variance);
  const reach = quantile * standardError;
  return { value, standardError, interval: [value - reach, value + reach] };
}
