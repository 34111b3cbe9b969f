import type { FitPart } from '../../tuning/index.ts';
import { readyPart, tryOnPart, type TriedOnPart } from '../try.ts';
import type { JudgedBy } from '../judge.ts';
import { setsOf } from './plan.ts';
import { rankPredictors, type FewerTask } from './rank.ts';
import { isHalf } from './splits.ts';

/** What a selection gave in one part. */
export interface FewerOnPart {
  /** Predictors that are not pinned, the one that stays longest first; none of the analyst's own sets. */
  ranked: string[];
  /** Of each that is compared, for those who are predicted; absent in parts that only rank. */
  tried?: (TriedOnPart | { problem: string })[];
}

/**
 * Selects among those who are learned from in this part, and fits what was selected: those who are predicted
 * have no say in which predictors they are predicted by (Ambroise & McLachlan 2002, PNAS 99:6562-6566).
 *
 * @throws FitObstacle where the predictors cannot be ranked
 */
export function tryFewer(part: FitPart, task: FewerTask, by: JudgedBy): FewerOnPart {
  const { predictors, outcome, recipe, settings, plan } = task;
  const ranked = plan.way === 'sets' ? [] : rankPredictors(part, task);
  if (part.name === 'all' || isHalf(part)) return { ranked };
  const names = predictors.map(({ name }) => name);
  const tried = setsOf(plan, names, ranked).map((own) => {
    const some = predictors.filter(({ name }) => own.includes(name));
    const found = tryOnPart(readyPart(part, some, outcome, recipe), recipe, [settings], by);
    return 'problem' in found ? found : found[0];
  });
  return { ranked, tried };
}
