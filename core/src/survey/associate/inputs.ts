import { dot } from '../../numeric/index.ts';
import type { Column } from '../../table/index.ts';

/**
 * What a column is to a linear method: a number as itself, a category as indicators of all levels
 * in use but the first. Gaps are filled with the mean of the known; what does not vary is dropped.
 */
export function inputsOf(column: Column): Float64Array[] {
  return labelledInputs(column).map(({ values }) => values);
}

/** As `inputsOf`, with the level each indicator stands for. */
export function labelledInputs(column: Column): { level?: string; values: Float64Array }[] {
  if (column.type === 'text') return [];
  const raw =
    column.type === 'number'
      ? [{ values: column.values }]
      : usedLevels(column.codes, column.levels.length)
          .slice(1)
          .map((level) => ({
            level: column.levels[level],
            values: Float64Array.from(column.codes, (code) =>
              code < 0 ? NaN : Number(code === level),
            ),
          }));
  return raw
    .map((input) => ({ ...input, values: filled(input.values) }))
    .filter(({ values }) => values.some((value) => value !== values[0]));
}

/** Rows whose products are summed before the next ones: so many stay near the processor. */
const blockRows = 1024;

/**
 * Pearson correlations of standardised columns without gaps that all vary; size × size, row-major.
 */
export function correlationMatrix(standard: Float64Array[]): Float64Array {
  const size = standard.length;
  const rows = standard[0]?.length ?? 0;
  const matrix = new Float64Array(size * size);
  for (let from = 0; from < rows; from += blockRows) {
    const to = Math.min(rows, from + blockRows);
    for (let i = 0; i < size; i++)
      for (let j = 0; j < i; j++) matrix[i * size + j] += dot(standard[i], standard[j], from, to);
  }
  for (let i = 0; i < size; i++) {
    matrix[i * size + i] = 1;
    for (let j = 0; j < i; j++) matrix[j * size + i] = matrix[i * size + j] /= rows;
  }
  return matrix;
}

/** Mean 0 and variance 1 with divisor n; NaN throughout where nothing varies. */
export function standardised(values: Float64Array): Float64Array {
  const count = values.length;
  let mean = 0;
  for (let i = 0; i < count; i++) mean += values[i];
  mean /= count;
  let left = 0;
  let squares = 0;
  for (let i = 0; i < count; i++) {
    const away = values[i] - mean;
    left += away;
    squares += away * away;
  }
  // What rounding left of the mean would show in numbers far from zero.
  mean += left / count;
  const sd = Math.sqrt(Math.max(0, squares / count - (left / count) ** 2));
  const standard = new Float64Array(count);
  for (let i = 0; i < count; i++) standard[i] = (values[i] - mean) / sd;
  return standard;
}

function usedLevels(codes: Int32Array, levels: number): number[] {
  const counts = new Int32Array(levels);
  for (const code of codes) if (code >= 0) counts[code]++;
  return Array.from({ length: levels }, (_, level) => level).filter((level) => counts[level] > 0);
}

function filled(values: Float64Array): Float64Array {
  let sum = 0;
  let known = 0;
  for (const value of values)
    if (!Number.isNaN(value)) {
      sum += value;
      known++;
    }
  const mean = known > 0 ? sum / known : 0;
  return known === values.length
    ? values
    : values.map((value) => (Number.isNaN(value) ? mean : value));
}
