import { measuresByKind, ratesOf, type Measure } from '@rook-scale/core/measures';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { compareKnown } from '../../browser/order.ts';

/** A column of the table of candidates that it can be sorted by. */
export interface LedgerColumn {
  key: string;
  head: string;
  /** Said in a lighter tone behind the head. */
  beside?: string;
  help?: string;
  /** What is best stands first: the least of it, or the most. */
  first: 'least' | 'most';
  value: (line: CandidateLine) => number | string | undefined;
}

/** The columns of a kind of outcome, the name first. */
export function ledgerColumns(kind: OutcomeKind): LedgerColumn[] {
  const ratesAt = ({ results }: CandidateLine) => results && ratesOf(results.table);
  return [
    { key: 'name', head: 'Candidate', first: 'least', value: ({ name }) => name },
    {
      key: 'cost',
      head: 'Cost per 1,000',
      first: 'least',
      value: ({ results }) => results?.costPerThousand,
    },
    {
      key: 'sensitivity',
      head: 'Sensitivity',
      first: 'most',
      value: (line) => ratesAt(line)?.sensitivity.value,
    },
    {
      key: 'specificity',
      head: 'Specificity',
      first: 'most',
      value: (line) => ratesAt(line)?.specificity.value,
    },
    { key: 'auc', head: 'AUC', first: 'most', value: ({ results }) => results?.area?.mean },
    ...(kind === 'event'
      ? [
          {
            key: 'accuracy',
            head: 'Accuracy',
            beside: 'majority baseline',
            first: 'most' as const,
            value: (line: CandidateLine) => ratesAt(line)?.accuracy.value,
          },
        ]
      : (measuresByKind[kind] as Measure[]).map(({ id, name, help, better }): LedgerColumn => ({
          key: id,
          head: name.charAt(0).toUpperCase() + name.slice(1),
          help,
          first: better === 'lower' ? 'least' : 'most',
          value: ({ results }) => results?.figures?.[id]?.value,
        }))),
    { key: 'cutoff', head: 'Cutoff', first: 'least', value: ({ results }) => results?.cutoff },
  ];
}

/** A column, or with a minus in front the other way round; the order of their numbers where absent. */
export type LedgerSort = string | undefined;

export function sortedLines(
  lines: CandidateLine[],
  columns: LedgerColumn[],
  sort: LedgerSort,
): CandidateLine[] {
  const column = columns.find(({ key }) => key === sort?.replace(/^-/, ''));
  if (!column || !sort) return lines;
  const isUp = (column.first === 'least') !== sort.startsWith('-');
  // Figures of an old design, perhaps of another outcome, are not to be set beside those of the new one.
  const known = (line: CandidateLine) =>
    line.outOfDate && column.key !== 'name' ? undefined : column.value(line);
  return lines.toSorted((a, b) => compareKnown(known(a), known(b), isUp));
}

/** The best first, then the other way round, then as they were made. */
export const turnedSort = (now: LedgerSort, key: string): LedgerSort =>
  now === key ? `-${key}` : now === `-${key}` ? undefined : key;

export function ariaSort(
  { key, first }: LedgerColumn,
  now: LedgerSort,
): 'ascending' | 'descending' | undefined {
  if (now !== key && now !== `-${key}`) return undefined;
  return (first === 'least') === (now === key) ? 'ascending' : 'descending';
}
