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

/** Pearson correlations of columns without gaps that all vary; size × size, row-major. */
export function correlationMatrix(inputs: Float64Array[]): Float64Array {
  const size = inputs.length;
  const standard = inputs.map(standardised);
  const matrix = new Float64Array(size * size);
  for (let i = 0; i < size; i++) {
    matrix[i * size + i] = 1;
    for (let j = 0; j < i; j++) {
      const [a, b] = [standard[i], standard[j]];
      let sum = 0;
      for (let row = 0; row < a.length; row++) sum += a[row] * b[row];
      matrix[i * size + j] = matrix[j * size + i] = sum / a.length;
    }
  }
  return matrix;
}

/** Mean 0 and variance 1 with divisor n. */
export function standardised(values: Float64Array): Float64Array {
  let mean = 0;
  for (let i = 0; i < values.length; i++) mean += (values[i] - mean) / (i + 1);
  let squares = 0;
  for (const value of values) squares += (value - mean) ** 2;
  const sd = Math.sqrt(squares / values.length);
  return values.map((value) => (value - mean) / sd);
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
