import * as z from 'zod';
import { factorise, solve } from '../../../numeric/index.ts';
import { knownOf, type NumberWorking } from '../../working.ts';

export const chainedSchema = z.object({
  columns: z.array(z.string()),
  /** Where each column's gaps start. */
  means: z.array(z.number()),
  /** In their order: `columns[target]` = constant + sum of slopes × (other column − its mean). */
  regressions: z.array(
    z.object({ target: z.number(), constant: z.number(), slopes: z.array(z.number()) }),
  ),
});
export type Chained = z.infer<typeof chainedSchema>;

/**
 * Chained regressions (van Buuren & Groothuis-Oudshoorn 2011, Journal of Statistical Software 45(3)),
 * without their noise, as a single filling that predicts wants it: gaps start at the mean; round by
 * round each column with gaps is regressed by least squares on all the others as they are filled by
 * then, in the patients for whom it is known, and its gaps become what the regression says. Every
 * regression is kept, so that anybody's gaps are filled by the same chain.
 */
export function learnChained(columns: NumberWorking[], rounds: number): Chained {
  const means = columns.map((column) => {
    const known = knownOf(column);
    return known.reduce((sum, value) => sum + value, 0) / Math.max(1, known.length);
  });
  const filled = columns.map(({ values }, j) => startFrom(values, means[j]));
  const targets = columns.flatMap(({ values }, j) => (values.some(Number.isNaN) ? [j] : []));
  const regressions: Chained['regressions'] = [];
  for (let round = 0; round < rounds; round++)
    for (const target of targets) {
      const regression = regress(columns[target].values, filled, means, target);
      regressions.push(regression);
      predictGaps(columns[target].values, filled, means, regression);
    }
  return { columns: columns.map(({ source }) => source), means, regressions };
}

/** The columns with their gaps filled by the chain; one that the cohort lacks stands at its mean. */
export function applyChained(
  { means, regressions }: Chained,
  given: (Float64Array | undefined)[],
  rows: number,
): Float64Array[] {
  const values = given.map((column) => column ?? new Float64Array(rows).fill(NaN));
  const filled = values.map((column, j) => startFrom(column, means[j]));
  for (const regression of regressions)
    predictGaps(values[regression.target], filled, means, regression);
  return filled;
}

function startFrom(values: Float64Array, mean: number): Float64Array {
  const filled = values.slice();
  for (let i = 0; i < filled.length; i++) if (Number.isNaN(filled[i])) filled[i] = mean;
  return filled;
}

/** Least squares on the others, each less its mean, in the rows where the target is known. */
function regress(
  target: Float64Array,
  filled: Float64Array[],
  means: number[],
  place: number,
): Chained['regressions'][number] {
  const others = filled.flatMap((_, j) => (j === place ? [] : [j]));
  const size = others.length + 1;
  const products = new Float64Array(size * size);
  const right = new Float64Array(size);
  const row = new Float64Array(size);
  row[0] = 1;
  for (let i = 0; i < target.length; i++) {
    if (Number.isNaN(target[i])) continue;
    for (let k = 1; k < size; k++) row[k] = filled[others[k - 1]][i] - means[others[k - 1]];
    const y = target[i] - means[place];
    for (let k = 0; k < size; k++) {
      const x = row[k];
      right[k] += x * y;
      for (let l = 0; l <= k; l++) products[k * size + l] += x * row[l];
    }
  }
  const [constant, ...slopes] = solve(factorise(products, size), right);
  const all = filled.map(() => 0);
  others.forEach((j, k) => (all[j] = slopes[k]));
  return { target: place, constant: constant + means[place], slopes: all };
}

function predictGaps(
  target: Float64Array,
  filled: Float64Array[],
  means: number[],
  { target: place, constant, slopes }: Chained['regressions'][number],
): void {
  const to = filled[place];
  for (let i = 0; i < target.length; i++) {
    if (!Number.isNaN(target[i])) continue;
    let value = constant;
    for (let j = 0; j < filled.length; j++)
      if (slopes[j] !== 0) value += slopes[j] * (filled[j][i] - means[j]);
    to[i] = value;
  }
}
