import { quantile } from '../numeric/index.ts';
import type { ModelPredictor } from '../model/index.ts';

/** A column of a later list that lies elsewhere as a whole: another unit, another method, or other patients. */
export interface Displaced {
  medianThen: number;
  medianNow: number;
  /** Share of its known values outside the range of the development patients. */
  outside: number;
}

/** With fewer known values, a median says little. */
const fewest = 5;
/** Of patients like the development patients, about 2 in n lie outside their range. */
const mostOutside = 0.25;
const someOutside = 0.1;

/**
 * Whether a number column of a list is displaced as a whole, judged on the scale on which the development
 * quartiles are more nearly symmetric, raw or logarithmic: a unit moves a skewed column by a factor that hardly
 * shows beside its SD. Displaced is a column of
 * which a quarter lies outside the development range, or whose median lies far outside the development quartiles
 * while a tenth of it lies outside the range or a power of ten would bring it back.
 *
 * @param least known values, below which nothing is claimed
 * @example development quartiles 0.6, 0.9, 1.3 and a list with median 0.009: displaced (÷ 100)
 */
export function displacedColumn(
  predictor: ModelPredictor,
  values: Float64Array,
  least = fewest,
): Displaced | undefined {
  const { range, quartiles } = predictor;
  if (!range || !quartiles) return undefined;
  const known = values.filter((value) => !Number.isNaN(value));
  if (known.length < least) return undefined;
  const medianNow = quantile(known, 0.5);
  const outside = known.filter((value) => isOutside(range, value)).length / known.length;
  const isEnough = known.length >= fewest;
  if (!(isEnough && outside >= mostOutside)) {
    if (isNear(predictor, medianNow, known.length)) return undefined;
    // Other patients move a median too: within the development range they are met as they are.
    if (isEnough && outside < someOutside && factorBack(predictor, known) === undefined)
      return undefined;
  }
  return { medianThen: quartiles[1], medianNow, outside };
}

/**
 * Whether the median of some patients could be one of patients like the development patients.
 *
 * @param patients of whom it is the median: of few it varies more
 */
export function isNear(
  { quartiles, range }: ModelPredictor,
  median: number,
  patients = fewest,
): boolean {
  if (!quartiles || Number.isNaN(median)) return false;
  // In SDs of a normal distribution 1.3 and 2.0 from its median.
  const reach = patients >= 20 ? 0.5 : 1;
  const mayBeLogarithmic = isPositive(range) && quartiles[0] > 0;
  const logs = quartiles.map(Math.log);
  if (mayBeLogarithmic && asymmetry(logs) < asymmetry(quartiles))
    return median > 0 && isWithin(logs, Math.log(median), reach);
  if (!isWithin(quartiles, median, reach)) return false;
  return !mayBeLogarithmic || (median > 0 && isWithin(logs, Math.log(median), 1));
}

/** Distance of the median from the middle of the quartiles, as a share of their distance (Bowley). */
const asymmetry = ([lower, middle, upper]: number[]): number =>
  upper > lower ? Math.abs(upper + lower - 2 * middle) / (upper - lower) : 0;

/** @param reach how far outside the quartiles, in interquartile ranges */
function isWithin([lower, , upper]: number[], value: number, reach: number): boolean {
  // Rounding of a conversion takes nobody out where all quartiles are the same.
  const slack = reach * (upper - lower) + 1e-9 * Math.max(Math.abs(lower), Math.abs(upper));
  return value >= lower - slack && value <= upper + slack;
}

/** Factors by which a column may be off where its unit is not known: powers of ten. */
const factors = [10, 0.1, 100, 0.01, 1000, 0.001];

/**
 * The power of ten that brings a displaced column back to the development distribution: its median near theirs,
 * hardly a value outside their range, and quartiles as wide as theirs on the logarithmic scale.
 */
export function factorBack(predictor: ModelPredictor, values: Float64Array): number | undefined {
  const { range, quartiles } = predictor;
  if (!range || !quartiles) return undefined;
  const known = values.filter((value) => !Number.isNaN(value));
  if (known.length < fewest) return undefined;
  const [lower, middle, upper] = [0.25, 0.5, 0.75].map((share) => quantile(known, share));
  const fitting = factors.flatMap((factor) => {
    const outside = known.filter((value) => isOutside(range, factor * value)).length;
    if (!isNear(predictor, factor * middle) || outside > 0.05 * known.length) return [];
    return [{ factor, off: Math.abs(logRatio(factor * middle, quartiles[1])) }];
  });
  if (fitting.length === 0 || !hasLikeSpread([lower, upper], quartiles)) return undefined;
  return fitting.reduce((best, one) => (one.off < best.off ? one : best)).factor;
}

/** A shift by a constant, unlike a factor, changes the ratio of the quartiles. */
function hasLikeSpread([lower, upper]: number[], [q1, , q3]: number[]): boolean {
  if (!(lower > 0 && q1 > 0)) return true;
  const [now, then] = [Math.log(upper / lower), Math.log(q3 / q1)];
  return now <= 2 * then + 0.05 && then <= 2 * now + 0.05;
}

const logRatio = (a: number, b: number): number =>
  a > 0 && b > 0 ? Math.log(a / b) : Math.abs(a - b);

const isOutside = ([least, greatest]: [number, number], value: number): boolean =>
  value < least - 1e-9 * Math.abs(least) || value > greatest + 1e-9 * Math.abs(greatest);

export const isPositive = (range: [number, number] | undefined): boolean =>
  range !== undefined && range[0] > 0;
