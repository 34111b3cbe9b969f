import type { AllErrorCosts } from '@rook-scale/core/measures';
import { caseRule, levelCostsOf, type Design } from '@rook-scale/core/design';
import type { CaseRule } from '@rook-scale/core/outcome';
import type { Model } from '@rook-scale/core/model';

/**
 * What a case is for a fitted candidate: as the design in force says, where it predicts the same
 * column in the same way, else as it was when the candidate was fitted.
 */
export function casesInForce(outcome: Model['outcome'], design: Design | undefined): CaseRule {
  if (!design) return outcome.cases;
  const { column, kind } = outcome.choice;
  if (design.outcome !== column || design.kind !== kind) return outcome.cases;
  const open =
    kind === 'number' ? design.caseFrom === null : kind === 'levels' && !someOf(design, outcome);
  return open ? outcome.cases : caseRule(design);
}

/** A model with what a case is now. */
export const withCases = (model: Model, design: Design | undefined): Model => ({
  ...model,
  outcome: { ...model.outcome, cases: casesInForce(model.outcome, design) },
});

/** What errors cost a candidate under a design: of several levels, by the levels that it predicts. */
export function costsOf(
  { missedCost, falseAlarmCost, levelCosts }: Design,
  { levels }: Pick<Model['outcome'], 'levels'>,
): AllErrorCosts {
  const costs = levels && levelCostsOf({ levelCosts }, levels);
  return { missedCost, falseAlarmCost, ...(costs && { levelCosts: costs }) };
}

/** Whether some, and not all, of the model's levels are cases. */
function someOf({ cases }: Design, { levels = [] }: Model['outcome']): boolean {
  const chosen = levels.filter((level) => cases.includes(level)).length;
  return chosen > 0 && chosen < levels.length;
}
