import { stableOrder } from '../../trees/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import { dealtBy } from '../shared/index.ts';
import type { Asked } from './votes.ts';

/** Finds for each of some rows the nearest among those learned from, at most so many. */
export type SearchRows = (
  learn: Int32Array,
  of: Int32Array,
  most: number,
  found: (row: number, asked: Asked) => void,
) => void;

/** Loss for each number of patients asked, in patients of inner folds who are not among them. */
export interface TriedCounts {
  at: number[];
  losses: number[];
  /** The number with the least; of equal ones the greatest. */
  best: number;
}

export const fewest = 20;
const folds = 10;
/** Most patients in whom it is tried. */
const mostTried = 3000;
/** How many numbers are tried. */
const numbers = 60;

/**
 * Every number of patients asked from one search in each of ten inner folds.
 *
 * @param also is tried too, where it is no more than most
 * @param lossOf adds the loss of a patient at each count
 */
export function tryCounts(
  inputs: Inputs,
  outcome: Outcome,
  seed: number,
  { most, also }: { most: number; also: number },
  search: SearchRows,
  lossOf: (row: number, asked: Asked, counts: number[], losses: Float64Array) => void,
  weights?: Float64Array,
  progress?: (share: number) => void,
): TriedCounts {
  const dealt = dealtBy(inputs, outcome, folds, seed);
  const some = sampled(inputs, outcome.values, seed);
  const all = Int32Array.from(dealt.keys());
  const at = countsUpTo(Math.min(most, Math.floor(0.85 * patientsOf(inputs, weights))), also);
  const sums = new Float64Array(at.length);
  let total = 0;
  for (let fold = 0; fold < folds; fold++) {
    const learn = all.filter((row) => dealt[row] !== fold);
    const own = some.filter((row) => dealt[row] === fold);
    search(learn, own, at[at.length - 1], (row, asked) => {
      lossOf(row, asked, at, sums);
      total += weights ? weights[row] : 1;
    });
    progress?.((fold + 1) / folds);
  }
  const losses = Array.from(sums, (sum) => sum / total);
  const least = Math.min(...losses);
  return {
    at,
    losses,
    best: at[losses.findLastIndex((loss) => loss <= least + 1e-12 * Math.abs(least))],
  };
}

const patientsOf = ({ rowCount }: Inputs, weights?: Float64Array): number =>
  weights ? weights.reduce((sum, one) => sum + one, 0) : rowCount;

function sampled(inputs: Inputs, values: ArrayLike<number>, seed: number): Int32Array {
  if (inputs.rowCount <= mostTried)
    return Int32Array.from({ length: inputs.rowCount }, (_, i) => i);
  return stableOrder(inputs, values, seed).slice(0, mostTried);
}

/** Every number at first, then by ratio, and the one that is asked about. */
function countsUpTo(most: number, also: number): number[] {
  const ratio = most ** (1 / numbers);
  const found = new Set<number>();
  for (let k = 0; k <= numbers; k++) found.add(Math.max(1, Math.round(ratio ** k)));
  if (also <= most) found.add(also);
  return [...found].sort((a, b) => a - b);
}
