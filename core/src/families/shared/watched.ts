import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import { innerFolds } from '../../trees/index.ts';

/** Fewer patients are not parted into those who are learned from and those who are watched. */
export const fewestToPart = 20;

/** 1 for a fifth of the patients, with its share of cases, from whom nothing is learned at first. */
export function watchedOf(inputs: Inputs, outcome: Outcome, seed: number): Uint8Array {
  const { kind, values } = outcome;
  const strata = kind === 'number' ? new Uint8Array(values.length) : values;
  return innerFolds(inputs, strata, values, 5, seed).map((fold) => Number(fold === 0));
}
