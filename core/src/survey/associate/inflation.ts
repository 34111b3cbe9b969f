import { factorise, invert } from '../../numeric/index.ts';
import { correlationMatrix, inputsOf } from './inputs.ts';
import type { Measured } from './measured.ts';

/** How far a column's coefficient is made uncertain by the other columns. */
export interface Inflation {
  name: string;
  /** Variance inflation factor, for a category the generalised one; Infinity when the others tell it exactly. */
  factor: number;
  /** Input columns it stands for: levels minus one for a category. */
  inputs: number;
}

/**
 * Variance inflation factors det(R11)·det(R22)/det(R) over the correlations R of all inputs, where
 * categories stand as indicator columns: Fox & Monette (1992), Journal of the American Statistical
 * Association 87:178-183; for a number this is the usual 1 / (1 - R²). Gaps take the mean of the
 * known. Columns that do not vary, and text, are left out.
 */
export function inflationFactors(columns: Measured[]): Inflation[] {
  const blocks = columns
    .map((column) => ({ name: column.name, inputs: inputsOf(column) }))
    .filter(({ inputs }) => inputs.length > 0);
  const size = blocks.reduce((sum, { inputs }) => sum + inputs.length, 0);
  const matrix = correlationMatrix(blocks.flatMap(({ inputs }) => inputs));
  const all = Array.from({ length: size }, (_, i) => i);
  const whole = factorise(matrix, size);
  // det(R22) / det(R) is the determinant of the block of R⁻¹, and one inverse serves all blocks.
  const inverse = whole.kept.includes(false) ? undefined : invert(whole);
  let start = 0;
  return blocks.map(({ name, inputs }) => {
    const mine = all.slice(start, start + inputs.length);
    start += inputs.length;
    if (inverse) {
      const factor = logDeterminant(matrix, size, mine) + logDeterminant(inverse, size, mine);
      return { name, factor: Math.exp(factor), inputs: inputs.length };
    }
    const others = all.filter((i) => !mine.includes(i));
    const factor = dependent(matrix, size, mine, others)
      ? Infinity
      : factorOf(matrix, size, mine, others);
    return { name, factor, inputs: inputs.length };
  });
}

/** Whether the other columns tell one of these exactly. */
function dependent(matrix: Float64Array, size: number, mine: number[], others: number[]): boolean {
  const { kept } = factorise(pick(matrix, size, [...others, ...mine]), size);
  return kept.slice(others.length).includes(false);
}

/** Others that repeat each other count once. */
function factorOf(matrix: Float64Array, size: number, mine: number[], others: number[]): number {
  const { kept } = factorise(pick(matrix, size, others), others.length);
  const independent = others.filter((_, i) => kept[i]);
  return Math.exp(
    logDeterminant(matrix, size, mine) +
      logDeterminant(matrix, size, independent) -
      logDeterminant(matrix, size, [...independent, ...mine]),
  );
}

function logDeterminant(matrix: Float64Array, size: number, chosen: number[]): number {
  const count = chosen.length;
  const { lower, kept } = factorise(pick(matrix, size, chosen), count);
  if (kept.includes(false)) return -Infinity;
  let sum = 0;
  for (let i = 0; i < count; i++) sum += 2 * Math.log(lower[i * count + i]);
  return sum;
}

function pick(matrix: Float64Array, size: number, chosen: number[]): Float64Array {
  const count = chosen.length;
  const picked = new Float64Array(count * count);
  for (let i = 0; i < count; i++)
    for (let j = 0; j < count; j++) picked[i * count + j] = matrix[chosen[i] * size + chosen[j]];
  return picked;
}
