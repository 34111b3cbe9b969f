import type { Inputs } from '../../inputs/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import { innerFolds } from '../../trees/index.ts';

/** Fewer patients are not parted into those who are learned from and those who are watched. */
export const fewestToPart = 20;

/** The inner fold of each patient, each with its share of cases. */
export function dealtBy(inputs: Inputs, outcome: Outcome, folds: number, seed: number): Uint8Array {
  const { kind, values } = outcome;
  const strata = kind === 'number' ? new Uint8Array(values.length) : values;
  return innerFolds(inputs, strata, values, folds, seed);
}

/** 1 for a fifth of the patients, from whom nothing is learned at first. */
export const watchedOf = (inputs: Inputs, outcome: Outcome, seed: number): Uint8Array =>
  dealtBy(inputs, outcome, 5, seed).map((fold) => Number(fold === 0));
