import * as z from 'zod';
import { symmetricEigen } from '../../numeric/index.ts';
import { isNumber, type NumberWorking } from '../working.ts';
import { choose, chosenColumns, freeName } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  columns: chosenColumns,
  /** How many, or as many as carry this share of the variance. */
  keep: z.union([
    z.object({ number: z.number().int().min(1).max(100) }),
    z.object({ share: z.number().min(0.05).max(1) }),
  ]),
});
type Choice = z.infer<typeof choice>;

const learned = z.object({
  columns: z.array(z.object({ column: z.string(), mean: z.number(), sd: z.number() })),
  components: z.array(
    z.object({ name: z.string(), loadings: z.array(z.number()), share: z.number() }),
  ),
});
type Learned = z.infer<typeof learned>;

/**
 * Principal components of standardised numbers (divisor n) in the place of these: Hotelling (1933),
 * Journal of Educational Psychology 24:417-441. A gap stands at the column's mean. Each component has
 * its largest loading positive.
 */
export const components: Step<Learned, Choice> = {
  name: 'Components',
  about: 'Principal components stand for numbers that go together.',
  choice,
  learned,
  learn(columns, _, { columns: chosen, keep }) {
    const numbers = choose(columns, chosen, isNumber)
      .map((column) => ({ column, ...momentsOf(column) }))
      .filter(({ mean, sd }) => sd > 1e-12 * Math.abs(mean));
    if (numbers.length < 2) return { columns: [], components: [] };
    const standard = numbers.map(({ column, mean, sd }) => standardised(column, mean, sd));
    const size = numbers.length;
    const matrix = new Float64Array(size * size);
    for (let i = 0; i < size; i++)
      for (let j = 0; j <= i; j++)
        matrix[i * size + j] = matrix[j * size + i] = meanProduct(standard[i], standard[j]);
    const eigen = symmetricEigen(matrix, size);
    const variances = eigen.values.map((value) => Math.max(0, value));
    const total = variances.reduce((sum, value) => sum + value, 0);
    const count = howMany(keep, variances, total);
    return {
      columns: numbers.map(({ column, mean, sd }) => ({ column: column.source, mean, sd })),
      components: Array.from({ length: count }, (_, k) => ({
        name: freeName(`component ${k + 1}`, columns),
        loadings: signed(eigen.vectors[k]),
        share: variances[k] / total,
      })),
    };
  },
  apply({ columns: used, components: made }, columns) {
    const numbers = columns.filter(isNumber);
    const found = used.flatMap(({ column, mean, sd }) => {
      const own = numbers.find(({ source }) => source === column);
      return own ? [standardised(own, mean, sd)] : [];
    });
    if (used.length === 0 || found.length < used.length) return columns;
    const gone = new Set(used.map(({ column }) => column));
    const of = [
      ...new Set(
        numbers.filter(({ source }) => gone.has(source)).flatMap((one) => one.of ?? [one.source]),
      ),
    ];
    const rest = columns.filter((column) => !(isNumber(column) && gone.has(column.source)));
    return [
      ...rest,
      ...made.map(({ name, loadings }): NumberWorking => ({
        source: name,
        part: 'value',
        of,
        type: 'number',
        values: project(found, loadings),
      })),
    ];
  },
  effects: ({ columns: used, components: made }) =>
    made.map(({ name, share }) => ({
      what: 'made',
      column: name,
      of: used.map(({ column }) => column),
      how: 'component',
      share,
    })),
};

function howMany(keep: Choice['keep'], variances: Float64Array, total: number): number {
  if ('number' in keep) return Math.min(keep.number, variances.length);
  let carried = 0;
  for (let k = 0; k < variances.length; k++) {
    carried += variances[k];
    // What rounding takes off the last share must not ask for one more.
    if (carried >= keep.share * total * (1 - 1e-12)) return k + 1;
  }
  return variances.length;
}

/** Of the known values, with divisor n as the gaps at the mean have it: over all patients. */
function momentsOf({ values }: NumberWorking): { mean: number; sd: number } {
  let [sum, n] = [0, 0];
  for (const value of values)
    if (!Number.isNaN(value)) {
      sum += value;
      n++;
    }
  const mean = n > 0 ? sum / n : 0;
  let squares = 0;
  for (const value of values) if (!Number.isNaN(value)) squares += (value - mean) ** 2;
  return { mean, sd: Math.sqrt(squares / Math.max(1, values.length)) };
}

function standardised({ values }: NumberWorking, mean: number, sd: number): Float64Array {
  const made = new Float64Array(values.length);
  for (let i = 0; i < made.length; i++)
    made[i] = Number.isNaN(values[i]) ? 0 : (values[i] - mean) / sd;
  return made;
}

function meanProduct(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum / a.length;
}

function project(standard: Float64Array[], loadings: number[]): Float64Array {
  const scores = new Float64Array(standard[0].length);
  standard.forEach((values, j) => {
    const loading = loadings[j];
    for (let i = 0; i < scores.length; i++) scores[i] += loading * values[i];
  });
  return scores;
}

/** The sign of an eigenvector means nothing; the largest entry is made positive. */
function signed(vector: Float64Array): number[] {
  const largest = vector.reduce((best, x) => (Math.abs(x) > Math.abs(best) + 1e-12 ? x : best), 0);
  return Array.from(vector, (x) => (largest < 0 ? -x : x));
}
