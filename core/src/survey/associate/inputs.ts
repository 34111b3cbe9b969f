import { scaleOfValues } from './correlation.ts';
import { gradesOfColumn, type Measured } from './measured.ts';

/**
 * One column of numbers that a linear method sees, standardised (mean 0, divisor n): a number
 * itself, or the indicator of a level. A gap has the mean of the known, which is 0 here. What a
 * patient has follows from the place of their value, so that no list of all patients is made.
 */
export interface Input {
  column: string;
  /** The level that an indicator stands for. */
  level?: string;
  /** Place of each patient's value in `standard`, -1 where not known. */
  codes: Int32Array;
  standard: Float64Array;
}

/**
 * What a column is to a linear method: a number as itself, a category as indicators of all levels
 * in use but the first. What does not vary is dropped, and so is text.
 */
export function inputsOf(measured: Measured): Input[] {
  const { name, column } = measured;
  if (column.type === 'text') return [];
  const { values, codes, counts } = gradesOfColumn(measured);
  if (column.type === 'number') {
    const standard = standardisedValues(values, counts, codes.length);
    return standard ? [{ column: name, codes, standard }] : [];
  }
  const used = column.levels.flatMap((level, code) => (counts[code] > 0 ? [{ level, code }] : []));
  return used.slice(1).flatMap(({ level, code }): Input[] => {
    const indicator = values.map((_, k) => Number(k === code));
    const standard = standardisedValues(indicator, counts, codes.length);
    return standard ? [{ column: name, level, codes, standard }] : [];
  });
}

/** @returns undefined where nothing varies among the known */
function standardisedValues(
  values: Float64Array,
  counts: Float64Array,
  patients: number,
): Float64Array | undefined {
  const { offsets, squares } = scaleOfValues(values, counts);
  const sd = Math.sqrt(squares / patients);
  // Rounding in the mean leaves a constant column an SD of about 1e-16 × mean.
  const largest = values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  return sd > 1e-12 * largest ? offsets.map((offset) => offset / sd) : undefined;
}

/** Patients whose products are summed before the next ones: so many stay near the processor. */
const blockRows = 512;

/** Pearson correlations of the inputs; size × size, row-major. */
export function correlationMatrix(inputs: Input[]): Float64Array {
  const size = inputs.length;
  const patients = inputs[0]?.codes.length ?? 0;
  const matrix = new Float64Array(size * size);
  const block = inputs.map(() => new Float64Array(blockRows));
  for (let from = 0; from < patients; from += blockRows) {
    const rows = Math.min(blockRows, patients - from);
    inputs.forEach(({ codes, standard }, i) => {
      const values = block[i];
      for (let row = 0; row < rows; row++) {
        const code = codes[from + row];
        values[row] = code < 0 ? 0 : standard[code];
      }
    });
    for (let i = 0; i < size; i += 2)
      for (let j = 0; j <= i; j += 2) addProducts(matrix, block, i, j, rows);
  }
  for (let i = 0; i < size; i++) {
    for (let j = 0; j < i; j++) matrix[j * size + i] = matrix[i * size + j] /= patients;
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
  rows: number,
): void {
  const size = columns.length;
  const [p, a] = [columns[i], columns[j]];
  const [q, b] = [columns[i + 1] ?? p, columns[j + 1] ?? a];
  let pa = 0;
  let pb = 0;
  let qa = 0;
  let qb = 0;
  for (let row = 0; row < rows; row++) {
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
