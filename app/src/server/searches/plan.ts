import type { FamilyDescription, Settings } from '@rook-scale/core/families';
import { SearchError, settingsTried, type SearchPlan } from '@rook-scale/core/search';
import { Problem } from '../ground/problem.ts';

/** The settings that a plan tries, or a sentence why there are none. */
export function triedSettings(
  { settings, fixed, name }: FamilyDescription,
  plan: SearchPlan,
  seed: number,
): Settings[] {
  if (fixed) throw new Problem(409, 'no-search', `${name} has nothing to be searched.`);
  try {
    return settingsTried(settings, plan, seed);
  } catch (error) {
    if (error instanceof SearchError) throw new Problem(422, 'no-search', error.message);
    throw error;
  }
}
