import { symmetricEigen } from '../../numeric/index.ts';
import { correlationMatrix, inputsOf, type Input, type Measured } from '../associate/index.ts';

/** Directions in which the patients differ most. */
export interface PrincipalComponents {
  /** Eigenvalues of the correlation matrix, largest first; they add up to the number of inputs. */
  variances: number[];
  /** The inputs: a column, and the level where it stands as an indicator. */
  inputs: { column: string; level?: string }[];
  /** `loadings[component][input]`: unit vectors, the largest entry positive. */
  loadings: number[][];
  /** `scores[component][patient]`. */
  scores: Float64Array[];
}

/**
 * Principal components of the standardised inputs (divisor n): Hotelling (1933), Journal of
 * Educational Psychology 24:417-441. Categories stand as indicators, gaps take the column's mean.
 * Undefined when fewer than two inputs vary.
 */
export function principalComponents(
  columns: Measured[],
  components = 6,
): PrincipalComponents | undefined {
  const inputs = columns.flatMap(inputsOf);
  if (inputs.length < 2) return undefined;
  const eigen = symmetricEigen(correlationMatrix(inputs), inputs.length);
  const kept = eigen.vectors.slice(0, components).map(signed);
  return {
    // What rounding makes of a zero is no variance below none.
    variances: Array.from(eigen.values, (value) => Math.max(0, value)),
    inputs: inputs.map(({ column, level }) =>
      level === undefined ? { column } : { column, level },
    ),
    loadings: kept.map((vector) => Array.from(vector)),
    scores: kept.map((vector) => project(inputs, vector)),
  };
}

/** The sign of an eigenvector means nothing; the largest entry is made positive. */
function signed(vector: Float64Array): Float64Array {
  const largest = vector.reduce((best, x) => (Math.abs(x) > Math.abs(best) + 1e-12 ? x : best), 0);
  return largest < 0 ? vector.map((x) => -x) : vector;
}

function project(inputs: Input[], vector: Float64Array): Float64Array {
  const scores = new Float64Array(inputs[0].codes.length);
  inputs.forEach(({ codes, standard }, j) => {
    const weighted = standard.map((value) => vector[j] * value);
    for (let row = 0; row < scores.length; row++)
      if (codes[row] >= 0) scores[row] += weighted[codes[row]];
  });
  return scores;
}
