import type { CandidateDetail } from '../../../contract/candidates.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { nameOfTerm } from '../input-words.ts';

/** With its level, where that tells indicators of one predictor apart. */
export function nameOfWay(input: string, detail: CandidateDetail): string {
  const own = detail.inputs.find(({ name, kind }) => name === input && kind === 'level');
  const name = nameOfTerm(input, detail);
  const isPlain = own === undefined || (own.level === 'yes' && own.reference === 'no');
  return isPlain ? name : `${name}: ${own.level}`;
}

/** A figure with its standard error, to two figures of that. */
export function withError(mean: number, error: number): string {
  const decimals = error > 0 ? Math.max(0, 1 - Math.floor(Math.log10(error))) : 4;
  return `${showFixed(mean, decimals)} ± ${showFixed(error, decimals)}`;
}
