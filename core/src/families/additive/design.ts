import type { Inputs } from '../../inputs/index.ts';
import { bending, countOf, pieceAt, powersOf, splineOf, type Spline } from './spline.ts';

/** A curve's place among the columns of the design. */
export interface Term {
  input: string;
  spline: Spline;
  /** Columns: one less than functions, as a curve is only known up to a constant. */
  from: number;
  to: number;
  /** Mean of each function, which is taken off. */
  means: Float64Array;
  /** How bent the curve is, as a form of its columns, row-major. */
  bend: Float64Array;
  /** Of each patient the first function that is not 0, and four values. */
  first: Int32Array;
  values: Float64Array;
  column: Float64Array;
}

/** The constant, inputs that are added as they are, and curves. */
export interface Design {
  rowCount: number;
  /** Columns together. */
  size: number;
  lines: { input: string; at: number; mean: number; column: Float64Array }[];
  terms: Term[];
}

/**
 * @param count knots of a curve at most
 * @param straight inputs that get no curve
 */
export function designOf(
  inputs: Inputs,
  weights: Float64Array,
  count: number,
  straight: string[],
): Design {
  const { rowCount, names, columns } = inputs;
  const total = weights.reduce((sum, one) => sum + one, 0);
  const meanOf = (column: ArrayLike<number>) => {
    let sum = 0;
    for (let i = 0; i < rowCount; i++) sum += weights[i] * column[i];
    return sum / total;
  };
  const splines = columns.map((column, j) =>
    straight.includes(names[j]) ? undefined : splineOf(column, count),
  );
  let size = 1;
  const lines = columns.flatMap((column, j) =>
    splines[j] || isFlat(column)
      ? []
      : [{ input: names[j], at: size++, mean: meanOf(column), column }],
  );
  const terms = columns.flatMap((column, j): Term[] => {
    const spline = splines[j];
    if (!spline) return [];
    const functions = countOf(spline);
    const from = size;
    size += functions - 1;
    const first = new Int32Array(rowCount);
    const values = new Float64Array(4 * rowCount);
    const sums = new Float64Array(functions);
    const powers = powersOf(spline);
    for (let i = 0; i < rowCount; i++) {
      const piece = pieceAt(spline.knots, column[i]);
      const u = column[i] - spline.knots[piece];
      first[i] = piece;
      for (let k = 0; k < 4; k++) {
        const at = 16 * piece + 4 * k;
        const value = powers[at] + u * (powers[at + 1] + u * (powers[at + 2] + u * powers[at + 3]));
        values[4 * i + k] = value;
        sums[piece + k] += weights[i] * value;
      }
    }
    const means = sums.map((sum) => sum / total);
    const bend = formOf(spline);
    return [{ input: names[j], spline, from, to: size, means, bend, first, values, column }];
  });
  return { rowCount, size, lines, terms };
}

const isFlat = (column: Float64Array): boolean => column.every((value) => value === column[0]);

/** Without the last function, and so large that its mean diagonal is 1. */
function formOf(spline: Spline): Float64Array {
  const functions = countOf(spline);
  const size = functions - 1;
  const whole = bending(spline);
  const form = new Float64Array(size * size);
  let trace = 0;
  for (let i = 0; i < size; i++) {
    for (let j = 0; j < size; j++) form[i * size + j] = whole[i * functions + j];
    trace += form[i * size + i];
  }
  return form.map((value) => (value * size) / trace);
}

/** The sum of all columns with these coefficients, of each patient. */
export function sumsOf({ rowCount, lines, terms }: Design, by: Float64Array): Float64Array {
  const sums = new Float64Array(rowCount).fill(by[0]);
  for (const { at, mean, column } of lines)
    for (let i = 0; i < rowCount; i++) sums[i] += by[at] * (column[i] - mean);
  for (const term of terms) {
    const own = coefficientsOf(term, by);
    const middle = own.reduce((sum, one, k) => sum + one * term.means[k], 0);
    const { first, values } = term;
    for (let i = 0; i < rowCount; i++) {
      const k = first[i];
      sums[i] +=
        own[k] * values[4 * i] +
        own[k + 1] * values[4 * i + 1] +
        own[k + 2] * values[4 * i + 2] +
        own[k + 3] * values[4 * i + 3] -
        middle;
    }
  }
  return sums;
}

/** What a row adds to the score of each column: its residual times its value there. */
export const scoreOfDesign =
  ({ lines, terms }: Design, residual: (row: number) => number) =>
  (row: number, into: Float64Array): void => {
    const own = residual(row);
    into[0] = own;
    for (const { at, mean, column } of lines) into[at] = own * (column[row] - mean);
    for (const { from, to, means, first, values } of terms) {
      for (let k = from; k < to; k++) into[k] = -own * means[k - from];
      for (let k = 0; k < 4; k++)
        if (from + first[row] + k < to) into[from + first[row] + k] += own * values[4 * row + k];
    }
  };

/** Of each function of a curve; that of the last is 0. */
export function coefficientsOf({ from, to }: Term, by: Float64Array): Float64Array {
  const own = new Float64Array(to - from + 1);
  own.set(by.subarray(from, to));
  return own;
}

/** Products of all columns with each other, weighted, and with some numbers. */
export interface Products {
  /** size × size, row-major. */
  matrix: Float64Array;
  right: Float64Array;
}

export function productsOf(design: Design, weights: Float64Array, numbers: Float64Array): Products {
  const { rowCount, size, lines, terms } = design;
  // With all functions of each curve, and means still in them: of a patient only four a curve are not 0.
  const starts: number[] = [];
  let whole = 1 + lines.length;
  for (const { means } of terms) {
    starts.push(whole);
    whole += means.length;
  }
  const sums = new Float64Array(whole * whole);
  const right = new Float64Array(whole);
  const plain = 1 + lines.length;
  const value = new Float64Array(plain);
  value[0] = 1;
  for (let i = 0; i < rowCount; i++) {
    const weight = weights[i];
    if (weight === 0) continue;
    for (let k = 1; k < plain; k++) value[k] = lines[k - 1].column[i] - lines[k - 1].mean;
    const number = weight * numbers[i];
    for (let a = 0; a < plain; a++) {
      right[a] += value[a] * number;
      for (let b = 0; b <= a; b++) sums[a * whole + b] += weight * value[a] * value[b];
    }
    for (let t = 0; t < terms.length; t++) {
      const { first, values } = terms[t];
      const begin = starts[t] + first[i];
      for (let k = 0; k < 4; k++) {
        const own = values[4 * i + k];
        const by = weight * own;
        const row = (begin + k) * whole;
        right[begin + k] += own * number;
        for (let b = 0; b < plain; b++) sums[row + b] += by * value[b];
        for (let u = 0; u <= t; u++) {
          const other = terms[u].values;
          const place = row + starts[u] + terms[u].first[i];
          sums[place] += by * other[4 * i];
          sums[place + 1] += by * other[4 * i + 1];
          sums[place + 2] += by * other[4 * i + 2];
          sums[place + 3] += by * other[4 * i + 3];
        }
      }
    }
  }
  return centred(design, starts, whole, sums, right, size);
}

function centred(
  { lines, terms }: Design,
  starts: number[],
  whole: number,
  sums: Float64Array,
  right: Float64Array,
  size: number,
): Products {
  // Place of each column among all, and the mean that is taken off it.
  const place = new Int32Array(size);
  const mean = new Float64Array(size);
  for (let k = 0; k <= lines.length; k++) place[k] = k;
  terms.forEach(({ from, to, means }, t) => {
    for (let k = from; k < to; k++) {
      place[k] = starts[t] + k - from;
      mean[k] = means[k - from];
    }
  });
  const at = (a: number, b: number) => (a >= b ? sums[a * whole + b] : sums[b * whole + a]);
  const matrix = new Float64Array(size * size);
  const numbers = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    numbers[i] = right[place[i]] - mean[i] * right[0];
    for (let j = 0; j <= i; j++)
      matrix[i * size + j] = matrix[j * size + i] =
        at(place[i], place[j]) -
        mean[i] * at(0, place[j]) -
        mean[j] * at(0, place[i]) +
        mean[i] * mean[j] * at(0, 0);
  }
  return { matrix, right: numbers };
}

/** Of each patient, its columns on both sides of a symmetric form. */
export function pullsOf(
  { rowCount, size, lines, terms }: Design,
  form: Float64Array,
): Float64Array {
  const mean = new Float64Array(size);
  for (const { from, to, means } of terms) mean.set(means.subarray(0, to - from), from);
  // What is taken off is the same for everybody.
  const off = new Float64Array(size);
  for (let i = 0; i < size; i++)
    for (let j = 0; j < size; j++) off[i] += form[i * size + j] * mean[j];
  const offOff = off.reduce((sum, one, i) => sum + one * mean[i], 0);
  const at = new Int32Array(1 + lines.length + 4 * terms.length);
  const value = new Float64Array(at.length);
  value[0] = 1;
  lines.forEach((line, k) => (at[1 + k] = line.at));
  return Float64Array.from({ length: rowCount }, (_, i) => {
    for (let k = 0; k < lines.length; k++) value[1 + k] = lines[k].column[i] - lines[k].mean;
    let count = 1 + lines.length;
    for (const { from, to, first, values } of terms)
      for (let k = 0; k < 4; k++) {
        const place = from + first[i] + k;
        if (place >= to) continue;
        at[count] = place;
        value[count++] = values[4 * i + k];
      }
    let sum = offOff;
    for (let a = 0; a < count; a++) {
      const row = at[a] * size;
      let one = form[row + at[a]] * value[a] - 2 * off[at[a]];
      for (let b = 0; b < a; b++) one += 2 * form[row + at[b]] * value[b];
      sum += one * value[a];
    }
    return sum;
  });
}
