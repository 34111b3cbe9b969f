import type { InputMeaning } from '@rook-scale/core/preparation';
import type { CandidateDetail } from '../../contract/candidates.ts';
import { showCount } from '../../browser/format.ts';
import { roundDigits } from '../../browser/numbers.ts';

/** By what inputs are put in words. */
export type InputWords = Pick<CandidateDetail, 'inputs' | 'labels'>;

/** The input as the analyst knows it; a term that is no input has its own name. */
export function nameOfTerm(term: string, { inputs, labels }: InputWords): string {
  const input = inputs.find(({ name }) => name === term);
  if (!input) return term;
  const labelOf = (column: string) => labels[column]?.label || column;
  if (input.kind === 'gap' && input.columns)
    return `${input.columns.map(labelOf).join(', ')} not known`;
  if (input.kind === 'made') return input.name;
  const label = labelOf(input.column);
  return input.kind === 'gap' ? `${label} not known` : label;
}

/** What one step of the input means; empty for a term that is no input. */
export function comparisonOf(term: string, { inputs, labels }: InputWords): string {
  const input = inputs.find(({ name }) => name === term);
  return input ? comparison(input, labels[input.column]?.unit) : '';
}

function comparison(input: InputMeaning, unit: string | undefined): string {
  if (input.kind === 'gap') return 'yes, not no';
  if (input.kind === 'level') return `${input.level}, not ${input.reference}`;
  const sd = roundDigits(input.sd!, 3);
  // What was turned into another number has no unit any more.
  if (input.kind === 'made' || input.scale)
    return `per SD, ${sd}${input.scale ? ` (${input.scale})` : ''}`;
  return `per SD, ${sd}${unit ? ` ${unit}` : ''}`;
}

/** How standard errors take rows of one patient or group into account. */
export const robustWords = (clusters: number): string =>
  `Standard errors are robust by cluster (${showCount(clusters)} patients or groups, sandwich estimator); ratios are judged by Student’s t.`;
