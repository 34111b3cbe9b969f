import { randomStream, sortedQuantile, tQuantile, z95 } from '../numeric/index.ts';
import type { Interval } from './intervals.ts';
import { numberErrors } from './number-errors.ts';
import { rate, type Figure, type Rate } from './rates.ts';

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

/** Over patients whose outcome is known; undefined with fewer than three. */
export function numberAgreement(
  observed: ArrayLike<number>,
  predicted: ArrayLike<number>,
  seed = 1,
): NumberAgreement | undefined {
  const known = Array.from({ length: observed.length }, (_, i) => i).filter(
    (i) => !Number.isNaN(observed[i]) && !Number.isNaN(predicted[i]),
  );
  if (known.length < 3) return undefined;
  const y = Float64Array.from(known, (i) => observed[i]);
  const x = Float64Array.from(known, (i) => predicted[i]);
  const own = figuresOf(y, x);
  const ends = drawnAnew(y, x, seed);
  const count = y.length;
  const errors = x.map((value, i) => value - y[i]);
  const bias = errors.reduce((sum, one) => sum + one, 0) / count;
  const spread = Math.sqrt(errors.reduce((sum, one) => sum + (one - bias) ** 2, 0) / (count - 1));
  const around = aroundWith(count - 1);
  const ofLimits = spread * Math.sqrt(1 / count + z95 ** 2 / (2 * (count - 1)));
  const line = lineOf(y, x);
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

/** Patients whose prediction is no farther off than this, in the outcome's unit. */
export function withinTolerance(
  observed: ArrayLike<number>,
  predicted: ArrayLike<number>,
  tolerance: number,
): Rate {
  let [near, known] = [0, 0];
  for (let i = 0; i < observed.length; i++) {
    const off = Math.abs(predicted[i] - observed[i]);
    if (Number.isNaN(off)) continue;
    known++;
    // What is off by the tolerance itself is within it, whatever rounding makes of the difference.
    if (off <= tolerance * (1 + 1e-12)) near++;
  }
  return rate(near, known);
}

type Errors = Record<'rootMeanSquare' | 'meanAbsolute' | 'medianAbsolute', number> & {
  rSquared?: number;
};

function figuresOf(observed: Float64Array, predicted: Float64Array): Errors {
  const { rootMeanSquare, meanAbsolute, rSquared } = numberErrors(observed, predicted)!;
  const off = predicted.map((value, i) => Math.abs(value - observed[i])).sort();
  return {
    ...{ rootMeanSquare, meanAbsolute, medianAbsolute: sortedQuantile(off, 0.5) },
    ...(rSquared !== undefined && { rSquared }),
  };
}

/** 95% of what patients drawn anew would give (Efron & Tibshirani 1993, chapter 13). */
function drawnAnew(
  observed: Float64Array,
  predicted: Float64Array,
  seed: number,
): Partial<Record<keyof Errors, { interval: Interval }>> {
  const { length } = observed;
  const count = Math.max(rounds.least, Math.min(rounds.most, Math.floor(rounds.draws / length)));
  const draw = randomStream(seed, 'errors of numbers');
  const found: Errors[] = Array.from({ length: count }, () => {
    const places = Int32Array.from({ length }, () => Math.floor(draw.uniform() * length));
    return figuresOf(
      Float64Array.from(places, (i) => observed[i]),
      Float64Array.from(places, (i) => predicted[i]),
    );
  });
  const names = ['rootMeanSquare', 'meanAbsolute', 'medianAbsolute', 'rSquared'] as const;
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

function lineOf(y: Float64Array, x: Float64Array): NumberAgreement['line'] {
  const count = y.length;
  const mean = (values: Float64Array) => values.reduce((sum, one) => sum + one, 0) / count;
  const [atX, atY] = [mean(x), mean(y)];
  const across = x.reduce((sum, one) => sum + (one - atX) ** 2, 0);
  if (!(across > 0)) return undefined;
  const slope = x.reduce((sum, one, i) => sum + (one - atX) * (y[i] - atY), 0) / across;
  const constant = atY - slope * atX;
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
