import { factorise, solve } from '../../numeric/index.ts';
import type { Design, Products } from './design.ts';
import { inverseWithin } from './inverse.ts';

/** How strongly each curve is drawn towards a straight line, and what then fits best. */
export interface Smoothed {
  strengths: Float64Array;
  coefficients: Float64Array;
  /**
   * Inverse of products and penalties together, row-major; 0 where a column repeats others. Where the whole is
   * not asked for, 0 between terms too.
   */
  inverse: Float64Array;
  /** The inverse times what turns. */
  turned?: Float64Array;
  /** By column, how much of a degree of freedom it takes. */
  degrees: Float64Array;
  /** Variance of what is left; 1 of an event. */
  scale: number;
}

export interface SmoothRules {
  by: 'likelihood' | 'validation';
  /** Of terms, and of lines: 1 may only rise, -1 only fall, 0 either. */
  termDirections: Int8Array;
  lineDirections: Int8Array;
  /** Sum of weights. */
  patients: number;
  /** Of each curve what a strength is a multiple of: the same throughout, or what is sure would bend at will. */
  units: Float64Array;
  /** Weighted squares of what is followed. */
  squares: number;
  /** The variance of what is left is not known: of a number. */
  spreads: boolean;
  /** By column, how the weights of least squares change with it, times what each patient pulls: of an event. */
  turning?: Float64Array;
}

/** Beyond it a curve is straight. */
const mostLog = 14;
const leastLog = -12;

/** The best coefficients with these strengths, where directions are kept. */
export function smoothWith(
  design: Design,
  products: Products,
  strengths: Float64Array,
  rules: SmoothRules,
  isWhole = false,
): Smoothed {
  const { size, terms, lines } = design;
  const { matrix, right } = products;
  const penalised = matrix.slice();
  terms.forEach(({ from, to, bend }, t) => {
    const width = to - from;
    for (let i = 0; i < width; i++)
      for (let j = 0; j < width; j++)
        penalised[(from + i) * size + from + j] +=
          strengths[t] * rules.units[t] * bend[i * width + j];
  });
  let used = penalised;
  let factor = factorise(penalised, size, 1e-13);
  let coefficients = solve(factor, right);
  // What goes the wrong way is held, and what is held and would go the right way is let go.
  for (let round = 0; round < 60; round++) {
    const held = wrongWays(design, coefficients, rules);
    if (held.length === 0 && round === 0) break;
    const bound = penalised.slice();
    for (const [higher, lower, strength] of held) {
      const by = holding * strength;
      if (higher >= 0) bound[higher * size + higher] += by;
      if (lower >= 0) bound[lower * size + lower] += by;
      if (higher >= 0 && lower >= 0) {
        bound[higher * size + lower] -= by;
        bound[lower * size + higher] -= by;
      }
    }
    used = bound;
    factor = factorise(bound, size, 1e-13);
    const next = solve(factor, right);
    const isSame = next.every(
      (value, k) => Math.abs(value - coefficients[k]) <= 1e-9 * (1 + Math.abs(value)),
    );
    coefficients = next;
    if (isSame) break;
  }
  const ends = [1 + lines.length, ...terms.map(({ to }) => to)];
  const inverse = inverseWithin(factor, isWhole ? [size] : ends);
  // What is penalised takes its share of a degree of freedom away; penalties lie within blocks.
  const degrees = new Float64Array(size);
  let from = 0;
  for (const to of ends) {
    for (let i = from; i < to; i++) {
      if (!factor.kept[i]) continue;
      degrees[i] = 1;
      for (let k = from; k < to; k++)
        degrees[i] -= inverse[i * size + k] * (used[k * size + i] - matrix[k * size + i]);
    }
    from = to;
  }
  return {
    strengths,
    coefficients,
    inverse,
    degrees,
    ...(rules.turning && { turned: solve(factor, rules.turning) }),
    scale: scaleOf(products, coefficients, degrees, rules),
  };

  /** Differences of neighbours, and slopes of lines, that go the wrong way. */
  function wrongWays(
    { terms, lines }: Design,
    own: Float64Array,
    { termDirections, lineDirections }: SmoothRules,
  ): [higher: number, lower: number, strength: number][] {
    const found: [number, number, number][] = [];
    terms.forEach(({ from, to }, t) => {
      if (termDirections[t] === 0) return;
      for (let k = from; k < to; k++) {
        // Behind the last column stands the function whose coefficient is 0.
        const next = k + 1 < to ? own[k + 1] : 0;
        if (termDirections[t] * (next - own[k]) < 0)
          found.push([k + 1 < to ? k + 1 : -1, k, matrix[0]]);
      }
    });
    lines.forEach(({ at }, k) => {
      if (lineDirections[k] * own[at] < 0) found.push([at, -1, matrix[0]]);
    });
    return found;
  }
}

/** How much more than all patients together a wrong way weighs. */
const holding = 1e6;

/** So that strengths mean about the same for every curve. */
export const unitsOf = ({ terms, size }: Design, { matrix }: Products): Float64Array =>
  Float64Array.from(terms, ({ from, to }) => {
    let trace = 0;
    for (let k = from; k < to; k++) trace += matrix[k * size + k];
    return trace / (to - from);
  });

function scaleOf(
  { matrix, right }: Products,
  by: Float64Array,
  degrees: Float64Array,
  { squares, patients, spreads }: SmoothRules,
): number {
  if (!spreads) return 1;
  const used = degrees.reduce((sum, one) => sum + one, 0);
  return Math.max(1e-300, leftOf(matrix, right, by, squares) / Math.max(1, patients - used));
}

/** Weighted squares of what is left. */
function leftOf(matrix: Float64Array, right: Float64Array, by: Float64Array, squares: number) {
  const size = by.length;
  let left = squares;
  for (let i = 0; i < size; i++) {
    let row = 0;
    for (let j = 0; j < size; j++) row += matrix[i * size + j] * by[j];
    left += by[i] * (row - 2 * right[i]);
  }
  return Math.max(0, left);
}

/**
 * Strengths that restricted likelihood asks for, by steps that raise it (Wood & Fasiolo 2017, Biometrics
 * 73:1071-1081); or those with the least generalised cross-validation (Craven & Wahba 1979).
 *
 * @param steps at most
 */
export function smooth(
  design: Design,
  products: Products,
  start: Float64Array,
  rules: SmoothRules,
  steps: number,
): Smoothed & { settled: boolean } {
  if (rules.by === 'validation') return validated(design, products, start, rules, steps);
  let now = smoothWith(design, products, start, rules);
  let before: Float64Array | undefined;
  let settled = start.length === 0;
  for (let step = 0; step < steps && !settled; step++) {
    const moves = start.map((_, t) => moveOf(design, now, rules.units[t], t));
    settled = moves.every((move) => Math.abs(move) < 1e-8);
    // Two moves in turn say how far all that would follow goes (Aitken 1926).
    const further = before && moves.map((move, t) => move * onwards(move / before![t]));
    before = further ? undefined : moves;
    const logs = now.strengths.map(
      (one, t) => Math.log(one) + Math.min(mostMove, Math.max(-mostMove, (further ?? moves)[t])),
    );
    const strengths = logs.map((one) => Math.exp(Math.min(mostLog, Math.max(leastLog, one))));
    now = smoothWith(design, products, strengths, rules);
  }
  return { ...smoothWith(design, products, now.strengths.map(snapped), rules, true), settled };
}

/** No more digits than are known, so that the order of patients changes none. */
const snapped = (strength: number): number => Math.exp(Math.round(Math.log(strength) * 1e3) / 1e3);

/** 1 + r + r² + ..., where that is not far. */
const onwards = (ratio: number): number =>
  Number.isFinite(ratio) ? 1 / (1 - Math.min(0.9, Math.max(-0.9, ratio))) : 1;

/** Of a logarithm at a time: the likelihood may have more than one top. */
const mostMove = 2;

/** Less than this beyond a straight line is none. */
const straightBelow = 1e-4;

/** By how much the logarithm of a strength should change. */
function moveOf(
  { terms, size }: Design,
  { strengths, coefficients, inverse, turned, scale }: Smoothed,
  unit: number,
  t: number,
): number {
  const { from, to, bend } = terms[t];
  const width = to - from;
  let [trace, bent, pulled] = [0, 0, 0];
  for (let i = 0; i < width; i++) {
    let pull = 0;
    for (let j = 0; j < width; j++) {
      const by = unit * bend[i * width + j];
      trace += inverse[(from + i) * size + from + j] * by;
      pull += by * coefficients[from + j];
    }
    bent += coefficients[from + i] * pull;
    // Coefficients move with the strength, and with them the weights of least squares.
    if (turned) pulled -= strengths[t] * turned[from + i] * pull;
  }
  // Of a curve all but the straight line is penalised.
  const beyond = width - 1 - strengths[t] * trace;
  const atEnd = Math.log(strengths[t]) >= mostLog - 1e-9;
  const move = Math.log(
    Math.max(1e-9, scale * beyond - pulled) / Math.max(1e-300, strengths[t] * bent),
  );
  // Hardly any difference: once straight, only a strong pull bends it again.
  if (atEnd && move > -1) return 0;
  if (beyond < straightBelow && move > 0) return mostLog - Math.log(strengths[t]);
  return Math.min(mostMove, Math.max(-mostMove, move));
}

function validated(
  design: Design,
  products: Products,
  start: Float64Array,
  rules: SmoothRules,
  sweeps: number,
): Smoothed & { settled: boolean } {
  const logs = start.map(Math.log);
  const { patients, squares } = rules;
  const at = (own: Float64Array, isWhole = false) =>
    smoothWith(design, products, own.map(Math.exp), rules, isWhole);
  const scoreOf = ({ coefficients, degrees }: Smoothed) => {
    const used = degrees.reduce((sum, one) => sum + one, 0);
    const left = leftOf(products.matrix, products.right, coefficients, squares);
    return (patients * left) / (patients - used) ** 2;
  };
  let settled = false;
  for (let sweep = 0; sweep < Math.min(sweeps, 6) && !settled; sweep++) {
    const before = logs.slice();
    for (let t = 0; t < logs.length; t++)
      logs[t] = leastFrom((one) => scoreOf(at(logs.with(t, one))), logs[t]);
    settled = logs.every((one, t) => Math.abs(one - before[t]) < 1e-3);
  }
  return {
    ...at(
      logs.map((one) => Math.round(one * 20) / 20),
      true,
    ),
    settled,
  };
}

/** Where a smooth function is least, as far as that matters: downhill from a place, then by the parabola through three. */
function leastFrom(f: (x: number) => number, start: number): number {
  let x = start;
  for (const step of [1, 0.25]) {
    let [low, here, high] = [x - step, x, x + step].map(f);
    // Flat counts as uphill: towards none it would go for ever.
    while (high < here * (1 - 1e-12) && x + 2 * step <= mostLog) {
      x += step;
      [low, here, high] = [here, high, f(x + step)];
    }
    while (low < here * (1 - 1e-12) && x - 2 * step >= leastLog) {
      x -= step;
      [low, here, high] = [f(x - step), low, here];
    }
    const bend = low + high - 2 * here;
    const move = bend > 1e-10 * here ? (step * (low - high)) / (2 * bend) : 0;
    x += Math.min(step, Math.max(-step, move));
  }
  return Math.min(mostLog, Math.max(leastLog, x));
}
