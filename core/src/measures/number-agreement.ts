import { randomStream, sortedQuantile, tQuantile, z95 } from '../numeric/index.ts';
import { takeClusters, type Clusters } from './clusters.ts';
import type { Interval } from './intervals.ts';
import { numberErrors } from './number-errors.ts';
import { rate, type Figure, type Rate } from './rates.ts';
import { shareInterval } from './table-spread.ts';

/** How predicted numbers agree with those observed, in the outcome's unit. */
export interface NumberAgreement {
  patients: number;
  /** With 95% intervals from patients drawn anew. */
  rootMeanSquare: Figure;
  meanAbsolute: Figure;
  medianAbsolute: Figure;
  rSquared: Figure;
  /** Mean of predicted less observed. */
  bias: Figure;
  /** 95 of 100 differences lie between them: Bland & Altman (1986), Lancet 327:307-310. */
  limits: { lower: Figure; upper: Figure };
  /** Least squares of observed on predicted: 0 and 1 where predictions are right. */
  line?: { constant: Figure; slope: Figure };
}

const rounds = { most: 1000, least: 200, draws: 4_000_000 };

/**
 * Over patients whose outcome is known; undefined with fewer than three.
 *
 * @param clusters of the rows, where several are of one patient or group: every interval then comes from a cluster bootstrap
 */
export function numberAgreement(
  observed: ArrayLike<number>,
  predicted: ArrayLike<number>,
  seed = 1,
  clusters?: Clusters,
): NumberAgreement | undefined {
  const known = Array.from({ length: observed.length }, (_, i) => i).filter(
    (i) => !Number.isNaN(observed[i]) && !Number.isNaN(predicted[i]),
  );
  if (known.length < 3) return undefined;
  const y = Float64Array.from(known, (i) => observed[i]);
  const x = Float64Array.from(known, (i) => predicted[i]);
  const together = takeClusters(clusters, known);
  const own = figuresOf(y, x, together !== undefined);
  const ends = drawnAnew(y, x, seed, together);
  const count = y.length;
  const errors = x.map((value, i) => value - y[i]);
  const bias = errors.reduce((sum, one) => sum + one, 0) / count;
  const spread = Math.sqrt(errors.reduce((sum, one) => sum + (one - bias) ** 2, 0) / (count - 1));
  const around = aroundWith(count - 1);
  const ofLimits = spread * Math.sqrt(1 / count + z95 ** 2 / (2 * (count - 1)));
  const line = lineOf(y, x);
  if (together) return byCluster(y, x, own, ends);
  return {
    patients: count,
    rootMeanSquare: { value: own.rootMeanSquare, ...ends.rootMeanSquare },
    meanAbsolute: { value: own.meanAbsolute, ...ends.meanAbsolute },
    medianAbsolute: { value: own.medianAbsolute, ...ends.medianAbsolute },
    rSquared: own.rSquared === undefined ? {} : { value: own.rSquared, ...ends.rSquared },
    bias: around(bias, spread / Math.sqrt(count)),
    limits: {
      lower: around(bias - z95 * spread, ofLimits),
      upper: around(bias + z95 * spread, ofLimits),
    },
    ...(line && { line }),
  };
}

/** Every figure with its interval from a cluster bootstrap; limits, bias and line as well. */
function byCluster(
  observed: Float64Array,
  predicted: Float64Array,
  own: Errors,
  ends: Partial<Record<keyof Errors, { interval: Interval }>>,
): NumberAgreement {
  const figure = (name: keyof Errors): Figure =>
    own[name] === undefined ? {} : { value: own[name], ...ends[name] };
  return {
    patients: observed.length,
    rootMeanSquare: figure('rootMeanSquare'),
    meanAbsolute: figure('meanAbsolute'),
    medianAbsolute: figure('medianAbsolute'),
    rSquared: figure('rSquared'),
    bias: figure('bias'),
    limits: { lower: figure('lower'), upper: figure('upper') },
    ...(lineOf(observed, predicted) && {
      line: { constant: figure('constant'), slope: figure('slope') },
    }),
  };
}

/** Patients whose prediction is no farther off than this, in the outcome's unit. */
export function withinTolerance(
  observed: ArrayLike<number>,
  predicted: ArrayLike<number>,
  tolerance: number,
  clusters?: Clusters,
): Rate {
  const off = (i: number) => Math.abs(predicted[i] - observed[i]);
  const known = Array.from({ length: observed.length }, (_, i) => i).filter(
    (i) => !Number.isNaN(off(i)),
  );
  // What is off by the tolerance itself is within it, whatever rounding makes of the difference.
  const near = Float64Array.from(known, (i) => Number(off(i) <= tolerance * (1 + 1e-12)));
  const plain = rate(
    near.reduce((sum, one) => sum + one, 0),
    known.length,
  );
  const together = takeClusters(clusters, known);
  return together && known.length > 0
    ? { ...plain, interval: shareInterval(near, together) }
    : plain;
}

type Errors = Record<'rootMeanSquare' | 'meanAbsolute' | 'medianAbsolute', number> &
  Partial<Record<'rSquared' | 'bias' | 'lower' | 'upper' | 'constant' | 'slope', number>>;

/** @param whole with bias, limits and line, whose intervals only clusters ask for */
function figuresOf(observed: Float64Array, predicted: Float64Array, whole: boolean): Errors {
  const { rootMeanSquare, meanAbsolute, rSquared } = numberErrors(observed, predicted)!;
  const off = predicted.map((value, i) => Math.abs(value - observed[i])).sort();
  return {
    ...{ rootMeanSquare, meanAbsolute, medianAbsolute: sortedQuantile(off, 0.5) },
    ...(rSquared !== undefined && { rSquared }),
    ...(whole && differencesOf(observed, predicted)),
  };
}

function differencesOf(observed: Float64Array, predicted: Float64Array): Partial<Errors> {
  const { length } = observed;
  const errors = predicted.map((value, i) => value - observed[i]);
  const bias = errors.reduce((sum, one) => sum + one, 0) / length;
  const spread = Math.sqrt(
    errors.reduce((sum, one) => sum + (one - bias) ** 2, 0) / Math.max(1, length - 1),
  );
  const line = straightLine(observed, predicted);
  return {
    ...{ bias, lower: bias - z95 * spread, upper: bias + z95 * spread },
    ...(line && { constant: line.constant, slope: line.slope }),
  };
}

/** Percentile bootstrap intervals, of patients or of clusters (Efron & Tibshirani 1993, chapter 13). */
function drawnAnew(
  observed: Float64Array,
  predicted: Float64Array,
  seed: number,
  clusters: Clusters | undefined,
): Partial<Record<keyof Errors, { interval: Interval }>> {
  const { length } = observed;
  const count = Math.max(rounds.least, Math.min(rounds.most, Math.floor(rounds.draws / length)));
  const draw = randomStream(seed, 'errors of numbers');
  const members = clusters && membersOf(clusters);
  const found: Errors[] = Array.from({ length: count }, () => {
    const places = clusters
      ? Array.from(
          { length: clusters.count },
          () => members![Math.floor(draw.uniform() * clusters.count)],
        ).flat()
      : Int32Array.from({ length }, () => Math.floor(draw.uniform() * length));
    return figuresOf(
      Float64Array.from(places, (i) => observed[i]),
      Float64Array.from(places, (i) => predicted[i]),
      clusters !== undefined,
    );
  });
  const names = [
    ...(['rootMeanSquare', 'meanAbsolute', 'medianAbsolute', 'rSquared'] as const),
    ...(['bias', 'lower', 'upper', 'constant', 'slope'] as const),
  ];
  return Object.fromEntries(
    names.map((name) => {
      const values = Float64Array.from(found.flatMap((one) => one[name] ?? [])).sort();
      return [
        name,
        { interval: [sortedQuantile(values, 0.025), sortedQuantile(values, 0.975)] as Interval },
      ];
    }),
  );
}

/** Rows of each cluster. */
function membersOf({ codes, count }: Clusters): number[][] {
  const members = Array.from({ length: count }, (): number[] => []);
  codes.forEach((cluster, row) => members[cluster].push(row));
  return members;
}

/** Least squares of y on x; undefined where x does not vary. */
function straightLine(y: Float64Array, x: Float64Array) {
  const count = y.length;
  const mean = (values: Float64Array) => values.reduce((sum, one) => sum + one, 0) / count;
  const [atX, atY] = [mean(x), mean(y)];
  const across = x.reduce((sum, one) => sum + (one - atX) ** 2, 0);
  if (!(across > 0)) return undefined;
  const slope = x.reduce((sum, one, i) => sum + (one - atX) * (y[i] - atY), 0) / across;
  return { slope, constant: atY - slope * atX, atX, across };
}

function lineOf(y: Float64Array, x: Float64Array): NumberAgreement['line'] {
  const count = y.length;
  const found = straightLine(y, x);
  if (!found) return undefined;
  const { slope, constant, atX, across } = found;
  const rest = y.reduce((sum, one, i) => sum + (one - constant - slope * x[i]) ** 2, 0);
  const variance = rest / (count - 2);
  const around = aroundWith(count - 2);
  return {
    slope: around(slope, Math.sqrt(variance / across)),
    constant: around(constant, Math.sqrt(variance * (1 / count + atX ** 2 / across))),
  };
}

/** A figure with its 95% interval by Student's t. */
function aroundWith(degrees: number): (value: number, error: number) => Figure {
  const t = tQuantile(0.025, degrees);
  return (value, error) => ({
    value,
    ...(error > 0 && { interval: [value - t * error, value + t * error] }),
  });
}
