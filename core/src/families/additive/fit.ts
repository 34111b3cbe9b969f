import { logistic, softplus } from '../../numeric/index.ts';
import { productsOf, pullsOf, sumsOf, type Design, type Term } from './design.ts';
import { smooth, smoothWith, unitsOf, type Smoothed, type SmoothRules } from './smooth.ts';

export interface Fit extends Smoothed {
  settled: boolean;
  /** Of a yes/no outcome; 1 of a number. */
  iterations: number;
  /** −2 log-likelihood, or weighted squares of what is left, and the same without any input. */
  deviance: number;
  plain: number;
}

type Rules = Omit<SmoothRules, 'squares' | 'spreads' | 'units'>;

/** A number: one weighted least squares. */
export function followNumber(
  design: Design,
  values: Float64Array,
  weights: Float64Array,
  rules: Rules,
): Fit {
  const mean = values.reduce((sum, one, i) => sum + weights[i] * one, 0) / rules.patients;
  // From the mean, so that squares lose no digits.
  const away = values.map((one) => one - mean);
  const squares = away.reduce((sum, one, i) => sum + weights[i] * one * one, 0);
  const products = productsOf(design, weights, away);
  const start = new Float64Array(design.terms.length).fill(1);
  const found = smooth(
    design,
    products,
    start,
    { ...rules, squares, spreads: true, units: unitsOf(design, products) },
    400,
  );
  const said = sumsOf(design, found.coefficients);
  const left = away.reduce((sum, one, i) => sum + weights[i] * (one - said[i]) ** 2, 0);
  const coefficients = found.coefficients.slice();
  coefficients[0] += mean;
  return { ...found, coefficients, iterations: 1, deviance: left, plain: squares };
}

const stepsAtMost = 60;
const strengthsUpTo = 25;
/** With more patients a column, what weights turn is nothing beside what they tell. */
const turningUpTo = 10;

/**
 * A yes/no outcome: weighted least squares again and again (O'Sullivan, Yandell & Raynor 1986), strengths found
 * anew at each step until neither changes.
 */
export function followEvent(
  design: Design,
  cases: ArrayLike<number>,
  weights: Float64Array,
  rules: Rules,
  progress?: (share: number) => void,
): Fit {
  const { rowCount } = design;
  const share =
    weights.reduce((sum, weight, i) => sum + weight * cases[i], 0) /
    Math.max(1e-300, rules.patients);
  const start = Math.log(Math.max(1e-9, share) / Math.max(1e-9, 1 - share));
  let sums: Float64Array = new Float64Array(rowCount).fill(start);
  const isTurning = rules.patients <= turningUpTo * design.size;
  const plain = devianceOf(sums, cases, weights);
  const working = new Float64Array(rowCount);
  const numbers = new Float64Array(rowCount);
  let strengths: Float64Array = new Float64Array(design.terms.length).fill(1);
  let found: (Smoothed & { settled: boolean }) | undefined;
  let deviance = plain;
  let units: Float64Array | undefined;
  let steps = 0;
  let settled = false;
  while (steps < stepsAtMost && !settled) {
    steps++;
    let squares = 0;
    for (let i = 0; i < rowCount; i++) {
      const risk = logistic(sums[i]);
      const spread = Math.max(1e-12, risk * (1 - risk));
      working[i] = weights[i] * spread;
      numbers[i] = sums[i] + (cases[i] - risk) / spread;
      squares += working[i] * numbers[i] ** 2;
    }
    const products = productsOf(design, working, numbers);
    const turning = found && isTurning ? turningOf(design, found, sums, weights) : undefined;
    units ??= unitsOf(design, products);
    const own = { ...rules, squares, spreads: false, units, ...(turning && { turning }) };
    // Strengths settle together with the steps: at first a few moves of them are enough. Where they go to and fro
    // between tops of the likelihood that are as good, they stay where they are, and the rest settles.
    found =
      steps > strengthsUpTo
        ? { ...smoothWith(design, products, strengths, own, true), settled: true }
        : smooth(design, products, strengths, own, steps < 3 ? 2 : 4);
    let next = sumsOf(design, found.coefficients);
    let after = devianceOf(next, cases, weights);
    for (let half = 0; half < 20 && after > deviance + 0.5 * Math.abs(deviance) + 1; half++) {
      next = next.map((one, i) => (one + sums[i]) / 2);
      after = devianceOf(next, cases, weights);
    }
    const moved = Math.max(
      0,
      ...design.terms.map((term, t) => movedBy(term, found!, strengths, t)),
    );
    settled = Math.abs(after - deviance) <= 1e-9 * (Math.abs(after) + 0.1) && moved < 5e-3;
    sums = next;
    deviance = after;
    strengths = found.strengths;
    progress?.(steps / stepsAtMost);
  }
  return { ...found!, settled, iterations: steps, deviance, plain };
}

/** How far a strength moved, of a curve that is nearly straight hardly anything: there it changes nothing. */
function movedBy({ from, to }: Term, now: Smoothed, before: Float64Array, t: number): number {
  const degrees = now.degrees.subarray(from, to).reduce((sum, one) => sum + one, 0);
  return Math.abs(Math.log(now.strengths[t] / before[t])) * Math.min(1, 10 * (degrees - 1));
}

/** How much of each patient is pulled by its own outcome, by how its weight changes; by column. */
function turningOf(
  design: Design,
  { inverse }: Smoothed,
  sums: Float64Array,
  weights: Float64Array,
): Float64Array {
  const pulls = pullsOf(design, inverse);
  const changes = pulls.map((pull, i) => {
    const risk = logistic(sums[i]);
    return pull * risk * (1 - risk) * (1 - 2 * risk);
  });
  return productsOf(design, weights, changes).right;
}

function devianceOf(sums: Float64Array, cases: ArrayLike<number>, weights: Float64Array): number {
  let loss = 0;
  for (let i = 0; i < sums.length; i++)
    loss += weights[i] * softplus(cases[i] === 1 ? -sums[i] : sums[i]);
  return 2 * loss;
}
