import type { Design } from '@rook-scale/core/design';
import type { FamilyDescription, Settings } from '@rook-scale/core/families';
import { fewerTried, SearchError, settingsTried, type SearchPlan } from '@rook-scale/core/search';
import { Problem } from '../ground/problem.ts';

/** The settings, or the numbers of predictors, that a plan tries; or a sentence why there are none. */
export function triedSettings(
  { settings, fixed, blind, name }: FamilyDescription,
  plan: SearchPlan,
  { seed, predictors }: Pick<Design, 'seed' | 'predictors'>,
): Settings[] {
  if (fixed || (plan.fewer && blind))
    throw new Problem(409, 'no-search', `${name} has nothing to be searched.`);
  if (plan.fewer && (Object.keys(plan.tried).length > 0 || plan.way.kind !== 'all'))
    throw new Problem(
      422,
      'no-search',
      'Predictors are selected with one value of each setting: search settings by themselves.',
    );
  try {
    return plan.fewer ? fewerTried(plan.fewer, predictors) : settingsTried(settings, plan, seed);
  } catch (error) {
    if (error instanceof SearchError) throw new Problem(422, 'no-search', error.message);
    throw error;
  }
}
