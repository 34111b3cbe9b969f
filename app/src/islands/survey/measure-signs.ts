import type { Relation } from '@rook-scale/core/survey';

/** The sign of each measure of a relation, where a word is too long. */
export const measureSigns: Record<Relation['measure'], string> = {
  AUC: 'AUC',
  'Cramér’s V': 'V',
  'correlation ratio': 'η',
  Spearman: 'ρ',
};
