import { availableParallelism } from 'node:os';
import type { Basis } from '@rook-scale/core/design';
import { choosePredictors } from '@rook-scale/core/preparation';
import { groupsOf, raceShares, type SearchPlan } from '@rook-scale/core/search';
import { planParts } from '@rook-scale/core/tuning';
import type { HowLong } from '../../contract/searches.ts';
import { checkBasis, knownFamily, readyDesign, refuseKind } from '../candidates/index.ts';
import { loadDevelopment } from '../development.ts';
import { onThread } from '../threads/index.ts';
import { judgedByInForce } from './judged-by.ts';
import { triedSettings } from './plan.ts';
import { recipeOf } from './recipe.ts';

/** About how long a search would take here, by one of its fits that is tried. Nothing is kept. */
export async function howLong(
  studyId: string,
  family: string,
  plan: SearchPlan,
  basis: Basis = {},
): Promise<HowLong> {
  const { description } = knownFamily(family);
  const design = await readyDesign(studyId);
  refuseKind([family], design.choices);
  checkBasis(basis, design.choices);
  const tried = triedSettings(description, plan, design.choices.seed);
  const groups = groupsOf(description, tried);
  const ground = await loadDevelopment({
    designId: design.id,
    family,
    settings: plan.fixed,
    basis,
  });
  const { table, names, outcome, developmentRows, folds } = ground;
  const parts = planParts(developmentRows, folds, new Int32Array(0));
  const { by } = await judgedByInForce(studyId, ground);
  const one = await onThread('time a fit', {
    part: parts[0],
    predictors: choosePredictors(table, names),
    outcome,
    recipe: recipeOf(ground, family, plan),
    by,
    group: groups[groups.length >> 1].map((place) => tried[place]),
  });
  const fits = groups.length * (parts.length - 1);
  const { patients, events } = design.counts!.development;
  const shares =
    plan.way.kind === 'race'
      ? raceShares(tried.length, patients, Math.min(events, patients - events))
      : [1];
  const work = shares.reduce((sum, share, round) => sum + share / 3 ** round, 0);
  const cores = Math.min(fits, availableParallelism());
  return { one, all: (one * fits * work) / cores, cores };
}
