import {
  ascendingOrder,
  chiSquareUpperTail,
  fUpperTail,
  symmetricEigen,
  twoSidedNormalP,
  twoSidedTP,
} from '../../numeric/index.ts';
import type { TermsShown, TermTest } from '../facets.ts';
import { productsOf, type Design, type Term } from './design.ts';
import { basesAt, countOf, curveOf } from './spline.ts';

/** Places along a curve that are drawn. */
const steps = 60;

/** How exactly the coefficients of a fit are known. */
export interface Precision {
  /** Row-major over all columns of the design; 0 for what repeats others. */
  covariance: Float64Array;
  /** Degrees of freedom of t and F; absent where the spread is known: then normal and chi-square. */
  left?: number;
}

/** Of each curve: its values with standard errors, the tests of no effect and of a straight line, the nearest line. */
export function curvesShown(
  design: Design,
  degrees: Float64Array,
  curves: Float64Array[],
  weights: Float64Array,
  precision: Precision,
): TermsShown['curves'] {
  const products = productsOf(design, weights, new Float64Array(design.rowCount)).matrix;
  return design.terms.map((term, t) =>
    curveShown(design.size, degrees, term, curves[t], weights, products, precision),
  );
}

function curveShown(
  size: number,
  degrees: Float64Array,
  term: Term,
  coefficients: Float64Array,
  weights: Float64Array,
  products: Float64Array,
  { covariance, left }: Precision,
): TermsShown['curves'][number] {
  const { input, spline, from, to, means, column } = term;
  const { knots } = spline;
  const [low, high] = [knots[0], knots[knots.length - 1]];
  const middle = coefficients.reduce((sum, one, k) => sum + one * means[k], 0);
  const at = Array.from({ length: steps + 1 }, (_, k) => low + ((high - low) * k) / steps);
  const curve = curveOf(spline, coefficients);
  const bases = new Float64Array(to - from);
  const error = at.map((x) => {
    const { first, values } = basesAt(spline, x);
    for (let k = 0; k < bases.length; k++) bases[k] = -means[k];
    for (let k = 0; k < 4; k++) if (first + k < bases.length) bases[first + k] += values[k];
    let sum = 0;
    for (let i = 0; i < bases.length; i++)
      for (let j = 0; j < bases.length; j++)
        sum += bases[i] * covariance[(from + i) * size + from + j] * bases[j];
    return Math.sqrt(Math.max(0, sum));
  });
  let edf = 0;
  for (let k = from; k < to; k++) edf += degrees[k];
  const { crossed, squares, mean } = againstLine(term, weights);
  const width = to - from;
  const own = coefficients.subarray(0, width);
  const slope = own.reduce((sum, one, k) => sum + one * crossed[k], 0) / squares;
  const block = (of: Float64Array, i: number, j: number) => of[(from + i) * size + from + j];
  const test = (rank: number, form: Float64Array): TermTest =>
    wald(own, form, (i, j) => block(covariance, i, j), rank, left);
  const whole = new Float64Array(width * width);
  const bent = new Float64Array(width * width);
  for (let i = 0; i < width; i++)
    for (let j = 0; j < width; j++) {
      whole[i * width + j] = block(products, i, j);
      bent[i * width + j] = whole[i * width + j] - (crossed[i] * crossed[j]) / squares;
    }
  const round = (value: number) => Number(value.toPrecision(6));
  return {
    input,
    degrees: edf,
    there: test(Math.max(1, Math.round(edf)), whole),
    ...(edf > 1.05 && { bent: test(Math.max(1, Math.round(edf - 1)), bent) }),
    at: at.map(round),
    values: at.map((x) => round(curve(x) - middle)),
    error: error.map(round),
    line: [slope * (low - mean), slope * (high - mean)],
    deciles: decilesOf(column, weights),
  };
}

/** Sums of each function times how far the input is from its mean, and of that squared. */
function againstLine({ spline, first, values, column }: Term, weights: Float64Array) {
  let [total, sum] = [0, 0];
  for (let i = 0; i < column.length; i++) {
    total += weights[i];
    sum += weights[i] * column[i];
  }
  const mean = sum / total;
  const crossed = new Float64Array(countOf(spline));
  let squares = 0;
  for (let i = 0; i < column.length; i++) {
    const away = weights[i] * (column[i] - mean);
    squares += away * (column[i] - mean);
    for (let k = 0; k < 4; k++) crossed[first[i] + k] += away * values[4 * i + k];
  }
  return { crossed, squares, mean };
}

/**
 * Whether a curve is 0 in all patients, by the directions in which it is best known (Wood 2013, Biometrika
 * 100:221-228, with whole degrees of freedom).
 */
function wald(
  own: Float64Array,
  form: Float64Array,
  covariance: (i: number, j: number) => number,
  rank: number,
  left?: number,
): TermTest {
  const width = own.length;
  const { values, vectors } = symmetricEigen(form, width);
  const kept = values.findLastIndex((value) => value > 1e-10 * values[0]) + 1;
  // The curve in as many numbers as it has directions, and how well each is known.
  const root = vectors
    .slice(0, kept)
    .map((vector, k) => vector.map((one) => one * Math.sqrt(values[k])));
  const said = root.map((row) => row.reduce((sum, one, i) => sum + one * own[i], 0));
  const known = new Float64Array(kept * kept);
  for (let a = 0; a < kept; a++)
    for (let b = 0; b <= a; b++) {
      let sum = 0;
      for (let i = 0; i < width; i++)
        for (let j = 0; j < width; j++) sum += root[a][i] * covariance(i, j) * root[b][j];
      known[a * kept + b] = known[b * kept + a] = sum;
    }
  const eigen = symmetricEigen(known, kept);
  let statistic = 0;
  const used = Math.min(rank, kept);
  for (let k = 0; k < used; k++) {
    const along = eigen.vectors[k].reduce((sum, one, a) => sum + one * said[a], 0);
    if (eigen.values[k] > 0) statistic += along ** 2 / eigen.values[k];
  }
  const p =
    left === undefined
      ? chiSquareUpperTail(statistic, used)
      : fUpperTail(statistic / used, used, left);
  return { statistic: left === undefined ? statistic : statistic / used, rank: used, p };
}

function decilesOf(column: Float64Array, weights: Float64Array): number[] {
  const order = ascendingOrder(column);
  const total = weights.reduce((sum, one) => sum + one, 0);
  const found: number[] = [];
  let sum = 0;
  for (const row of order) {
    sum += weights[row];
    while (found.length < 9 && sum >= ((found.length + 1) / 10) * total - 1e-9)
      found.push(column[row]);
  }
  return found;
}

/** Inputs that are added as they are. */
export function linesShown(
  { lines, size }: Design,
  coefficients: Float64Array,
  { covariance, left }: Precision,
): TermsShown['lines'] {
  return lines.map(({ input, at }) => {
    const estimate = coefficients[at];
    const error = Math.sqrt(Math.max(0, covariance[at * size + at]));
    if (!(error > 0)) return { input, estimate };
    const ratio = estimate / error;
    const p = left === undefined ? twoSidedNormalP(ratio) : twoSidedTP(ratio, left);
    return { input, estimate, standardError: error, p };
  });
}
