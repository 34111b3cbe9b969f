import type { Relation } from '@rook-scale/core/survey';
import type { ColumnSummary, DictionaryEntry } from '@rook-scale/core/table';

/** A column that can be a predictor, with what is seen of it at a glance. */
export interface Offered {
  entry: DictionaryEntry;
  summary: ColumnSummary;
  /** Share of patients in which it is not known. */
  missing: number;
  /** How it goes with the outcome in development patients; absent while that is not worked out. */
  relation?: Relation;
}

/** How closely a relation is, from 0 to 1, whatever it is measured by. */
export function closeness({ measure, strength }: Relation): number {
  const value = Math.abs(strength.value);
  return measure === 'AUC' ? Math.abs(2 * strength.value - 1) : value;
}

/** What a list of predictors shows and lets change. */
export interface ListProps {
  shown: Offered[];
  chosen: Set<string>;
  /** Predictors of which each mark holds. */
  marked: Record<MarkName, Set<string>>;
  onToggle: (name: string) => void;
  onMark: (mark: MarkName, name: string) => void;
}

/** What of a predictor can be marked in the design. */
export const markNames = ['needed', 'fixed'] as const;
export type MarkName = (typeof markNames)[number];
