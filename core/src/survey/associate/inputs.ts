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
            values: indicator(column.codes, level),
          }));
  return raw
    .map((input) => ({ ...input, values: filled(input.values) }))
    .filter(({ values }) => values.some((value) => value !== values[0]));
}

function indicator(codes: Int32Array, level: number): Float64Array {
  const values = new Float64Array(codes.length);
  for (let row = 0; row < codes.length; row++)
    values[row] = codes[row] < 0 ? NaN : Number(codes[row] === level);
  return values;
}

/** Rows whose products are summed before the next ones: so many stay near the processor. */
const blockRows = 512;

/**
 * Pearson correlations of standardised columns without gaps that all vary; size × size, row-major.
 */
export function correlationMatrix(standard: Float64Array[]): Float64Array {
  const size = standard.length;
  const rows = standard[0]?.length ?? 0;
  const matrix = new Float64Array(size * size);
  for (let from = 0; from < rows; from += blockRows)
    for (let i = 0; i < size; i += 2)
      for (let j = 0; j <= i; j += 2)
        addProducts(matrix, standard, i, j, from, Math.min(rows, from + blockRows));
  for (let i = 0; i < size; i++) {
    for (let j = 0; j < i; j++) matrix[j * size + i] = matrix[i * size + j] /= rows;
    matrix[i * size + i] = 1;
  }
  return matrix;
}

/**
 * Adds the products of columns i and i + 1 with j and j + 1 over some rows. Four sums at a time:
 * each number that is fetched serves twice, which halves the time.
 */
function addProducts(
  matrix: Float64Array,
  columns: Float64Array[],
  i: number,
  j: number,
  from: number,
  to: number,
): void {
  const size = columns.length;
  const [p, a] = [columns[i], columns[j]];
  const [q, b] = [columns[i + 1] ?? p, columns[j + 1] ?? a];
  let pa = 0;
  let pb = 0;
  let qa = 0;
  let qb = 0;
  for (let row = from; row < to; row++) {
    pa += p[row] * a[row];
    pb += p[row] * b[row];
    qa += q[row] * a[row];
    qb += q[row] * b[row];
  }
  matrix[i * size + j] += pa;
  if (j + 1 < size) matrix[i * size + j + 1] += pb;
  if (i + 1 === size) return;
  matrix[(i + 1) * size + j] += qa;
  if (j + 1 < size) matrix[(i + 1) * size + j + 1] += qb;
}

/** Mean 0 and variance 1 with divisor n over the known; NaN throughout where nothing varies. */
export function standardised(values: Float64Array): Float64Array {
  let count = 0;
  let mean = 0;
  for (let i = 0; i < values.length; i++) {
    if (values[i] !== values[i]) continue;
    count++;
    mean += values[i];
  }
  mean /= count;
  let left = 0;
  let squares = 0;
  for (let i = 0; i < values.length; i++) {
    const away = values[i] - mean;
    if (away !== away) continue;
    left += away;
    squares += away * away;
  }
  // What rounding left of the mean would show in numbers far from zero.
  mean += left / count;
  const sd = Math.sqrt(Math.max(0, squares / count - (left / count) ** 2));
  const standard = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) standard[i] = (values[i] - mean) / sd;
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
