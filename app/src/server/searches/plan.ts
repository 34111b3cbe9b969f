import type { Design } from '@rook-scale/core/design';
import type { FamilyDescription, Settings } from '@rook-scale/core/families';
import {
  fewerTried,
  growingTried,
  SearchError,
  settingsTried,
  type SearchPlan,
} from '@rook-scale/core/search';
import type { DesignState } from '../../contract/designs.ts';
import { Problem } from '../ground/problem.ts';

/** Patients that a fold learns from, and those of them with the rarer outcome; of a number a tenth. */
export interface Learned {
  patients: number;
  rarer: number;
}

/** What a fold learns from on a design that is carried out. */
export function learnedIn({ choices, counts }: Pick<DesignState, 'choices' | 'counts'>): Learned {
  const { patients, events } = counts!.development;
  const share = 1 - 1 / (counts!.folds?.length ?? 5);
  const rarer = choices.kind === 'number' ? patients / 10 : Math.min(events, patients - events);
  return { patients: Math.round(share * patients), rarer: share * rarer };
}

/** The settings, or the numbers of predictors or patients, that a plan tries; or a sentence why there are none. */
export function triedSettings(
  { settings, fixed, blind, name }: FamilyDescription,
  plan: SearchPlan,
  { seed, predictors }: Pick<Design, 'seed' | 'predictors'>,
  learned: Learned,
): Settings[] {
  const { fewer, growing } = plan;
  if (fixed || ((fewer ?? growing) && blind))
    throw new Problem(409, 'no-search', `${name} has nothing to be searched.`);
  if ((fewer ?? growing) && (Object.keys(plan.tried).length > 0 || plan.way.kind !== 'all'))
    throw new Problem(
      422,
      'no-search',
      'Predictors and patients are compared with one value of each setting: search settings by themselves.',
    );
  try {
    if (fewer) return fewerTried(fewer, predictors);
    if (growing) return growingTried(growing, learned.patients, learned.rarer);
    return settingsTried(settings, plan, seed);
  } catch (error) {
    if (error instanceof SearchError) throw new Problem(422, 'no-search', error.message);
    throw error;
  }
}
