import { randomStream } from '../../numeric/index.ts';
import type { Measured } from '../associate/index.ts';
import { principalComponents } from './principal-components.ts';

/** Patients placed by what sets them apart, small enough to be sent. */
export interface PatientMap {
  /** Share of the variance each component carries, largest first. */
  shares: number[];
  inputs: { column: string; level?: string }[];
  /** `loadings[component][input]`. */
  loadings: number[][];
  /** Rows of the cohort that are drawn, and their scores: `scores[component][drawn]`. */
  rows: number[];
  scores: number[][];
  patients: number;
}

/** Patients drawn at most. */
export const drawnAtMost = 20_000;
const components = 4;

/**
 * @param columns the standardised predictors of the map
 * @param rows row number in the cohort of each patient at hand
 */
export function mapPatients(columns: Measured[], rows: ArrayLike<number>): PatientMap | undefined {
  const found = principalComponents(columns, components);
  if (!found) return undefined;
  const total = found.variances.reduce((sum, variance) => sum + variance, 0);
  const drawn = everyFew(rows.length, drawnAtMost);
  return {
    shares: found.variances.map((variance) => variance / total),
    inputs: found.inputs,
    loadings: found.loadings,
    rows: drawn.map((i) => rows[i]),
    // Five digits place a point within a hundredth of a pixel.
    scores: found.scores.map((scores) => drawn.map((i) => Number(scores[i].toPrecision(5)))),
    patients: rows.length,
  };
}

/**
 * Positions 0 to count - 1, thinned evenly to at most `most`: one by chance out of each stretch of
 * the same length, always the same ones. Every so-manieth would fall in with any rhythm of the
 * file, such as hospitals taking turns.
 */
export function everyFew(count: number, most: number): number[] {
  if (count <= most) return Array.from({ length: count }, (_, i) => i);
  const draw = randomStream(1, 'thinned');
  return Array.from({ length: most }, (_, i) => {
    const [from, to] = [Math.floor((i * count) / most), Math.floor(((i + 1) * count) / most)];
    return from + Math.floor(draw.uniform() * (to - from));
  });
}
