import type { PromisedMeasure, SubgroupMeasure } from '@rook-scale/core/measures';

/** What measures are called in tables. */
export const measureNames: Record<PromisedMeasure | SubgroupMeasure, string> = {
  sensitivity: 'Sensitivity',
  specificity: 'Specificity',
  positivePredictiveValue: 'Positive predictive value',
  negativePredictiveValue: 'Negative predictive value',
  accuracy: 'Accuracy',
  area: 'AUC',
  cost: 'Cost per 1,000',
  brier: 'Brier score',
  told: 'Risk told less share of cases',
};
