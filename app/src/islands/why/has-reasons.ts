import { learnsFromPredictors } from '@rook-scale/core/families';
import type { CandidateLine } from '../../contract/candidates.ts';

/** Whether a candidate can be asked for reasons: fitted on the design in force, and it looks at predictors. */
export const hasReasons = ({ family, state, results, outOfDate, uses }: CandidateLine): boolean =>
  state === 'fitted' &&
  results !== undefined &&
  !outOfDate &&
  uses.length > 0 &&
  learnsFromPredictors(family);
