import { familyOf } from '@rook-scale/core/families';
import { costsEntering, type SearchPlan, type SearchRecipe } from '@rook-scale/core/search';
import { recipeOn, type Development } from '../development.ts';

/** How the settings of a search are fitted; with what errors cost where that enters any of the fits. */
export function recipeOf(
  ground: Pick<Development, 'design' | 'outcome'>,
  family: string,
  plan: Pick<SearchPlan, 'tried' | 'fixed'>,
): SearchRecipe {
  const { settings: _, ...recipe } = recipeOn(ground, family, {
    ...plan.fixed,
    ...costsEntering(familyOf(family).description, plan),
  });
  return recipe;
}
