import { reachOf, variationBetween, type Clusters } from '../measures/index.ts';
import { twoSidedNormalP } from '../numeric/index.ts';

/** Areas under two ROC curves of the same patients. */
export interface PairedAreas {
  areas: [number, number];
  /** Of the areas, by their spread among these patients. */
  covariance: [[number, number], [number, number]];
  /** The first less the second. */
  difference: number;
  standardError: number;
  /** 95%, normal theory; absent where the patients show no spread of the difference. */
  interval?: [number, number];
  p?: number;
}

/**
 * Compared after DeLong, DeLong & Clarke-Pearson (1988), Biometrics 44:837-845.
 * By cluster where rows are not independent. Undefined when one of the outcomes has fewer than two patients.
 *
 * @param events 1 for patients with the event
 */
export function pairedAreas(
  events: ArrayLike<number>,
  first: ArrayLike<number>,
  second: ArrayLike<number>,
  clusters?: Clusters,
): PairedAreas | undefined {
  const having = Int32Array.from(rowsWith(events, 1));
  const without = Int32Array.from(rowsWith(events, 0));
  if (having.length < 2 || without.length < 2) return undefined;
  const both = [first, second];
  const ofHaving = both.map((risks) => places(risks, having, without));
  const ofWithout = both.map((risks) => places(risks, without, having));
  const [a, b] = ofHaving.map(mean);
  const together = clusters
    ? betweenClusters([having, without], [ofHaving, ofWithout], [a, b], clusters)
    : (i: number, k: number) =>
        covariance(ofHaving[i], ofHaving[k]) / having.length +
        covariance(ofWithout[i], ofWithout[k]) / without.length;
  const [own, mixed, other] = [together(0, 0), together(0, 1), together(1, 1)];
  const reach = reachOf(clusters);
  const difference = a - b;
  const variance = own + other - 2 * mixed;
  // Rounding leaves a trifle where both rank the patients alike.
  const isSpread = variance > 1e-15 * (own + other);
  const standardError = isSpread ? Math.sqrt(variance) : 0;
  return {
    areas: [a, b],
    covariance: [
      [own, mixed],
      [mixed, other],
    ],
    difference,
    standardError,
    ...(isSpread && {
      interval: [difference - reach * standardError, difference + reach * standardError],
      p: twoSidedNormalP(difference / standardError),
    }),
  };
}

/** Covariances of the two areas by what each cluster adds to them (Obuchowski 1997, Biometrics 53:567-578; from memory). */
function betweenClusters(
  sides: Int32Array[],
  placesOfSides: Float64Array[][],
  areas: number[],
  clusters: Clusters,
): (i: number, k: number) => number {
  const adds = areas.map((area, i) => {
    const own = new Float64Array(clusters.codes.length);
    sides.forEach((rows, side) =>
      rows.forEach((row, at) => {
        own[row] = (placesOfSides[side][i][at] - area) / rows.length;
      }),
    );
    return own;
  });
  const variances = adds.map((own) => variationBetween(own, clusters));
  const ofDifference = variationBetween(
    adds[0].map((one, row) => one - adds[1][row]),
    clusters,
  );
  return (i, k) => (i === k ? variances[i] : (variances[0] + variances[1] - ofDifference) / 2);
}

function rowsWith(events: ArrayLike<number>, wanted: number): number[] {
  const rows: number[] = [];
  for (let row = 0; row < events.length; row++) if (events[row] === wanted) rows.push(row);
  return rows;
}

/** For each of these patients the share of the others with a lower risk, ties half. */
function places(risks: ArrayLike<number>, rows: Int32Array, others: Int32Array): Float64Array {
  const sorted = Float64Array.from(others, (row) => risks[row]).sort();
  const countWhile = (isCounted: (one: number) => boolean) => {
    let low = 0;
    for (let high = sorted.length; low < high;) {
      const middle = (low + high) >> 1;
      if (isCounted(sorted[middle])) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return Float64Array.from(rows, (row) => {
    const risk = risks[row];
    const below = countWhile((one) => one < risk);
    const notAbove = countWhile((one) => one <= risk);
    return (below + notAbove) / 2 / sorted.length;
  });
}

const mean = (values: Float64Array): number =>
  values.reduce((sum, one) => sum + one, 0) / values.length;

/** Divisor n - 1. */
function covariance(a: Float64Array, b: Float64Array): number {
  const [meanA, meanB] = [mean(a), mean(b)];
  return a.reduce((sum, one, i) => sum + (one - meanA) * (b[i] - meanB), 0) / (a.length - 1);
}
