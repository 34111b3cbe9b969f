import { setsOf, type FewerPlan } from './plan.ts';

/** How often a predictor was among those selected. */
export interface Steadiness {
  predictor: string;
  /** Of each that is compared: times it was selected. */
  times: number[];
}

/** Times each predictor was among the selected, over several rankings. */
export function steadiness(
  plan: FewerPlan,
  predictors: string[],
  rankings: string[][],
): Steadiness[] {
  const selected = rankings.map((ranked) =>
    setsOf(plan, predictors, ranked).map((own) => new Set(own)),
  );
  const compared = setsOf(plan, predictors).length;
  return predictors.map((predictor) => ({
    predictor,
    times: Array.from(
      { length: compared },
      (_, i) => selected.filter((sets) => sets[i].has(predictor)).length,
    ),
  }));
}
