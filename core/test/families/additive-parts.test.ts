import { describe, expect, it } from 'vitest';
import {
  coefficientsOf,
  designOf,
  productsOf,
  pullsOf,
  sumsOf,
  type Design,
} from '../../src/families/additive/design.ts';
import { inverseWithin } from '../../src/families/additive/inverse.ts';
import {
  smooth,
  smoothWith,
  unitsOf,
  type SmoothRules,
} from '../../src/families/additive/smooth.ts';
import { basesAt } from '../../src/families/additive/spline.ts';
import { factorise, invert, randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

const draw = randomStream(15, 'additive parts');
const patients = 220;
const normals = () => Float64Array.from({ length: patients }, () => draw.normal());
const columns = [normals(), normals().map((one) => Math.exp(one)), normals().map(Math.round)];
const inputs: Inputs = {
  rowCount: patients,
  names: ['a', 'b', 'level'],
  columns: [columns[0], columns[1], columns[2].map((one) => Number(one > 0))],
};
const weights = Float64Array.from({ length: patients }, () => 0.5 + draw.uniform());
const design = designOf(inputs, weights, 6, []);

/** Every column of the design written out. */
function written({ size, lines, terms }: Design): Float64Array[] {
  const all = Array.from({ length: size }, () => new Float64Array(patients));
  all[0].fill(1);
  for (const { at, mean, column } of lines) all[at].set(column.map((one) => one - mean));
  for (const { from, to, means, spline, column } of terms)
    for (let i = 0; i < patients; i++) {
      const { first, values } = basesAt(spline, column[i]);
      for (let k = from; k < to; k++) all[k][i] = (values[k - from - first] ?? 0) - means[k - from];
    }
  return all;
}

describe('the design of an additive model', () => {
  const whole = written(design);
  const by = Float64Array.from({ length: design.size }, () => draw.normal());

  it('has curves for numbers, a line for what has two values, and means of 0', () => {
    expect(design.terms.map(({ input }) => input)).toEqual(['a', 'b']);
    expect(design.lines.map(({ input }) => input)).toEqual(['level']);
    for (const column of whole.slice(1))
      expect(column.reduce((sum, one, i) => sum + weights[i] * one, 0)).toBeCloseTo(0, 8);
  });

  it('multiplies and adds up as its columns written out do', () => {
    const numbers = normals();
    const { matrix, right } = productsOf(design, weights, numbers);
    for (let a = 0; a < design.size; a++) {
      const each = (other: ArrayLike<number>) =>
        whole[a].reduce((sum, one, i) => sum + weights[i] * one * other[i], 0);
      expect(right[a]).toBeCloseTo(each(numbers), 8);
      for (let b = 0; b < design.size; b++)
        expect(matrix[a * design.size + b]).toBeCloseTo(each(whole[b]), 8);
    }
    const sums = sumsOf(design, by);
    for (let i = 0; i < patients; i++)
      expect(sums[i]).toBeCloseTo(
        whole.reduce((sum, column, k) => sum + by[k] * column[i], 0),
        9,
      );
    expect(coefficientsOf(design.terms[0], by).at(-1)).toBe(0);
  });

  it('puts each patient’s columns on both sides of a form', () => {
    const { matrix } = productsOf(design, weights, normals());
    const pulls = pullsOf(design, matrix);
    for (const row of [0, 50, 219]) {
      let sum = 0;
      for (let a = 0; a < design.size; a++)
        for (let b = 0; b < design.size; b++)
          sum += whole[a][row] * matrix[a * design.size + b] * whole[b][row];
      expect(pulls[row] / sum).toBeCloseTo(1, 9);
    }
  });
});

describe('an inverse within blocks', () => {
  it('is the inverse there, and 0 elsewhere; a column that repeats others is left out', () => {
    const size = 7;
    const root = Float64Array.from({ length: size * size }, () => draw.normal());
    const matrix = new Float64Array(size * size);
    for (let a = 0; a < size; a++)
      for (let b = 0; b < size; b++)
        for (let k = 0; k < size; k++) {
          // The fifth column is the second again.
          const of = (column: number) => root[k * size + (column === 4 ? 1 : column)];
          matrix[a * size + b] += of(a) * of(b);
        }
    const factor = factorise(matrix, size, 1e-9);
    expect(factor.kept[4]).toBe(false);
    const full = invert(factor);
    inverseWithin(factor, [size]).forEach((one, at) => expect(one).toBeCloseTo(full[at], 8));
    const blocks = [2, 5, 7];
    const part = (k: number) => blocks.findIndex((end) => k < end);
    inverseWithin(factor, blocks).forEach((one, at) => {
      const [a, b] = [Math.floor(at / size), at % size];
      if (part(a) === part(b)) expect(one).toBeCloseTo(full[at], 8);
      else expect(one).toBe(0);
    });
  });
});

describe('smoothness', () => {
  const wanted = columns[0].map(
    (one, i) => Math.sin(2 * one) + 0.3 * columns[1][i] + draw.normal(),
  );
  const products = productsOf(design, weights, wanted);
  const total = weights.reduce((sum, one) => sum + one, 0);
  const squares = wanted.reduce((sum, one, i) => sum + weights[i] * one * one, 0);
  const rules = (by: SmoothRules['by']): SmoothRules => ({
    by,
    termDirections: new Int8Array(2),
    lineDirections: new Int8Array(1),
    patients: total,
    squares,
    spreads: true,
    units: unitsOf(design, products),
  });
  const start = new Float64Array(2).fill(1);
  const left = (by: Float64Array) => {
    const said = sumsOf(design, by);
    return wanted.reduce((sum, one, i) => sum + weights[i] * (one - said[i]) ** 2, 0);
  };

  it('by cross-validation is where neither curve could be smoother or rougher and judge better', () => {
    const found = smooth(design, products, start, rules('validation'), 100);
    const score = (strengths: Float64Array) => {
      const { coefficients, degrees } = smoothWith(
        design,
        products,
        strengths,
        rules('validation'),
      );
      const used = degrees.reduce((sum, one) => sum + one, 0);
      return (total * left(coefficients)) / (total - used) ** 2;
    };
    const least = score(found.strengths);
    for (const t of [0, 1])
      for (const times of [0.4, 2.5])
        expect(score(found.strengths.with(t, found.strengths[t] * times))).toBeGreaterThan(
          least * (1 - 1e-9),
        );
  });

  it('by restricted likelihood is where its slope is 0: what is left, what bends, and what is free agree', () => {
    const found = smooth(design, products, start, rules('likelihood'), 400);
    expect(found.settled).toBe(true);
    // −2 log restricted likelihood of a number with the spread at its own best.
    const criterion = (strengths: Float64Array) => {
      const one = smoothWith(design, products, strengths, rules('likelihood'), true);
      const size = design.size;
      let bent = 0;
      const penalty = new Float64Array(size * size);
      design.terms.forEach(({ from, to, bend }, t) => {
        const width = to - from;
        let trace = 0;
        for (let k = from; k < to; k++) trace += products.matrix[k * size + k];
        const unit = (strengths[t] * trace) / width;
        for (let i = 0; i < width; i++)
          for (let j = 0; j < width; j++) {
            penalty[(from + i) * size + from + j] = unit * bend[i * width + j];
            bent +=
              one.coefficients[from + i] * unit * bend[i * width + j] * one.coefficients[from + j];
          }
      });
      const factor = factorise(
        products.matrix.map((value, at) => value + penalty[at]),
        size,
        1e-14,
      );
      let logs = 0;
      for (let k = 0; k < size; k++) logs += 2 * Math.log(factor.lower[k * size + k]);
      const ranks = design.terms.map(({ from, to }) => to - from - 1);
      ranks.forEach((rank, t) => (logs -= rank * Math.log(strengths[t])));
      const free = total - (size - ranks.reduce((sum, one) => sum + one, 0));
      return free * Math.log((left(one.coefficients) + bent) / free) + logs;
    };
    const least = criterion(found.strengths);
    // The second curve is as good as straight: it would be smoother still.
    expect(found.strengths[1]).toBeGreaterThan(1e6);
    for (const [t, times] of [
      [0, 0.5],
      [0, 0.9],
      [0, 1.1],
      [0, 2],
      [1, 0.5],
    ])
      expect(criterion(found.strengths.with(t, found.strengths[t] * times))).toBeGreaterThan(least);
  });
});
