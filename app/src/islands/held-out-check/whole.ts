import { levelCostsOf, type Design } from '@rook-scale/core/design';
import {
  unpackOutcome,
  unpackPredictions,
  type Outcome,
  type Predictions,
} from '@rook-scale/core/outcome';
import type { Predictions as Packed } from '../../contract/candidates.ts';
import { unpackBytes } from '../../browser/api.ts';

/** Everything that was predicted and happened, where scores of cases do not say all. */
interface Whole {
  predictions: Predictions;
  outcome: Outcome;
}

export function wholeOf({ whole }: Pick<Packed, 'whole'>): Whole | undefined {
  if (!whole) return undefined;
  const { header } = whole;
  return {
    predictions: unpackPredictions({ header, bytes: unpackBytes(whole.values) }),
    outcome: unpackOutcome({ header, bytes: unpackBytes(whole.outcome) }),
  };
}

/** What a wrong level costs; undefined where every error costs the same, and of other kinds. */
export const levelCostsFor = (
  { predictions }: Whole,
  { levelCosts }: Pick<Design, 'levelCosts'>,
): number[][] | undefined =>
  predictions.kind === 'levels' ? levelCostsOf({ levelCosts }, predictions.levels) : undefined;
